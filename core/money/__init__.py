"""What buyers are charged for postage, and whether it covers what was paid (rules 18)."""

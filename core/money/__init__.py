"""What buyers are charged for postage, and whether it covers what was paid (rules 18.1, 18.2, 18.3)."""

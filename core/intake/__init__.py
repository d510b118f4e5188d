"""Orders as they come in: reading what other programs wrote (step 4 of the work)."""

"""Orders: taking them in from files, what state each is in, and why some are held."""

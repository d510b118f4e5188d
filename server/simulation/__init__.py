"""A shop's year, made up and played by the program and by fixed habits: what the program is worth (docs/value.md)."""

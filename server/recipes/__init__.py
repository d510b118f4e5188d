"""Products and their packaging recipes, version by version."""

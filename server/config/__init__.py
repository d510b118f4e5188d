"""Settings, URLs and the entry points of the server."""

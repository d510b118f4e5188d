"""The Django side: rows, services, selectors and thin HTTP over the core."""

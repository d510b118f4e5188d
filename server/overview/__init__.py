"""What looks over all rooms at once: the rail's counts, and finding anything."""

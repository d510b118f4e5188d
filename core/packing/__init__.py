"""Geometry: putting wrapped units into a container, checking it, and what void is left."""

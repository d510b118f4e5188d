"""Workshops, people and roles; the one place that scopes queries."""

"""The design desk: proposals, readiness, policies, ways and versions compared. It keeps nothing of its own."""

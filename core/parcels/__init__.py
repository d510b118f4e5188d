"""A plan: what the parcel is, weighs, measures and costs, and why this container."""

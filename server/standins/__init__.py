"""Simulated devices and services behind plain interfaces; able to misbehave on request."""

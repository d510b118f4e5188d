"""Tests: core mirrors core/, laws are properties, golden are worked answers, server and browser drive the app."""

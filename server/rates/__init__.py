"""Rates: what carriers ask, tariffs in and out, what a coming list changes, how services are chosen."""

"""Designing how a product is packed: a first recipe, its bands, ways compared, readiness, policies, differences."""

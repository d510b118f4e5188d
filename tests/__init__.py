"""Tests: core mirrors core/, laws are properties, golden are worked answers, server and browser drive the app."""

from hypothesis import HealthCheck, settings

# A loaded machine draws slowly; that says nothing of the law that is tested.
settings.register_profile("calm", suppress_health_check=[HealthCheck.too_slow], deadline=None)
settings.load_profile("calm")

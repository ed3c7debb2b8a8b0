"""Shared by all tests."""

from hypothesis import HealthCheck, settings

# Timing says nothing on a shared machine; the same examples every time keep a red run reproducible.
settings.register_profile("leitung", deadline=None, derandomize=True, suppress_health_check=list(HealthCheck))
settings.load_profile("leitung")

"""Property tests are the same on every run of `make test`, and others on each of `make fuzz`."""

import os

from hypothesis import HealthCheck, settings

LARGE = os.environ.get("CHIMNEY_FUZZ") == "1"
shared = {"deadline": None, "suppress_health_check": list(HealthCheck), "database": None}
settings.register_profile("test", derandomize=True, max_examples=60, **shared)
settings.register_profile("fuzz", max_examples=1000, **shared)
settings.load_profile("fuzz" if LARGE else "test")

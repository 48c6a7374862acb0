"""All tests of the Python side; ``run.py test`` runs them."""

import os

from hypothesis import HealthCheck, settings

# How long an example takes says more of the machine than of the code. What CI tries is the
# same each time, so that it fails for a change and not by lot; elsewhere the search goes on.
settings.register_profile(
    "sulvet",
    deadline=None,
    suppress_health_check=[HealthCheck.too_slow],
    derandomize=bool(os.environ.get("CI")),
)
settings.load_profile("sulvet")

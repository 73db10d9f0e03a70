"""Settings of all tests."""

import os

from hypothesis import settings

# The same examples on every machine, so that a red check means a change. LEITFADEN_EXPLORE=1 draws new ones.
settings.register_profile("steady", derandomize=not os.environ.get("LEITFADEN_EXPLORE"))
settings.load_profile("steady")

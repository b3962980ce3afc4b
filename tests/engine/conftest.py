"""Settings of property tests."""

from __future__ import annotations

import os

from hypothesis import settings

# No test is timed; a change is tested on the same examples every time, further ones are for a person to look for.
settings.register_profile("project", deadline=None, derandomize=bool(os.environ.get("CI")))
settings.load_profile("project")

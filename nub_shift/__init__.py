"""Nub Shift: a gamepad's sticks, triggers and buttons as keys and mouse motion, by per-game profiles.

The rooms, and the one way in which they may know each other, are in docs/architecture.md; import-linter checks them by
lists of what is allowed (pyproject.toml).
"""

from functools import cache

from nub_shift.compiled import prepare

prepare()


@cache
def version() -> str:
    """The version that is installed, from the package's metadata."""
    from importlib.metadata import version as installed  # takes a while, and hardly anybody asks

    return installed("nub-shift")

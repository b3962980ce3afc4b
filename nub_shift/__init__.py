"""Nub Shift: a gamepad's sticks, triggers and buttons as keys and mouse motion, by per-game profiles.

The rooms, and the one way in which they may know each other, are in docs/architecture.md; import-linter checks them by
lists of what is allowed (pyproject.toml).
"""

from nub_shift.compiled import prepare

VERSION = "0.1.0"

prepare()

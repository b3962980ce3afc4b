"""Nub Shift: a gamepad's sticks, triggers and buttons as keys and mouse motion, by per-game profiles.

The rooms, and the one way in which they may know each other, are in docs/architecture.md; import-linter checks them by
lists of what is allowed (pyproject.toml).
"""

import sys

if sys.argv[:1] == ["-m"] and not sys.flags.safe_path and sys.path[0] != __file__.rpartition("/nub_shift/")[0]:
    # `python -m nub_shift`: the folder that a person stands in, with whatever is in it, comes first. It is ours alone
    # where this package is taken from it.
    del sys.path[0]

from nub_shift.compiled import prepare

VERSION = "0.1.0"

prepare()

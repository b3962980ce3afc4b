"""Nub Shift: a gamepad's sticks, triggers and buttons as keys and mouse motion, by per-game profiles.

The rooms and the permitted imports between them are described in docs/architecture.md and checked by import-linter
(pyproject.toml).
"""

import sys

if sys.argv[:1] == ["-m"] and not sys.flags.safe_path and sys.path[0] != __file__.rpartition("/nub_shift/")[0]:
    # `python -m nub_shift` puts the working folder, with any files in it, first on the path. That is ours only if this
    # package lies there.
    del sys.path[0]

from nub_shift.compiled import prepare

VERSION = "0.1.0"

prepare()

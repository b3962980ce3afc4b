"""`python -m nub_shift` is `nub-shift`."""

from nub_shift.cli.main import entry

entry()

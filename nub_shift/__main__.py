"""Entry point of `python -m nub_shift`, equal to `nub-shift`."""

from nub_shift.cli.main import entry

entry()

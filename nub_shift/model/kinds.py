"""Kinds of pads and of outputs, one entry each.

Commands, runner and documents use these enumerations; code that opens a kind matches them with `assert_never`.
"""

from __future__ import annotations

from enum import Enum


class PadKind(Enum):
    """Sources of pads, with the text that may follow each after `--pad`."""

    SIMULATED = "simulated[:NAME]"
    EVDEV = "evdev[:MATCH]"
    RECORDED = "recorded:FILE"

    @property
    def word(self) -> str:
        """Word of the kind on the command line."""
        return self.name.lower()


class OutputKind(Enum):
    """Destinations of outputs, by their word after `--output`."""

    UINPUT = "uinput"
    X11 = "x11"
    PRINT = "print"

"""The kinds of pads and of outputs: one entry each.

Commands, runner and documents read these; who opens a kind does it by a `match` closed with `assert_never`.
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
        """How it is written."""
        return self.name.lower()


class OutputKind(Enum):
    """Destinations of outputs, as they are written after `--output`."""

    UINPUT = "uinput"
    X11 = "x11"
    PRINT = "print"

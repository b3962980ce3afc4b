"""The grammar of slot and channel names: a control, and after a dot its part, as in `left_stick.up`."""

from __future__ import annotations

from typing import NamedTuple


class SlotName(NamedTuple):
    """A slot's or channel's name in two halves; `part` is empty for the control itself."""

    control: str
    part: str = ""

    @classmethod
    def parse(cls, text: str) -> SlotName:
        """Parses a name; a text without a dot is a control."""
        control, _, part = text.partition(".")
        return cls(control, part)

    @property
    def text(self) -> str:
        """Returns the name in files."""
        return f"{self.control}.{self.part}" if self.part else self.control


def slot_name(control: str, part: str) -> str:
    """Name of a part of a control in files."""
    return SlotName(control, part).text

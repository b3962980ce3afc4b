"""Base class of readers, which turn the channels of one analogue control into slots and values."""

from __future__ import annotations


class Reader:
    """Reads one analogue control."""

    def take(self, values: dict[str, float], now_us: int) -> None:
        """Takes the present values of all channels and notes the slots of this control that change."""
        raise NotImplementedError

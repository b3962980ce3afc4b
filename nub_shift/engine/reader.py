"""The base of readers, which turn the channels of one analogue control into slots and values."""

from __future__ import annotations


class Reader:
    """Reads one analogue control."""

    def take(self, values: dict[str, float], now_us: int) -> None:
        """Takes its channels' present values out of those of all channels, and notes the slots that change."""
        raise NotImplementedError

"""A bound on how much comes out, whatever a profile or a broken pad asks for."""

from __future__ import annotations

from typing import Final

# Far more than hands or a sensible profile ask for.
PER_SECOND: Final = 1_000
BURST: Final = 400
_INTERVAL_US = 1_000_000 // PER_SECOND


class Budget:
    """Allows `PER_SECOND` outputs a second, and `BURST` of them at once."""

    def __init__(self) -> None:
        self._full_us = 0  # when the outputs so far would have come at the highest rate

    def take(self, t_us: int) -> bool:
        """Whether one more output may go at that time."""
        full_us = (self._full_us if self._full_us > t_us else t_us) + _INTERVAL_US
        if full_us - t_us > BURST * _INTERVAL_US:
            return False
        self._full_us = full_us
        return True

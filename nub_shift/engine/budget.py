"""Upper bound on the output rate, whatever a profile or a broken pad requests."""

from __future__ import annotations

from typing import Final

# Far above the rate of hands or of a sensible profile.
PER_SECOND: Final = 1_000
BURST: Final = 400
_INTERVAL_US = 1_000_000 // PER_SECOND


class Budget:
    """Token bucket: `PER_SECOND` outputs a second, bursts of up to `BURST`."""

    def __init__(self) -> None:
        self._full_us = 0  # time at which the outputs so far would end at the highest rate

    def take(self, t_us: int) -> bool:
        """Takes one token; returns whether one was left at this time."""
        full_us = (self._full_us if self._full_us > t_us else t_us) + _INTERVAL_US
        if full_us - t_us > BURST * _INTERVAL_US:
            return False
        self._full_us = full_us
        return True

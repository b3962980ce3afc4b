"""What an axis counts as that did not lie where it should rest when play began.

what is known of its rest    until it moves    after that
---------------------------  ----------------  -------------------------------------------------------------------
told by a card, or a hat     at rest           as its card says: somebody held it
presumed from its code       at rest           the smaller of what it is from there and from the presumed rest, since
                                               either may be its rest; once it has lain at the presumed one, that is it
"""

from __future__ import annotations

from dataclasses import replace
from typing import Final

from nub_shift.model.controls import CONTROL_OF_CHANNEL, DIGITAL, Kind
from nub_shift.pads.known.wiring import AxisUse, Store, store_of

# Parts of the way from rest to an end.
AWAY: Final = 0.25
AT_REST: Final = 0.05
MOVED: Final = 0.06
LIES_US: Final = 500_000


class DoubtedAxis(Store):
    """Stores the values of an axis whose rest is doubtful.

    Attributes:
        settled: values are taken by the wiring from now on.
    """

    def __init__(self, use: AxisUse, lay: int, certain: bool) -> None:
        self.settled = False
        self._use = use
        self._lay = lay
        self._certain = certain
        self._presumed = store_of(use)
        self._from_there = store_of(replace(use, rest=float(lay)))
        self._moved = False
        self._value = lay
        self._lies_since_us: int | None = None

    def put(self, values: dict[str, float], value: int) -> None:
        """Stores a value of the axis in a frame."""
        self._value = value
        if not self._moved:
            self._moved = abs(value - self._lay) > MOVED * abs(self._use.high - self._use.low)
            if not self._moved:
                for channel in {self._use.above, self._use.below} - {""}:
                    values[channel] = 0.0
                return
        if self._certain:
            self.settled = True
            self._presumed.put(values, value)
            return
        presumed: dict[str, float] = {}
        from_there: dict[str, float] = {}
        self._presumed.put(presumed, value)
        self._from_there.put(from_there, value)
        for channel, one in presumed.items():
            other = from_there[channel]
            values[channel] = 0.0 if one * other <= 0.0 else min(one, other, key=abs)

    def pass_time(self, t_us: int) -> None:
        """Handles the end of a frame: settles once the axis has lain at its presumed rest for a while."""
        since_us = self._lies_since_us
        if since_us is not None and t_us - since_us >= LIES_US:
            self.settled = True
        if self._moved and deflection(self._use, self._value) <= AT_REST:
            self._lies_since_us = t_us if since_us is None else since_us
        else:
            self._lies_since_us = None


def deflection(use: AxisUse, value: int) -> float:
    """Returns the distance of an axis from its rest, as a part of the way to that end."""
    offset = value - use.rest
    side = use.high - use.rest if offset * (use.high - use.low) > 0 else use.rest - use.low
    return abs(offset / side) if side else (1.0 if offset else 0.0)


def doubted(use: AxisUse, lies_at: int, certain: bool) -> DoubtedAxis | None:
    """Returns the axis if it is away from its rest, else None; a surface is never doubted."""
    channels = {use.above, use.below} - {""}
    if any(CONTROL_OF_CHANNEL[channel].kind is Kind.SURFACE for channel in channels):
        return None
    if deflection(use, lies_at) <= AWAY:
        return None
    return DoubtedAxis(use, lies_at, certain or channels <= DIGITAL)

"""Detection of movements in raw events: everything moved between two moments of rest, whatever the codes mean."""

from __future__ import annotations

from collections.abc import Iterable, Mapping
from dataclasses import dataclass, field

from nub_shift.engine.values import US_PER_SECOND
from nub_shift.pads.input_codes import EV_ABS, EV_KEY, Axis, Event

# Parts of an axis's span: the least deliberate movement, and the largest distance from rest that counts as rest.
_FAR = 0.22
_NEAR = 0.12
# Rate at which the rest of an axis follows its reports while nothing is moved.
_FOLLOW = 0.05
# Largest span of a switch, which is usually a D-pad.
SWITCH_SPAN = 2


@dataclass
class Touched:
    """One movement, from its beginning to rest.

    Attributes:
        keys: key codes in the order of presses.
        ways: axis codes with the sign of the direction, in order of first use.
        seconds: duration.
    """

    keys: list[int] = field(default_factory=list)
    ways: list[tuple[int, int]] = field(default_factory=list)
    seconds: float = 0.0


class Gestures:
    """Detects movements of one device.

    Attributes:
        rest: position of each axis at rest.
        low, high: the furthest positions seen.
    """

    def __init__(self, axes: Mapping[int, Axis], now_at: Mapping[int, int]) -> None:
        self._axes = {code: axis for code, axis in axes.items() if axis.maximum > axis.minimum}
        self._at = {code: float(now_at.get(code, _usual_rest(axis))) for code, axis in self._axes.items()}
        self.rest = dict(self._at)
        self.low = dict(self._at)
        self.high = dict(self._at)
        self._down: set[int] = set()
        self._away: set[int] = set()
        self._touch: Touched | None = None
        self._since_us = 0

    def feed(self, events: Iterable[Event]) -> list[Touched]:
        """Processes events; returns the completed movements."""
        done = []
        for event in events:
            if event.type == EV_KEY:
                self._key(event)
            elif event.type == EV_ABS and event.code in self._axes:
                self._axis(event)
            else:
                continue
            if self._touch is not None and not self._down and not self._away:
                self._touch.seconds = (event.t_us - self._since_us) / US_PER_SECOND
                done.append(self._touch)
                self._touch = None
        return done

    def is_switch(self, code: int) -> bool:
        """Returns whether an axis has only a middle and two ends."""
        axis = self._axes[code]
        return axis.maximum - axis.minimum <= SWITCH_SPAN

    def _key(self, event: Event) -> None:
        if event.value == 0:
            self._down.discard(event.code)
        elif event.code not in self._down:
            self._down.add(event.code)
            touch = self._begin(event)
            if event.code not in touch.keys:
                touch.keys.append(event.code)

    def _axis(self, event: Event) -> None:
        code, value = event.code, float(event.value)
        axis = self._axes[code]
        span = axis.maximum - axis.minimum
        self._at[code] = value
        self.low[code] = min(self.low[code], value)
        self.high[code] = max(self.high[code], value)
        offset = value - self.rest[code]
        if abs(offset) >= _FAR * span:
            self._away.add(code)
            touch = self._begin(event)
            way = (code, 1 if offset > 0 else -1)
            if way not in touch.ways:
                touch.ways.append(way)
        elif abs(offset) <= _NEAR * span:
            self._away.discard(code)
            if self._touch is None:
                self.rest[code] += offset * _FOLLOW

    def _begin(self, event: Event) -> Touched:
        if self._touch is None:
            self._touch = Touched()
            self._since_us = event.t_us
        return self._touch


def _usual_rest(axis: Axis) -> float:
    return (axis.minimum + axis.maximum) / 2

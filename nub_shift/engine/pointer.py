"""Pointer and smooth wheel: integrates speeds over time, emits whole counts, carries the remainder."""

from __future__ import annotations

from collections.abc import Callable
from math import ceil, inf
from typing import Final

from nub_shift.engine.values import US_PER_SECOND, Output

TICK_US: Final = 1_000
# A later call means a suspension; a busy machine is late by a few milliseconds.
GAP_US: Final = 250_000
_WHOLE: Final = 1.0 - 1e-9  # tolerance for rounding of a whole count
# Counts a second; below this a count takes days, and needs no wake-up.
_SLOWEST: Final = 1e-6


class PointerMotion:
    """Integrates a velocity and computes when the next whole count is due; `make` builds an output from time and
    counts.

    Counts are emitted on a grid of 1 ms from the start of a movement, only on ticks with a whole count; the remainder
    is emitted at the stop, at least 1 ms after the last counts. Over any path the sum of the counts is the true
    integral to within one count.

    Attributes:
        moving: whether the velocity is not 0.
        asleep: whether `advance` has nothing to do whenever it is called.
    """

    def __init__(self, make: Callable[[int, int, int], Output]) -> None:
        self._make = make
        self._vx = 0.0  # counts a second
        self._vy = 0.0
        self._rest_x = 0.0  # counts not emitted yet
        self._rest_y = 0.0
        self._at_us = 0  # end of the integrated time
        self._grid_us = 0
        self._sent_us = -TICK_US
        self._due_us: int | None = None
        self._due_known = True
        self.moving = False
        self.asleep = True

    @property
    def due_us(self) -> int | None:
        """The first tick at which either axis has a whole count."""
        if not self._due_known:
            self._due_us = self._next_due()
            self._due_known = True
        return self._due_us

    def set_velocity(self, vx: float, vy: float, t_us: int, out: list[Output]) -> None:
        """Changes the velocity (counts a second) at `t_us`; `advance` must have been called for `t_us`."""
        if vx == self._vx and vy == self._vy:
            return
        if self.moving:
            self._integrate(t_us)
        else:
            self._at_us = self._grid_us = t_us
        self._vx = vx
        self._vy = vy
        self.moving = vx != 0.0 or vy != 0.0
        if not self.moving:
            self._send(t_us, out)
        self._due_known = self.asleep = False

    def shift(self, dx: float, dy: float, t_us: int, out: list[Output]) -> None:
        """Moves by counts at once; `advance` must have been called for `t_us`."""
        if dx == 0.0 == dy:
            return
        if self.moving:
            self._integrate(t_us)
        else:
            self._at_us = t_us
        self._rest_x += dx
        self._rest_y += dy
        self._send(t_us, out)
        self._due_known = self.asleep = False

    def halt(self, t_us: int, out: list[Output]) -> None:
        """Stops at once, after emitting all whole counts."""
        self.set_velocity(0.0, 0.0, t_us, out)
        self._sent_us = t_us - TICK_US
        self._send(t_us, out)
        self._due_known = False

    def advance(self, now_us: int, out: list[Output]) -> None:
        """Emits counts due until `now_us`. A gap in time is left out."""
        due_us = self.due_us
        if due_us is None or now_us < due_us:
            self.asleep = due_us is None
            return
        if now_us - due_us > GAP_US:
            self._at_us = self._grid_us = now_us
            self._send(now_us, out)
        else:
            tick_us = now_us - (now_us - self._grid_us) % TICK_US if self.moving else due_us
            self._integrate(tick_us)
            self._send(tick_us, out, now_us)
        self._due_known = False

    def _integrate(self, t_us: int) -> None:
        seconds = (t_us - self._at_us) / US_PER_SECOND
        self._rest_x += self._vx * seconds
        self._rest_y += self._vy * seconds
        self._at_us = t_us

    def _send(self, t_us: int, out: list[Output], now_us: int = 0) -> None:
        """Emits the whole counts of the tick `t_us`, stamped `now_us` if that is later."""
        if t_us - self._sent_us < TICK_US:
            return
        dx = int(self._rest_x)
        dy = int(self._rest_y)
        if dx or dy:
            self._rest_x -= dx
            self._rest_y -= dy
            self._sent_us = t_us
            out.append(self._make(t_us if t_us > now_us else now_us, dx, dy))

    def _next_due(self) -> int | None:
        seconds = _seconds_to_count(self._vx, self._rest_x)
        other = _seconds_to_count(self._vy, self._rest_y)
        if other < seconds:
            seconds = other
        if seconds == inf:
            return None
        if not self.moving:
            return max(self._sent_us, self._at_us) + TICK_US
        wait_us = seconds * US_PER_SECOND
        ticks = ceil((self._at_us + (wait_us if wait_us > 1.0 else 1.0) - self._grid_us) / TICK_US)
        return self._grid_us + ticks * TICK_US


def _seconds_to_count(velocity: float, rest: float) -> float:
    """Returns the time until the rest is a whole count at this velocity; 0 if it is one already, just after another."""
    if not -1.0 < rest < 1.0:
        return 0.0
    if velocity > _SLOWEST:
        return (_WHOLE - rest) / velocity
    if velocity < -_SLOWEST:
        return (_WHOLE + rest) / -velocity
    return inf

"""What makes a stick's output depend on time: smoothing and ramp."""

from __future__ import annotations

from math import hypot, pi

from nub_shift.engine.values import US_PER_SECOND
from nub_shift.model.feel import Ramp, Smoothing

# The cutoff for the speed estimate, as Casiez et al. recommend.
SPEED_CUTOFF_HZ = 1.0
SETTLED = 0.002  # of full deflection; what is closer than this is there


class OneEuro:
    """The one-euro filter for positions (Casiez, Roussel and Vogel, "1€ filter", CHI 2012).

    A low-pass filter whose cutoff rises with speed: slow movement is steadied, fast movement hardly delayed.
    """

    def __init__(self, settings: Smoothing) -> None:
        self._settings = settings
        self._at_us: int | None = None
        self._x = self._y = 0.0
        self._vx = self._vy = 0.0  # of full deflection, a second
        self.settled = True

    def step(self, x: float, y: float, t_us: int) -> tuple[float, float]:
        """The filtered position when the raw one is (x, y) at `t_us`."""
        before_us, self._at_us = self._at_us, t_us
        if before_us is None:
            self._x, self._y = x, y
            return x, y
        dt = (t_us - before_us) / US_PER_SECOND
        if dt > 0.0:
            # The velocity is smoothed with its sign, so that noise cancels out of it.
            follow = _share(SPEED_CUTOFF_HZ, dt)
            self._vx += ((x - self._x) / dt - self._vx) * follow
            self._vy += ((y - self._y) / dt - self._vy) * follow
            share = _share(self._settings.min_cutoff_hz + self._settings.beta * hypot(self._vx, self._vy), dt)
            self._x += (x - self._x) * share
            self._y += (y - self._y) * share
        self.settled = hypot(x - self._x, y - self._y) < SETTLED
        if self.settled:
            self._x, self._y = x, y
        return self._x, self._y


def _share(cutoff_hz: float, dt: float) -> float:
    """How much of the difference a low-pass filter makes up in `dt` seconds."""
    return 1.0 / (1.0 + 1.0 / (2.0 * pi * cutoff_hz * dt))


class RampUp:
    """Speed that grows while a stick is deflected."""

    def __init__(self, settings: Ramp) -> None:
        self._settings = settings
        self._since_us: int | None = None
        self.settled = True

    def factor(self, deflected: bool, t_us: int) -> float:
        """The part of the speed that is reached at `t_us`."""
        if not deflected:
            self._since_us = None
            self.settled = True
            return 1.0
        if self._since_us is None:
            self._since_us = t_us
        part = (t_us - self._since_us) / (self._settings.full_ms * 1000)
        self.settled = part >= 1.0
        return min(1.0, self._settings.start + (1.0 - self._settings.start) * part)

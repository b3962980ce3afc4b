"""Time-dependent shaping of a stick: smoothing and ramp."""

from __future__ import annotations

from math import exp, hypot, tau
from typing import Final

from nub_shift.engine.values import US_PER_SECOND
from nub_shift.model.profile.feel import Ramp, Smoothing

# Cutoff of the speed estimate, as recommended by Casiez et al.
SPEED_CUTOFF_HZ: Final = 1.0
STEP_US: Final = 1000
SETTLED: Final = 0.002  # share of full deflection within which the filter counts as settled


class OneEuro:
    """The one-euro filter for positions (Casiez, Roussel and Vogel, "1€ filter", CHI 2012), in continuous time.

    A low-pass filter whose cutoff rises with speed: slow movement is steadied, fast movement hardly delayed. A stick
    stands still between reports, and a report is a step; the filter advances in steps of fixed length from each report.
    The output therefore depends on the stick alone, and not on the rate of reports or of calls.
    """

    def __init__(self, settings: Smoothing) -> None:
        self._settings = settings
        self._at_us: int | None = None  # end of the filtered time
        self._raw = (0.0, 0.0)
        self._x = self._y = 0.0
        self._vx = self._vy = 0.0  # in full deflections a second
        self.settled = True

    def step(self, x: float, y: float, t_us: int) -> tuple[float, float]:
        """Returns the filtered position at `t_us`, from which time on the raw position is (x, y)."""
        if self._at_us is None:
            self._at_us = t_us
            self._raw = (x, y)
            self._x, self._y = x, y
            return x, y
        at_us = self._go_on(self._at_us, t_us)
        self._at_us = at_us
        seconds = (t_us - at_us) / US_PER_SECOND
        raw_x, raw_y = self._raw
        if (x, y) == (raw_x, raw_y):
            kept = self._kept(seconds)
            return raw_x + (self._x - raw_x) * kept, raw_y + (self._y - raw_y) * kept
        self._pass_time(seconds)
        self._at_us = t_us
        # The speed has a low-pass filter of its own, which moves with a step like any low-pass filter.
        self._vx += (x - raw_x) * tau * SPEED_CUTOFF_HZ
        self._vy += (y - raw_y) * tau * SPEED_CUTOFF_HZ
        self._raw = (x, y)
        self._settle()
        return self._x, self._y

    def _go_on(self, at_us: int, until_us: int) -> int:
        """Advances in whole steps; returns the time reached. After settling, only the speed advances."""
        while not self.settled and until_us - at_us >= STEP_US:
            self._pass_time(STEP_US / US_PER_SECOND)
            self._settle()
            at_us += STEP_US
        if self.settled:
            steps = (until_us - at_us) // STEP_US
            self._slow_down(steps * STEP_US / US_PER_SECOND)
            at_us += steps * STEP_US
        return at_us

    def _kept(self, seconds: float) -> float:
        """Returns the remaining part of the distance to the raw position, for a constant cutoff."""
        cutoff = self._settings.min_cutoff_hz + self._settings.beta * hypot(self._vx, self._vy)
        return exp(-tau * cutoff * seconds)

    def _pass_time(self, seconds: float) -> None:
        kept = self._kept(seconds)
        raw_x, raw_y = self._raw
        self._x = raw_x + (self._x - raw_x) * kept
        self._y = raw_y + (self._y - raw_y) * kept
        self._slow_down(seconds)

    def _slow_down(self, seconds: float) -> None:
        kept = exp(-tau * SPEED_CUTOFF_HZ * seconds)
        self._vx *= kept
        self._vy *= kept

    def _settle(self) -> None:
        raw_x, raw_y = self._raw
        self.settled = hypot(raw_x - self._x, raw_y - self._y) < SETTLED
        if self.settled:
            self._x, self._y = raw_x, raw_y


class RampUp:
    """Speed that grows while a stick is deflected."""

    def __init__(self, settings: Ramp) -> None:
        self._settings = settings
        self._since_us: int | None = None
        self.settled = True

    def factor(self, deflected: bool, t_us: int) -> float:
        """Returns the part of the speed reached at `t_us`."""
        if not deflected:
            self._since_us = None
            self.settled = True
            return 1.0
        if self._since_us is None:
            self._since_us = t_us
        part = (t_us - self._since_us) / (self._settings.full_ms * 1000)
        self.settled = part >= 1.0
        return min(1.0, self._settings.start + (1.0 - self._settings.start) * part)

"""What the engine makes of a pad's motion sensors, sample by sample: rates, what is known of rest, attitude."""

from __future__ import annotations

from math import hypot

from nub_shift.engine.effect_context import EffectContext
from nub_shift.engine.ledger import Ledger
from nub_shift.engine.shaping.bias import Vector
from nub_shift.engine.shaping.motion import MotionReader, Sensors
from nub_shift.engine.values import US_PER_SECOND, Frame
from nub_shift.model.controls import AT_REST, MOTION_CHANNELS
from nub_shift.model.profile.feel import MotionFeel

# Faster turning is not what is meant by a slow turn, in degrees a second.
SLOW_DPS = 12.0
_LONGEST_S = 0.1


class Turning:
    """The engine's own reader of motion sensors, with nothing behind it.

    Attributes:
        at_us: when it was told something last, in microseconds.
        raw, steady: degrees a second to the right and up: without the bias, and after gate and smoothing too.
        raw_way, steady_way: how far that has gone to the right in slow turns since `begin`, in degrees.
        moved: how far the view would have gone in all, whatever the way, since `begin`, in degrees of the pad.
        seconds: since `begin`.
    """

    def __init__(self, bias: Vector | None = None) -> None:
        """`bias` is what the gyro is known to show at rest."""
        self._sensors = Sensors(bias)
        self._reader = MotionReader(self._sensors, frozenset(), True, [], EffectContext(Ledger()))
        self._reader.use(MotionFeel(), 360.0)
        self._values = {channel: AT_REST[channel] for channel in MOTION_CHANNELS}
        self.at_us = 0
        self.raw = self.steady = (0.0, 0.0)
        self.begin()

    def begin(self) -> None:
        """Begins the sums anew."""
        self.raw_way = self.steady_way = self.moved = self.seconds = 0.0

    def use(self, feel: MotionFeel) -> None:
        """Goes by another feel from the next sample on."""
        self._reader.use(feel, 360.0)

    def take(self, frame: Frame) -> bool:
        """Takes a frame; returns whether it has any of the sensors' channels."""
        news = {channel: value for channel, value in frame.values.items() if channel in self._values}
        if not news:
            return False
        self._values.update(news)
        self._reader.take(self._values, frame.t_us)
        self.raw, self.steady = self._reader.turning, self._reader.steadied
        seconds = min((frame.t_us - self.at_us) / US_PER_SECOND, _LONGEST_S) if self.at_us else 0.0
        self.at_us = frame.t_us
        self.seconds += seconds
        self.moved += hypot(*self.steady) * seconds
        if hypot(*self.raw) <= SLOW_DPS:
            self.raw_way += self.raw[0] * seconds
            self.steady_way += self.steady[0] * seconds
        return True

    @property
    def bias(self) -> Vector:
        """Bias of the gyro about x, y and z."""
        return self._sensors.bias.bias

    @property
    def sure_to_dps(self) -> float | None:
        """How well that is known; None while it is not."""
        return self._sensors.bias.sure_to_dps

    @property
    def tilt(self) -> tuple[float, float]:
        """How far the pad is tilted to the right and forward, in degrees."""
        return self._reader.attitude

    @property
    def view(self) -> tuple[float, float]:
        """How fast the view turns to the right and down, in degrees a second."""
        return self._reader.velocity

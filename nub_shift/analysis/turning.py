"""Output of the engine for a pad's motion sensors, sample by sample: rates, bias, attitude."""

from __future__ import annotations

from math import hypot

from nub_shift.engine.effect_context import EffectContext
from nub_shift.engine.ledger import Ledger
from nub_shift.engine.shaping.bias import Vector
from nub_shift.engine.shaping.motion import MotionReader, Sensors
from nub_shift.engine.values import US_PER_SECOND, Frame
from nub_shift.model.controls import AT_REST, MOTION_CHANNELS
from nub_shift.model.profile.feel import MotionFeel

# Fastest slow turn, in degrees a second.
SLOW_DPS = 12.0
_LONGEST_S = 0.1


class Turning:
    """The engine's motion reader without an engine.

    Attributes:
        at_us: time of the last frame, in microseconds.
        raw, steady: degrees a second to the right and up, without the bias, before and after gate and smoothing.
        raw_way, steady_way: angle turned to the right in slow turns since `begin`, in degrees.
        moved: total angle turned in any direction since `begin`, in degrees of the pad.
        seconds: time since `begin`.
    """

    def __init__(self, bias: Vector | None = None) -> None:
        """`bias` is the known bias of the gyro."""
        self._sensors = Sensors(bias)
        self._reader = MotionReader(self._sensors, frozenset(), True, [], EffectContext(Ledger()))
        self._reader.use(MotionFeel(), 360.0)
        self._values = {channel: AT_REST[channel] for channel in MOTION_CHANNELS}
        self.at_us = 0
        self.raw = self.steady = (0.0, 0.0)
        self.begin()

    def begin(self) -> None:
        """Resets the sums."""
        self.raw_way = self.steady_way = self.moved = self.seconds = 0.0

    def use(self, feel: MotionFeel) -> None:
        """Sets the feel for the following samples."""
        self._reader.use(feel, 360.0)

    def take(self, frame: Frame) -> bool:
        """Takes a frame; returns whether it contains any of the sensors' channels."""
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
        """Standard deviation of the bias; None while unknown."""
        return self._sensors.bias.sure_to_dps

    @property
    def tilt(self) -> tuple[float, float]:
        """Tilt of the pad to the right and forward, in degrees."""
        return self._reader.attitude

    @property
    def view(self) -> tuple[float, float]:
        """Rate of the view to the right and down, in degrees a second."""
        return self._reader.velocity

"""A pad's motion sensors: bias, gravity, and the rate of turning that moves the pointer.

Axes: x to the right, y up out of the pad's face, z towards the player; turning by the right-hand rule. Rates are in
degrees a second, accelerations in units of standard gravity.
"""

from __future__ import annotations

from collections.abc import Callable
from math import atan2, degrees, hypot, radians, sqrt

from nub_shift.engine.agenda import Timer
from nub_shift.engine.desk import Desk, Slot
from nub_shift.engine.values import US_PER_SECOND
from nub_shift.model.feel import MotionAxis, MotionFeel

Vector = tuple[float, float, float]

# A pad on a table shows its sensor's noise and nothing else; a hand that holds still trembles by several times these.
STILL_SPREAD_DPS = 0.8
STILL_SPREAD_G = 0.03
STILL_US = 1_000_000
_RADIAN = radians(1.0)
_STILL_SPREADS = (STILL_SPREAD_DPS,) * 3 + (STILL_SPREAD_G,) * 3
# No sensor that works is off by more at rest.
MAX_BIAS_DPS = 8.0
# How much of gravity is taken from the accelerometer a second, while that shows about one g.
GRAVITY_PULL = 1.5
GRAVITY_TRUST = 0.15
# Without a sample for this long the sensor has gone quiet, and so does the pointer.
SILENCE_US = 60_000


class BiasEstimator:
    """What the gyro shows while nothing turns.

    It learns only from a pad that lies still: for one whole second every gyro axis must stay within
    `STILL_SPREAD_DPS` from its lowest to its highest sample, and every accelerometer axis within `STILL_SPREAD_G`.
    Slow, deliberate turning is steady on average but never that smooth in a hand, so it cannot be taken for bias; nor
    can any rate above `MAX_BIAS_DPS`.
    """

    def __init__(self) -> None:
        self.bias: Vector = (0.0, 0.0, 0.0)
        self._known = False
        self._since_us = 0
        self._count = 0
        self._low: list[float] = []
        self._high: list[float] = []
        self._sum = [0.0, 0.0, 0.0]

    def take(self, gyro: Vector, accel: Vector, t_us: int) -> None:
        """Takes a sample."""
        if self._count == 0:
            self._since_us = t_us
            self._low = [*gyro, *accel]
            self._high = [*gyro, *accel]
            self._sum = [0.0, 0.0, 0.0]
        low, high = self._low, self._high
        for place, value in enumerate((*gyro, *accel)):
            if value < low[place]:
                low[place] = value
            elif value > high[place]:
                high[place] = value
            else:
                continue
            if high[place] - low[place] > _STILL_SPREADS[place]:
                self._count = 0
                return
        total = self._sum
        total[0] += gyro[0]
        total[1] += gyro[1]
        total[2] += gyro[2]
        self._count += 1
        if t_us - self._since_us >= STILL_US:
            self._learn()
            self._count = 0

    def _learn(self) -> None:
        """The first second sets the bias, later ones move it half-way, against a single odd one."""
        x, y, z = (total / self._count for total in self._sum)
        if max(abs(x), abs(y), abs(z)) > MAX_BIAS_DPS:
            return
        if self._known:
            before = self.bias
            x, y, z = (before[0] + x) / 2, (before[1] + y) / 2, (before[2] + z) / 2
        self._known = True
        self.bias = (x, y, z)


class Gravity:
    """Which way is up, in the pad's own axes: turned along with the gyro, pulled towards the accelerometer."""

    def __init__(self) -> None:
        self.up: Vector = (0.0, 1.0, 0.0)
        self._known = False

    def take(self, gyro: Vector, accel: Vector, seconds: float) -> None:
        """Takes a sample without bias that stands for `seconds`."""
        ax, ay, az = accel
        length = sqrt(ax * ax + ay * ay + az * az)
        if not self._known and length > 0.5:
            self.up = (ax / length, ay / length, az / length)
            self._known = True
            return
        # The world turns the other way round in the pad's axes: d(up)/dt = up x omega.
        x, y, z = self.up
        turn = _RADIAN * seconds
        wx, wy, wz = gyro[0] * turn, gyro[1] * turn, gyro[2] * turn
        x, y, z = x + y * wz - z * wy, y + z * wx - x * wz, z + x * wy - y * wx
        if -GRAVITY_TRUST < length - 1.0 < GRAVITY_TRUST:
            pull = min(1.0, GRAVITY_PULL * seconds)
            x, y, z = x + (ax / length - x) * pull, y + (ay / length - y) * pull, z + (az / length - z) * pull
        norm = sqrt(x * x + y * y + z * z) or 1.0
        self.up = (x / norm, y / norm, z / norm)


class Steady:
    """The noise gate and the tiered smoothing, on a rate of turning across and up.

    Below the gate the rate is scaled down by a smooth step, so that nothing snaps. Of what is slower than
    `smooth_below_dps` all, of what is twice as fast nothing, goes through a low-pass filter of `smooth_ms`; the rest is
    passed on at once. Fast motion is thus never delayed, and no motion is lost: the filter only spreads it in time.
    """

    def __init__(self, feel: MotionFeel) -> None:
        self._feel = feel
        self._slow_x = self._slow_y = 0.0

    def step(self, x: float, y: float, seconds: float) -> tuple[float, float]:
        """The steadied rate."""
        feel = self._feel
        speed = hypot(x, y)
        if speed < feel.gate_dps:
            part = speed / feel.gate_dps
            scale = part * part * (3.0 - 2.0 * part)
            x, y, speed = x * scale, y * scale, speed * scale
        if feel.smooth_below_dps <= 0.0 or feel.smooth_ms <= 0:
            return x, y
        fast = min(max(speed / feel.smooth_below_dps - 1.0, 0.0), 1.0)
        share = min(1.0, seconds / (feel.smooth_ms / 1000.0))
        self._slow_x += (x * (1.0 - fast) - self._slow_x) * share
        self._slow_y += (y * (1.0 - fast) - self._slow_y) * share
        return x * fast + self._slow_x, y * fast + self._slow_y


class Sensors:
    """What is learned of a pad's sensors, whatever profile is in play."""

    def __init__(self) -> None:
        self.bias = BiasEstimator()
        self.gravity = Gravity()


class MotionReader:
    """The motion sensors as a velocity of the pointer, and leaning as slots.

    Both sensors' axes of one frame are taken first; `settle` then acts on them together.
    """

    def __init__(
        self, feel: MotionFeel, sensors: Sensors, used: frozenset[str], changed: list[Slot], desk: Desk
    ) -> None:
        self._feel = feel
        self._changed = changed
        self._desk = desk
        self._gyro = [0.0, 0.0, 0.0]
        self._accel = [0.0, 1.0, 0.0]
        self._bias = sensors.bias
        self._gravity = sensors.gravity
        self._steady = Steady(feel)
        self._at_us: int | None = None
        self._heard_us = 0
        self._silence: Timer | None = None
        self._neutral: tuple[float, float] | None = None
        self._leans = tuple(Slot(f"motion.lean_{way}") for way in ("left", "right", "forward", "back"))
        self._leaning = any(slot.name in used for slot in self._leans)
        self._axis = feel.axis
        self._upright = self._leaning or feel.axis is MotionAxis.GRAVITY
        # Counts for a degree across and up, and by how much more of them there are at full speed.
        counts = feel.ratio * feel.counts_per_turn / 360.0
        self._scale = (
            -counts if feel.invert_x else counts,
            counts * (1.0 if feel.invert_y else -1.0) * feel.vertical_ratio,
        )
        self._faster = feel.fast_ratio / feel.ratio - 1.0 if feel.fast_ratio is not None else 0.0
        self.moved = False
        self.velocity = (0.0, 0.0)  # counts a second

    def takes(self) -> list[Callable[[float], None]]:
        """What takes each axis: three of the gyro, three of the accelerometer."""

        def make(sensor: list[float], axis: int) -> Callable[[float], None]:
            def take(value: float) -> None:
                sensor[axis] = value
                self.moved = True

            return take

        return [make(sensor, axis) for sensor in (self._gyro, self._accel) for axis in range(3)]

    def recentre(self) -> None:
        """The present attitude is the one from which leaning counts."""
        self._neutral = self._attitude()

    def rest(self) -> None:
        """Nothing turns any more; what was learned stays."""
        self.velocity = (0.0, 0.0)
        self._at_us = None
        self._silence = None

    def settle(self, now_us: int) -> None:
        """Computes the velocity and notes the leans that change."""
        self.moved = False
        before_us, self._at_us = self._at_us, now_us
        x, y, z = self._gyro
        ax, ay, az = self._accel
        self._bias.take((x, y, z), (ax, ay, az), now_us)
        bias_x, bias_y, bias_z = self._bias.bias
        x -= bias_x
        y -= bias_y
        z -= bias_z
        seconds = 0.0
        if before_us is not None:
            seconds = min(now_us - before_us, SILENCE_US) / US_PER_SECOND
        if self._upright:
            self._gravity.take((x, y, z), (ax, ay, az), seconds)
        self.velocity = self._counts(*self._steady.step(self._across(x, y, z), x, seconds))
        self._desk.stale = True
        if self._leaning:
            self._lean()
        self._heard_us = now_us
        if self._silence is None:
            self._silence = self._desk.agenda.at(now_us + SILENCE_US, self._on_silence)

    def _across(self, x: float, y: float, z: float) -> float:
        """The rate of turning to the right."""
        match self._axis:
            case MotionAxis.YAW:
                return -y
            case MotionAxis.ROLL:
                return -z
            case MotionAxis.GRAVITY:
                ux, uy, uz = self._gravity.up
                return -(x * ux + y * uy + z * uz)

    def _counts(self, across: float, up: float) -> tuple[float, float]:
        """Pointer counts a second for rates of turning: so many degrees in the game for each of the hand's."""
        scale_x, scale_y = self._scale
        if self._faster:
            part = (hypot(across, up) - self._feel.slow_dps) / (self._feel.fast_dps - self._feel.slow_dps)
            factor = 1.0 + self._faster * (0.0 if part < 0.0 else min(part, 1.0))
            return across * scale_x * factor, up * scale_y * factor
        return across * scale_x, up * scale_y

    def _attitude(self) -> tuple[float, float]:
        """How far the pad leans to the right and forward, in degrees."""
        x, y, z = self._gravity.up
        return degrees(atan2(-x, hypot(y, z))), degrees(atan2(z, y))

    def _lean(self) -> None:
        right, forward = self._attitude()
        if self._neutral is None:
            self._neutral = (right, forward)
        right -= self._neutral[0]
        forward = (forward - self._neutral[1] + 180.0) % 360.0 - 180.0
        stage = self._feel.lean
        for slot, angle in zip(self._leans, (-right, right, forward, -forward), strict=True):
            slot.depth = max(0.0, min(angle / 90.0, 1.0))
            down = angle >= (stage.off_degrees if slot.down else stage.on_degrees)
            if down is not slot.down:
                slot.down = down
                self._changed.append(slot)

    def _on_silence(self, t_us: int) -> None:
        """The sensor may have gone quiet."""
        self._silence = None
        if t_us - self._heard_us >= SILENCE_US:
            self.rest()
            self._desk.stale = True
        else:
            self._silence = self._desk.agenda.at(self._heard_us + SILENCE_US, self._on_silence)

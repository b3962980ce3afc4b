"""A pad's motion sensors: bias, gravity, and the rate of turning that moves the pointer.

Axes: x to the right, y up out of the pad's face, z towards the player; turning by the right-hand rule. Rates are in
degrees a second, accelerations in units of standard gravity.
"""

from __future__ import annotations

from math import atan2, degrees, hypot, radians, sqrt

from nub_shift.engine.agenda import Timer
from nub_shift.engine.effect_context import EffectContext, Slot
from nub_shift.engine.values import US_PER_SECOND
from nub_shift.model.controls import CONTROL_BY_NAME
from nub_shift.model.feel import MotionAxis, MotionFeel

Vector = tuple[float, float, float]

_GYRO_X, _GYRO_Y, _GYRO_Z, _ACCEL_X, _ACCEL_Y, _ACCEL_Z = CONTROL_BY_NAME["motion"].channels
# The pad's own axes about which turning across may be measured; gravity's changes with the pad's attitude.
_AXES: dict[MotionAxis, Vector] = {MotionAxis.YAW: (0.0, 1.0, 0.0), MotionAxis.ROLL: (0.0, 0.0, 1.0)}

# A pad on a table shows its sensor's noise and nothing else; a hand that holds still trembles by several times these.
STILL_DPS = 0.5
STILL_G = 0.02
STILL_US = 1_000_000
_RADIAN = radians(1.0)
# No sensor that works is off by more at rest.
MAX_BIAS_DPS = 8.0
# How much of gravity is taken from the accelerometer a second, while that shows about one g.
GRAVITY_PULL = 1.5
GRAVITY_TRUST = 0.15
# Without a sample for this long the sensor has gone quiet, and so does the pointer.
SILENCE_US = 60_000
# How much of the longest wait between two samples is remembered from one to the next.
LONGEST_FADES = 0.95
# A pad on its side has no x axis that could be made horizontal; from about 75 degrees on, it counts for less.
LEAST_HORIZONTAL = 0.07
# Layers lay their feels over one another, so that fast may not be above slow: then all is fast from there on.
LEAST_SPAN_DPS = 1e-3


class BiasEstimator:
    """What the gyro shows while nothing turns.

    It learns only from a pad that lies still: for one whole second every gyro axis must stay within `STILL_DPS` of
    where it was at first, and every accelerometer axis within `STILL_G`. Slow, deliberate turning is steady on average
    but never that smooth in a hand, so it cannot be taken for bias; nor can any rate above `MAX_BIAS_DPS`.
    """

    def __init__(self) -> None:
        self.bias: Vector = (0.0, 0.0, 0.0)
        self._known = False
        self._since_us = 0
        self._count = 0
        self._first: tuple[float, ...] = ()
        self._sum: Vector = (0.0, 0.0, 0.0)

    def take(self, x: float, y: float, z: float, accel: Vector, t_us: int) -> None:
        """Takes a sample of the gyro (x, y, z) and the accelerometer."""
        ax, ay, az = accel
        if self._count:
            x0, y0, z0, ax0, ay0, az0 = self._first
            if (
                -STILL_DPS < x - x0 < STILL_DPS
                and -STILL_DPS < y - y0 < STILL_DPS
                and -STILL_DPS < z - z0 < STILL_DPS
                and -STILL_G < ax - ax0 < STILL_G
                and -STILL_G < ay - ay0 < STILL_G
                and -STILL_G < az - az0 < STILL_G
            ):
                sum_x, sum_y, sum_z = self._sum
                self._sum = (sum_x + x, sum_y + y, sum_z + z)
                self._count += 1
                if t_us - self._since_us >= STILL_US:
                    self._learn()
                    self._count = 0
            else:
                self._count = 0
            return
        self._since_us = t_us
        self._first = (x, y, z, ax, ay, az)
        self._sum = (x, y, z)
        self._count = 1

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

    def take(self, x: float, y: float, z: float, accel: Vector, seconds: float) -> None:
        """Takes a sample of the gyro (x, y, z), without its bias, that stands for `seconds`, and the accelerometer."""
        ax, ay, az = accel
        length = sqrt(ax * ax + ay * ay + az * az)
        if not self._known and length > 0.5:
            self.up = (ax / length, ay / length, az / length)
            self._known = True
            return
        # The world turns the other way round in the pad's axes: d(up)/dt = up x omega.
        turn = _RADIAN * seconds
        x *= turn
        y *= turn
        z *= turn
        ux, uy, uz = self.up
        vx = ux + uy * z - uz * y
        vy = uy + uz * x - ux * z
        vz = uz + ux * y - uy * x
        if -GRAVITY_TRUST < length - 1.0 < GRAVITY_TRUST:
            pull = GRAVITY_PULL * seconds  # below a tenth, since samples are at most SILENCE_US apart
            vx += (ax / length - vx) * pull
            vy += (ay / length - vy) * pull
            vz += (az / length - vz) * pull
        norm = sqrt(vx * vx + vy * vy + vz * vz) or 1.0
        self.up = (vx / norm, vy / norm, vz / norm)


class Steady:
    """The noise gate and the tiered smoothing, on a rate of turning across and up.

    Below the gate the rate is scaled down by a smooth step, so that nothing snaps. Of what is slower than
    `smooth_below_dps` all, of what is twice as fast nothing, goes through a low-pass filter of `smooth_ms`; the rest is
    passed on at once. Fast motion is thus never delayed, and no motion is lost: the filter only spreads it in time.
    """

    def __init__(self, feel: MotionFeel) -> None:
        self._slow_x = self._slow_y = 0.0
        self.use(feel)

    def use(self, feel: MotionFeel) -> None:
        """Goes by this feel from the next rate on; what the filter still holds is not lost."""
        self._gate = feel.gate_dps
        self._below = feel.smooth_below_dps if feel.smooth_ms > 0 else 0.0
        self._per_second = 1000.0 / feel.smooth_ms if feel.smooth_ms > 0 else 0.0

    def step(self, x: float, y: float, seconds: float) -> tuple[float, float]:
        """The steadied rate."""
        speed = sqrt(x * x + y * y)
        if speed < self._gate:
            part = speed / self._gate
            scale = part * part * (3.0 - 2.0 * part)
            x, y, speed = x * scale, y * scale, speed * scale
        slow_x, slow_y = self._slow_x, self._slow_y
        below = self._below
        if speed >= 2.0 * below:
            if not (slow_x or slow_y):
                return x, y
            slow = 0.0
        else:
            slow = 1.0 if speed <= below else 2.0 - speed / below
        share = seconds * self._per_second
        if share > 1.0 or not below:
            share = 1.0
        self._slow_x = slow_x = slow_x + (x * slow - slow_x) * share
        self._slow_y = slow_y = slow_y + (y * slow - slow_y) * share
        return x * (1.0 - slow) + slow_x, y * (1.0 - slow) + slow_y


class Sensors:
    """What is learned of a pad's sensors, whatever profile is in play."""

    def __init__(self) -> None:
        self.bias = BiasEstimator()
        self.gravity = Gravity()


class MotionReader:
    """The motion sensors as a velocity of the pointer, and leaning as slots.

    Where the sensors tell when they sampled, their own clock measures the time: what a sample that arrived early or
    late has moved too little or too much is made good with the next one.

    Attributes:
        velocity: counts a second.
        sensor_us: the sensors' own time of the sample that comes next, if they tell.
    """

    def __init__(self, sensors: Sensors, used: frozenset[str], changed: list[Slot], context: EffectContext) -> None:
        self._changed = changed
        self._context = context
        self._bias = sensors.bias
        self._gravity = sensors.gravity
        self._steady = Steady(MotionFeel())
        self.sensor_us: int | None = None
        self._at_us: int | None = None
        self._sampled_us: int | None = None  # by the sensors' clock
        self._rate = (0.0, 0.0)  # counts a second, as measured
        self._owed = (0.0, 0.0)  # counts that late and early samples have left
        self._longest_s = 0.0
        self._pay_s = 0.0  # the time in which they are made good; 0 if the sensors do not tell
        self._heard_us = 0
        self._silence: Timer | None = None
        self._neutral: tuple[float, float] | None = None
        self._leans = tuple(Slot(f"motion.lean_{way}") for way in ("left", "right", "forward", "back"))
        self._leaning = any(slot.name in used for slot in self._leans)
        self.velocity = (0.0, 0.0)

    def use(self, feel: MotionFeel, counts_per_turn: float) -> None:
        """Goes by this feel from the next sample on, in a game whose view turns once round by so many counts."""
        self._feel = feel
        self._steady.use(feel)
        self._axis = _AXES.get(feel.axis)
        self._upright = self._leaning or self._axis is None
        # Counts for a degree across and up, and by how much more of them there are at full speed.
        counts = feel.ratio * counts_per_turn / 360.0
        self._scale = (
            -counts if feel.invert_x else counts,
            counts * (1.0 if feel.invert_y else -1.0) * feel.vertical_ratio,
        )
        self._faster = feel.fast_ratio / feel.ratio - 1.0 if feel.fast_ratio is not None else 0.0

    def recentre(self) -> None:
        """The present attitude is the one from which leaning counts."""
        self._neutral = self._attitude()

    def rest(self) -> None:
        """Nothing turns any more; what was learned stays."""
        self.velocity = self._rate = self._owed = (0.0, 0.0)
        self._at_us = self._sampled_us = None
        self._silence = None

    def take(self, values: dict[str, float], now_us: int) -> None:
        """Takes the present values of both sensors: computes the velocity and notes the leans that change."""
        x, y, z = values[_GYRO_X], values[_GYRO_Y], values[_GYRO_Z]
        accel = values[_ACCEL_X], values[_ACCEL_Y], values[_ACCEL_Z]
        self._bias.take(x, y, z, accel, now_us)
        bias_x, bias_y, bias_z = self._bias.bias
        x -= bias_x
        y -= bias_y
        z -= bias_z
        seconds = self._elapsed(now_us)
        if self._upright:
            self._gravity.take(x, y, z, accel, seconds)
        # The rate of turning to the right is that about the axis downwards.
        up_x, up_y, up_z = self._axis or self._gravity.up
        turned = x * up_x + y * up_y + z * up_z
        if self._axis is None:
            # Up and down is about the pad's x axis made horizontal, so that a turn about the vertical has none of it.
            x = (x - up_x * turned) / sqrt(max(1.0 - up_x * up_x, LEAST_HORIZONTAL))
        across, up = self._steady.step(-turned, x, seconds)
        scale_x, scale_y = self._scale
        if self._faster:
            faster = self._at_speed(hypot(across, up))
            across, up = across * faster, up * faster
        self.velocity = self._rate = (across * scale_x, up * scale_y)
        if self._pay_s > 0.0:
            owed_x, owed_y = self._owed
            self.velocity = (self._rate[0] + owed_x / self._pay_s, self._rate[1] + owed_y / self._pay_s)
        self._context.stale = True
        if self._leaning:
            self._lean()
        self._heard_us = now_us
        if self._silence is None:
            self._silence = self._context.agenda.at(now_us + SILENCE_US, self._on_silence)

    def _elapsed(self, now_us: int) -> float:
        """Seconds since the last sample, by the sensors' own clock if they tell; also settles what arrival owes."""
        before_us, self._at_us = self._at_us, now_us
        sampled_us, self._sampled_us = self._sampled_us, self.sensor_us
        arrived = 0.0 if before_us is None else min(now_us - before_us, SILENCE_US) / US_PER_SECOND
        if before_us is None or sampled_us is None or self.sensor_us is None:
            self._owed = (0.0, 0.0)
            self._pay_s = 0.0
            return arrived
        sampled = min((self.sensor_us - sampled_us) & 0xFFFFFFFF, SILENCE_US) / US_PER_SECOND
        (owed_x, owed_y), (rate_x, rate_y), (sent_x, sent_y) = self._owed, self._rate, self.velocity
        self._owed = (owed_x + rate_x * sampled - sent_x * arrived, owed_y + rate_y * sampled - sent_y * arrived)
        # Over the longest wait of late, so that what comes in bunches is not paid several times over in the next wait.
        self._longest_s = max(arrived, self._longest_s * LONGEST_FADES)
        self._pay_s = max(sampled, self._longest_s)
        return sampled

    def _at_speed(self, dps: float) -> float:
        """By how much more the game turns at that rate than at a slow one."""
        feel = self._feel
        part = (dps - feel.slow_dps) / max(feel.fast_dps - feel.slow_dps, LEAST_SPAN_DPS)
        return 1.0 + self._faster * max(0.0, min(part, 1.0))

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
            self._context.stale = True
        else:
            self._silence = self._context.agenda.at(self._heard_us + SILENCE_US, self._on_silence)

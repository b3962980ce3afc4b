"""A pad's motion sensors: bias, gravity, and the rate of turning that moves the pointer.

Axes: x to the right, y up out of the pad's face, z towards the player; turning by the right-hand rule. Rates are in
degrees a second, accelerations in units of standard gravity.
"""

from __future__ import annotations

from math import atan2, copysign, degrees, hypot, radians, sqrt
from typing import Final

from nub_shift.engine.agenda import Timer
from nub_shift.engine.effect_context import EffectContext, Slot
from nub_shift.engine.reader import Reader
from nub_shift.engine.shaping.bias import BiasEstimator, Vector
from nub_shift.engine.values import US_PER_SECOND
from nub_shift.model.controls import CONTROL_BY_NAME, TILT_WAYS
from nub_shift.model.profile.feel import Centre, MotionAxis, MotionFeel, TiltFeel

_CHANNELS: Final = CONTROL_BY_NAME["motion"].channels
_GYRO_X: Final = _CHANNELS[0]
_GYRO_Y: Final = _CHANNELS[1]
_GYRO_Z: Final = _CHANNELS[2]
_ACCEL_X: Final = _CHANNELS[3]
_ACCEL_Y: Final = _CHANNELS[4]
_ACCEL_Z: Final = _CHANNELS[5]
# Axes of the pad for turning across; the axis of gravity changes with the attitude of the pad.
_AXES: dict[MotionAxis, Vector] = {MotionAxis.YAW: (0.0, 1.0, 0.0), MotionAxis.ROLL: (0.0, 0.0, 1.0)}

_RADIAN: Final = radians(1.0)
# Correction of gravity by the accelerometer per second, while the accelerometer reads about 1 g.
GRAVITY_PULL: Final = 1.5
GRAVITY_TRUST: Final = 0.15
# Timeout of samples from a sensor without timestamps, after which the pointer stops.
SILENCE_US: Final = 60_000
# Samples may arrive late and in bunches; a longer gap counts as lost.
LATEST_US: Final = 250_000
# Longest interval between samples of one bunch.
TOGETHER_US: Final = 1_000
# Extra time of the pointer beyond its due motion, which saves a wake-up for each sample.
SLACK_US: Final = 8_000
# Decay of the longest wait for samples, per sample.
LONGEST_FADES: Final = 0.95
# A pad on its side has no horizontal x axis; from about 75 degrees on, pitch counts for less.
LEAST_HORIZONTAL: Final = 0.07
# Layers merge their feels, so that fast may not be above slow: then the fast ratio applies from there on.
LEAST_SPAN_DPS: Final = 1e-3


class Gravity:
    """Direction of gravity in the pad's axes, turned along with the gyro and corrected by the accelerometer."""

    def __init__(self) -> None:
        self.up: Vector = (0.0, 1.0, 0.0)
        self._known = False

    def take(self, x: float, y: float, z: float, accel: Vector, seconds: float) -> None:
        """Takes a sample of the gyro (x, y, z), without its bias, valid for `seconds`, and the accelerometer."""
        ax, ay, az = accel
        length = sqrt(ax * ax + ay * ay + az * az)
        if not self._known and length > 0.5:
            self.up = (ax / length, ay / length, az / length)
            self._known = True
            return
        # The world turns in the opposite direction in the pad's axes: d(up)/dt = up x omega.
        turn = _RADIAN * seconds
        x *= turn
        y *= turn
        z *= turn
        ux, uy, uz = self.up
        vx = ux + uy * z - uz * y
        vy = uy + uz * x - ux * z
        vz = uz + ux * y - uy * x
        if -GRAVITY_TRUST < length - 1.0 < GRAVITY_TRUST:
            pull = GRAVITY_PULL * seconds  # below 1, since samples are at most LATEST_US apart
            vx += (ax / length - vx) * pull
            vy += (ay / length - vy) * pull
            vz += (az / length - vz) * pull
        norm = sqrt(vx * vx + vy * vy + vz * vz) or 1.0
        self.up = (vx / norm, vy / norm, vz / norm)


class Steady:
    """The noise gate and the tiered smoothing, on rates of turning across and up.

    Below the gate a smooth step scales the rate down, without a jump. Rates below `smooth_below_dps` pass through a
    low-pass filter of `smooth_ms`, rates above twice that pass directly, those in between in part. Fast motion is not
    delayed, and no motion is lost: the filter only spreads it over time.
    """

    def __init__(self, feel: MotionFeel) -> None:
        self._slow_x = self._slow_y = 0.0
        self.use(feel)

    def use(self, feel: MotionFeel) -> None:
        """Sets the feel for the following rates; motion held in the filter is kept."""
        self._gate = feel.gate_dps
        self._below = feel.smooth_below_dps if feel.smooth_ms > 0 else 0.0
        self._per_second = 1000.0 / feel.smooth_ms if feel.smooth_ms > 0 else 0.0

    def step(self, x: float, y: float, seconds: float) -> tuple[float, float]:
        """Returns the steadied rate."""
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
    """State learned from a pad's sensors, independent of the profile; `bias` is the gyro bias of its card."""

    def __init__(self, bias: Vector | None = None) -> None:
        self.bias = BiasEstimator(bias)
        self.gravity = Gravity()


class MotionReader(Reader):
    """The motion sensors as a pointer velocity, and tilts as slots.

    With timestamps from the sensors, these measure how far the pad has turned, and the pointer is owed the turn. The
    debt is paid over the longest recent wait for samples, so that the pointer moves smoothly even if samples arrive
    late or in bunches. Without timestamps a sample is valid until the next one.

    Attributes:
        velocity: counts a second.
        turning, steadied: degrees a second to the right and up, before and after gate and smoothing.
        position: tilt of the pad as a stick position: x to the right, y downwards, -1 to 1.
        sensor_us: timestamp of the next sample, if the sensors have one.
    """

    def __init__(
        self, sensors: Sensors, used: frozenset[str], tilts: bool, changed: list[Slot], context: EffectContext
    ) -> None:
        self._changed = changed
        self._context = context
        self._bias = sensors.bias
        self._gravity = sensors.gravity
        self._steady = Steady(MotionFeel())
        self.sensor_us: int | None = None
        self._at_us: int | None = None
        self._sampled_us: int | None = None  # by the sensors' clock
        self._owed = (0.0, 0.0)  # counts turned by the pad and not yet moved by the pointer
        self._longest_us = 0  # recent longest wait for a sample
        self._bunch_us = 0  # span of a bunch, by the sensors' clock
        self._until_us = 0  # end of the motion without another sample
        self._silence: Timer | None = None
        self._neutral: tuple[float, float] | None = None
        self._tilts = tuple(Slot(f"motion.tilt_{way}") for way in TILT_WAYS)
        self._tilting = tilts or any(slot.name in used for slot in self._tilts)
        self.velocity = (0.0, 0.0)
        self.position = (0.0, 0.0)
        self.turning = self.steadied = (0.0, 0.0)

    def use(self, feel: MotionFeel, counts_per_turn: float) -> None:
        """Sets the feel for the following samples, in a game with this number of counts for a full turn."""
        self._feel = feel
        self._steady.use(feel)
        self._axis = _AXES.get(feel.axis)
        self._upright = self._tilting or self._axis is None
        # Counts per degree across and up, and the extra factor at full speed.
        counts = feel.ratio * counts_per_turn / 360.0
        self._scale = (
            -counts if feel.invert_x else counts,
            counts * (1.0 if feel.invert_y else -1.0) * feel.vertical_ratio,
        )
        self._faster = feel.fast_ratio / feel.ratio - 1.0 if feel.fast_ratio is not None else 0.0

    def recentre(self) -> None:
        """Makes the present attitude the neutral one for tilts."""
        self._neutral = self.attitude

    def rest(self) -> None:
        """Stops all motion; learned state is kept."""
        self.velocity = self._owed = (0.0, 0.0)
        self._at_us = self._sampled_us = None
        self._longest_us = self._bunch_us = 0
        self._silence = None

    def take(self, values: dict[str, float], now_us: int) -> None:
        """Takes the present values of both sensors: computes the velocity and notes tilts that change."""
        if self.sensor_us is None and self._is_state_read(now_us):
            return
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
        # Turning to the right is a rotation about the downward axis.
        up_x, up_y, up_z = self._axis or self._gravity.up
        turned = x * up_x + y * up_y + z * up_z
        if self._axis is None:
            # Pitch is the rate about the pad's x axis made horizontal, so that a turn about the vertical adds none.
            x = (x - up_x * turned) / sqrt(max(1.0 - up_x * up_x, LEAST_HORIZONTAL))
        self.turning = (-turned, x)
        self.steadied = across, up = self._steady.step(-turned, x, seconds)
        scale_x, scale_y = self._scale
        if self._faster:
            faster = self._at_speed(hypot(across, up))
            across, up = across * faster, up * faster
        self._go(across * scale_x, up * scale_y, seconds, now_us)
        self._context.stale = True
        if self._tilting:
            self._note_tilt()

    def _is_state_read(self, now_us: int) -> bool:
        """Returns whether a sample without timestamp is the state read after dropped events.

        The timestamp of the next sample shows how long that state has lasted.
        """
        if self._sampled_us is None or self._at_us is None:
            return False
        return now_us - self._at_us <= LATEST_US

    def _elapsed(self, now_us: int) -> float:
        """Returns the seconds since the last sample, by the sensors' own clock if available."""
        before_us, self._at_us = self._at_us, now_us
        sampled_us, self._sampled_us = self._sampled_us, self.sensor_us
        if before_us is None:
            return 0.0
        arrived_us = now_us - before_us
        if self.sensor_us is None:
            return min(arrived_us, SILENCE_US) / US_PER_SECOND
        if sampled_us is None:  # the state at opening, which has no timestamp
            return 0.0
        self._settle(arrived_us)
        took_us = (self.sensor_us - sampled_us) & 0xFFFFFFFF
        if took_us > LATEST_US:  # the sensors were off in between
            return 0.0
        if arrived_us < TOGETHER_US:
            self._bunch_us += took_us
        else:
            self._bunch_us = took_us
            self._longest_us = max(min(arrived_us, LATEST_US), int(self._longest_us * LONGEST_FADES))
        return took_us / US_PER_SECOND

    def _settle(self, arrived_us: int) -> None:
        """Subtracts the motion of the pointer since the last sample from the debt."""
        seconds = arrived_us / US_PER_SECOND
        vx, vy = self.velocity
        if vx or vy:
            self._owed = (self._owed[0] - vx * seconds, self._owed[1] - vy * seconds)

    def _go(self, rate_x: float, rate_y: float, seconds: float, now_us: int) -> None:
        """Sets the velocity for a pad that has turned at this rate (counts a second) for `seconds`."""
        if self.sensor_us is None:
            self.velocity = (rate_x, rate_y)
            self._until_us = now_us + SILENCE_US
        else:
            owed_x, owed_y = self._owed[0] + rate_x * seconds, self._owed[1] + rate_y * seconds
            self._owed = (owed_x, owed_y)
            longest_us = max(self._longest_us, TOGETHER_US)
            pay_us = max(min(self._bunch_us, LATEST_US), longest_us)
            self.velocity = (owed_x * US_PER_SECOND / pay_us, owed_y * US_PER_SECOND / pay_us)
            self._until_us = now_us + pay_us + (SLACK_US if pay_us < 2 * SLACK_US else 0)
        if self._silence is None and self.velocity != (0.0, 0.0):
            self._silence = self._context.agenda.at(self._until_us, self._on_silence)

    def _at_speed(self, dps: float) -> float:
        """Returns the acceleration factor at a rate of turning."""
        feel = self._feel
        part = (dps - feel.slow_dps) / max(feel.fast_dps - feel.slow_dps, LEAST_SPAN_DPS)
        return 1.0 + self._faster * max(0.0, min(part, 1.0))

    @property
    def attitude(self) -> tuple[float, float]:
        """Tilt of the pad to the right and forward, in degrees."""
        x, y, z = self._gravity.up
        return degrees(atan2(-x, hypot(y, z))), degrees(atan2(z, y))

    def _note_tilt(self) -> None:
        right, forward = self.attitude
        feel = self._feel.tilt
        if self._neutral is None:
            self._neutral = (0.0, 0.0) if feel.centre is Centre.LEVEL else (right, forward)
        right -= self._neutral[0]
        forward = (forward - self._neutral[1] + 180.0) % 360.0 - 180.0
        across, upright = _tilted(right, feel), _tilted(forward, feel)
        self.position = (across, -upright)
        depths = (-across, across, upright, -upright)
        for slot, angle, depth in zip(self._tilts, (-right, right, forward, -forward), depths, strict=True):
            slot.depth = depth
            down = angle >= (feel.off_degrees if slot.down else feel.on_degrees)
            if down is not slot.down:
                slot.down = down
                self._changed.append(slot)

    def _on_silence(self, t_us: int) -> None:
        """Stops the pointer once the motion of the last sample is paid, unless another sample has come."""
        self._silence = None
        if t_us < self._until_us:
            if self.velocity != (0.0, 0.0):
                self._silence = self._context.agenda.at(self._until_us, self._on_silence)
        elif self._sampled_us is None:  # from the last sample; frames of other controls have come since
            self.rest()
            self._context.stale = True
        elif self._at_us is not None:
            self._settle(t_us - self._at_us)
            self.velocity = (0.0, 0.0)
            self._context.stale = True


def _tilted(angle: float, feel: TiltFeel) -> float:
    """Returns an angle in degrees as a deflection from -1 to 1."""
    beyond = abs(angle) - feel.dead_degrees
    if beyond <= 0.0:
        return 0.0
    part = min(beyond / max(feel.full_degrees - feel.dead_degrees, LEAST_SPAN_DPS), 1.0)
    return copysign(float(part**feel.power), angle)

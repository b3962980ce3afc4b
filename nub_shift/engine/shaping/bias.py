"""What a gyro shows while nothing turns."""

from __future__ import annotations

from math import sqrt
from typing import Final

Vector = tuple[float, float, float]


# Bias is learned from what the sensors show over this long.
WINDOW_US: Final = 1_000_000
LEAST_SAMPLES: Final = 8
# A pad on a table shows its sensors' noise and nothing else: the sum of the variances of the three axes at the most,
# in square degrees a second and in square g. A hand that holds still trembles by several times these.
TABLE_GYRO: Final = 0.15
TABLE_ACCEL: Final = 3e-4
HAND_GYRO: Final = 19.0
HAND_ACCEL: Final = 7.5e-3
# A hand that turns the pad up or sideways moves gravity by more than this, in g, from one window to the next.
TURNED_G: Final = 0.03
FASTEST_QUIET_DPS: Final = 40.0
# No sensor that works is off by more at rest.
MAX_BIAS_DPS: Final = 8.0
# How far off one window's mean may be, as a variance: on a table, in a hand, and what a card says.
TABLE_ERROR: Final = 4e-4
HAND_ERROR: Final = 0.05
HAND_ERROR_SHARE: Final = 0.1  # of the tremor
CARD_ERROR: Final = 0.01
# By how much the bias may have moved since the window before, as a variance.
BIAS_WANDERS: Final = 4e-6
# A rate this far from a known bias is a turn; a nearer one moves the bias by a small step.
TURNING_DPS: Final = 0.5
LARGEST_STEP_DPS: Final = 0.02
WELL_KNOWN: Final = 0.01
# A pad that lies still for so many windows beside the known bias has a new one.
MOST_ODD: Final = 180
ODD_SPREAD_DPS: Final = 0.15


class BiasEstimator:
    """Bias of a gyro: its rates while nothing turns.

    It learns from a pad that lies still for one second after another; each gives a mean, which moves the bias by as
    much as is known less well than that (a Kalman filter of one state). Once it is known, a mean that is far from it is
    slow turning and not bias, and others move it by small steps. Until a pad has lain still, or a card has told, it is
    learned from a hand that holds the pad still; till the first second is over the mean so far stands for it.

    Attributes:
        bias: degrees a second about x, y and z.
        settled: a pad that lay still, or a card, has told it.
    """

    def __init__(self, known: Vector | None = None) -> None:
        self.bias: Vector = known if known is not None else (0.0, 0.0, 0.0)
        self.settled = known is not None
        self._error: float | None = CARD_ERROR if known is not None else None  # a variance; None while nothing is known
        self._odd: Vector = (0.0, 0.0, 0.0)
        self._odd_count = 0
        self._before: Vector | None = None  # where gravity was in the window before
        self._begin(0)

    @property
    def sure_to_dps(self) -> float | None:
        """The standard deviation with which the bias is known, in degrees a second; None while nothing is known."""
        return sqrt(self._error) if self._error is not None else None

    def _begin(self, t_us: int) -> None:
        self._since_us = t_us
        self._count = 0
        self._x = self._y = self._z = self._squares = 0.0
        self._ax = self._ay = self._az = self._accel_squares = 0.0

    def take(self, x: float, y: float, z: float, accel: Vector, t_us: int) -> None:
        """Takes a sample of the gyro (x, y, z) and the accelerometer."""
        turns = x * x + y * y + z * z
        if turns > FASTEST_QUIET_DPS * FASTEST_QUIET_DPS:
            self._count = 0
            self._before = None
            if self._error is None:
                self.bias = (0.0, 0.0, 0.0)
            return
        if self._count == 0:
            self._begin(t_us)
        self._count += 1
        ax, ay, az = accel
        self._x += x
        self._y += y
        self._z += z
        self._squares += turns
        self._ax += ax
        self._ay += ay
        self._az += az
        self._accel_squares += ax * ax + ay * ay + az * az
        if self._error is None:
            mean = self._x / self._count, self._y / self._count, self._z / self._count
            self.bias = mean if _largest(mean) <= MAX_BIAS_DPS else (0.0, 0.0, 0.0)
        if t_us - self._since_us >= WINDOW_US:
            self._end_window()

    def _end_window(self) -> None:
        count, self._count = self._count, 0
        if count < LEAST_SAMPLES:
            return
        mean = self._x / count, self._y / count, self._z / count
        gravity = self._ax / count, self._ay / count, self._az / count
        before, self._before = self._before, gravity
        gyro = self._squares / count - _square(mean)
        accel = self._accel_squares / count - _square(gravity)
        if _largest(mean) > MAX_BIAS_DPS or (before is not None and _largest(_less(gravity, before)) > TURNED_G):
            return
        if gyro <= TABLE_GYRO and accel <= TABLE_ACCEL:
            self._learn(mean, TABLE_ERROR, lies=True)
        elif not self.settled and gyro <= HAND_GYRO and accel <= HAND_ACCEL:
            self._learn(mean, HAND_ERROR + HAND_ERROR_SHARE * gyro, lies=False)

    def _learn(self, mean: Vector, error: float, lies: bool) -> None:
        known = self._error
        if known is None or (lies and not self.settled):
            self._set(mean, error, lies)
            return
        off = _less(mean, self.bias)
        if _largest(off) > max(TURNING_DPS, 3.0 * sqrt(known + error)):
            if lies:
                self._note_odd(mean, error)
            return
        self._odd_count = 0
        gain = known / (known + error)
        most = LARGEST_STEP_DPS if known < WELL_KNOWN else TURNING_DPS
        x, y, z = (max(-most, min(part * gain, most)) for part in off)
        self.bias = (self.bias[0] + x, self.bias[1] + y, self.bias[2] + z)
        self._error = known * (1.0 - gain) + BIAS_WANDERS

    def _note_odd(self, mean: Vector, error: float) -> None:
        """Slow turning; or the bias has become another, if this goes on for longer than anybody turns."""
        if self._odd_count == 0 or _largest(_less(mean, self._odd)) > ODD_SPREAD_DPS:
            self._odd, self._odd_count = mean, 0
        self._odd_count += 1
        if self._odd_count >= MOST_ODD:
            self._set(mean, error, lies=True)

    def _set(self, bias: Vector, error: float, lies: bool) -> None:
        self.bias, self._error, self._odd_count = bias, error, 0
        self.settled = self.settled or lies


def _less(a: Vector, b: Vector) -> Vector:
    return (a[0] - b[0], a[1] - b[1], a[2] - b[2])


def _square(a: Vector) -> float:
    return a[0] * a[0] + a[1] * a[1] + a[2] * a[2]


def _largest(a: Vector) -> float:
    larger = max(abs(a[0]), abs(a[1]))  # of three, compiled code would have Python find the largest
    return max(larger, abs(a[2]))

"""Estimation of a gyro's bias."""

from __future__ import annotations

from math import sqrt
from typing import Final

Vector = tuple[float, float, float]


# Length of a window of samples.
WINDOW_US: Final = 1_000_000
LEAST_SAMPLES: Final = 8
# Limits for a pad on a table, which shows sensor noise alone: sums of the variances of the three axes, in square
# degrees a second and in square g. The tremor of a hand is several times larger.
TABLE_GYRO: Final = 0.15
TABLE_ACCEL: Final = 3e-4
HAND_GYRO: Final = 19.0
HAND_ACCEL: Final = 7.5e-3
# Change of gravity between windows, in g, above which a hand has turned the pad.
TURNED_G: Final = 0.03
FASTEST_QUIET_DPS: Final = 40.0
# Upper bound on the bias of a working sensor.
MAX_BIAS_DPS: Final = 8.0
# Variance of one window's mean: on a table, in a hand, and from a card.
TABLE_ERROR: Final = 4e-4
HAND_ERROR: Final = 0.05
HAND_ERROR_SHARE: Final = 0.1  # as a share of the tremor
CARD_ERROR: Final = 0.01
# Growth of the variance from one window to the next.
BIAS_WANDERS: Final = 4e-6
# Difference from a known bias above which the rate is a turn; a smaller one moves the bias by a small step.
TURNING_DPS: Final = 0.5
LARGEST_STEP_DPS: Final = 0.02
WELL_KNOWN: Final = 0.01
# Number of still windows at another rate after which that rate becomes the bias.
MOST_ODD: Final = 180
ODD_SPREAD_DPS: Final = 0.15


class BiasEstimator:
    """Estimates the bias of a gyro: its rates while the pad does not turn.

    Each second of stillness gives a mean, which updates the bias by a Kalman filter of one state. Once the bias is
    known, a distant mean counts as slow turning and is ignored; near ones move the bias by small steps. Before a pad
    has lain still, and without a card, windows of a steady hand are used; during the first second, the running mean.

    Attributes:
        bias: degrees a second about x, y and z.
        settled: whether the bias comes from a pad that lay still or from a card.
    """

    def __init__(self, known: Vector | None = None) -> None:
        self.bias: Vector = known if known is not None else (0.0, 0.0, 0.0)
        self.settled = known is not None
        self._error: float | None = CARD_ERROR if known is not None else None  # a variance; None while nothing is known
        self._odd: Vector = (0.0, 0.0, 0.0)
        self._odd_count = 0
        self._before: Vector | None = None  # gravity in the window before
        self._begin(0)

    @property
    def sure_to_dps(self) -> float | None:
        """Standard deviation of the bias in degrees a second; None while nothing is known."""
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
        """Counts a window of slow turning; enough of them in a row become the new bias."""
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
    larger = max(abs(a[0]), abs(a[1]))  # compiled code would call Python's max for three values
    return max(larger, abs(a[2]))

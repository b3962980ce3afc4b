"""Response curves for many values at once, each compiled into few array operations."""

from __future__ import annotations

from collections.abc import Sequence
from itertools import pairwise
from typing import Protocol

import numpy as np
from numpy.typing import NDArray

from nub_shift.analysis.hands import Samples
from nub_shift.engine.shaping.curves import MonotoneCubic, Point, PowerCurve, response_curve

# Rows for intermediate results; allocating them for each step would cost more than the step.
Spare = NDArray[np.float64]
# A number as an array without axes, which NumPy does not convert again at each step.
Number = NDArray[np.float64]

# Number of values that fit in the processor's cache.
PIECE = 32_768
# An array as the lower bound is faster than the number 0.
ZEROS = np.zeros(PIECE)
# Segments of a curve below this width are looked up one by one.
_NARROW = 0.05
# Bound on the rounding error of a few steps.
_ROUNDING = 1e-15
# Replaces a reach of 0 in logarithms, which are slow at 0.
_FAINT = 1e-60


def number(value: float) -> Number:
    """Returns a number as an array without axes."""
    return np.array(value)


class Bend(Protocol):
    """A response curve from 0..width to least..1.

    Attributes:
        jumps: the curve is above 0 at 0, and the caller has to set those values to 0 again.
    """

    jumps: bool

    def bent(self, reach: Samples, spare: Spare) -> Samples:
        """Bends values in place, or into a row of `spare`; returns the result."""


class _Line:
    def __init__(self, width: float, least: float) -> None:
        self.jumps = least > 0.0
        self._slope, self._least = number((1.0 - least) / width), number(least)

    def bent(self, reach: Samples, _spare: Spare) -> Samples:
        reach *= self._slope
        if self.jumps:
            reach += self._least
        return reach


class _Power:
    """Power of values, four times as fast for zeros as `np.power`."""

    jumps = True

    def __init__(self, power: float, width: float, least: float) -> None:
        self._power, self._per = number(power), number(1.0 / width)
        self._line = _Line(1.0, least)

    def bent(self, reach: Samples, spare: Spare) -> Samples:
        reach *= self._per
        np.clip(reach, _FAINT, 1.0, out=reach)
        np.log(reach, out=reach)
        reach *= self._power
        np.exp(reach, out=reach)
        return self._line.bent(reach, spare) if self._line.jumps else reach


class _Sum:
    """Sum of segments: the first is extended without bound, and each later one adds its difference.

    Segments meet in value and slope, so that a difference is a quadratic and a cubic term of the distance from its
    border.
    """

    def __init__(self, curve: MonotoneCubic, width: float, least: float) -> None:
        much = 1.0 - least
        first, *_ = curve.pieces
        value = least + much * first[0]
        self.jumps = value > 0.0
        self._value = number(value)
        self._slope, self._square, self._cube = (
            number(much * part / width**power) for power, part in enumerate(first[1:], 1)
        )
        self._more: list[tuple[Number, Number, Number]] = []
        for index in range(1, len(curve.pieces)):
            border, before = curve.xs[index], curve.xs[index] - curve.xs[index - 1]
            (_, _, square_before, cube_before), (_, _, square, cube) = curve.pieces[index - 1 : index + 1]
            squared = square - square_before - 3.0 * before * cube_before
            cubed = cube - cube_before
            self._more.append(
                (number(border * width), number(much * squared / width**2), number(much * cubed / width**3))
            )

    def bent(self, reach: Samples, spare: Spare) -> Samples:
        total: Samples = spare[0]
        along, more = spare[1:3]
        zeros = ZEROS[: len(reach)]
        np.multiply(reach, self._cube, out=total)
        total += self._square
        total *= reach
        total += self._slope
        total *= reach
        if self.jumps:
            total += self._value
        for border, square, cube in self._more:
            np.subtract(reach, border, out=along)
            np.maximum(along, zeros, out=along)
            np.multiply(along, cube, out=more)
            more += square
            more *= along
            more *= along
            total += more
        return total


class _Lookup:
    """Looks up the segment of each value: where narrow segments are steep, the sum above would lose too many digits."""

    def __init__(self, curve: MonotoneCubic, width: float, least: float) -> None:
        self.jumps = least > 0.0 or curve.pieces[0][0] > 0.0
        self._per = (1.0 + _ROUNDING) / width
        self._borders = np.array(curve.xs[1:-1])
        self._starts, *self._parts = np.array([(x, *piece) for x, piece in zip(curve.xs, curve.pieces, strict=False)]).T
        self._line = _Line(1.0, least)

    def bent(self, reach: Samples, spare: Spare) -> Samples:
        reach *= self._per
        np.clip(reach, 0.0, 1.0, out=reach)  # clamped: a steep curve would overshoot its end
        index = np.searchsorted(self._borders, reach, side="right")
        along = reach - self._starts[index]
        value, slope, square, cube = (part[index] for part in self._parts)
        np.clip(value + along * (slope + along * (square + along * cube)), 0.0, 1.0, out=reach)
        return self._line.bent(reach, spare)


def bend(power: float, points: Sequence[Point], width: float, least: float) -> Bend:
    """Returns the curve of a feel from 0..`width` to `least`..1, by `points` or a `power`, as `response_curve` does."""
    curve = response_curve(power, points)
    match curve:
        case None:
            return _Line(width, least)
        case PowerCurve():
            return _Power(curve.power, width, least)
        case MonotoneCubic():
            narrow = any(after - before < _NARROW for before, after in pairwise(curve.xs))
            return _Lookup(curve, width, least) if narrow else _Sum(curve, width, least)
        case _:
            raise TypeError(curve)

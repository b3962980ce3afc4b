"""Response curves for many values at once, each compiled into few steps over all of them."""

from __future__ import annotations

from collections.abc import Sequence
from itertools import pairwise
from typing import Protocol

import numpy as np
from numpy.typing import NDArray

from nub_shift.analysis.hands import Samples
from nub_shift.engine.shaping.curves import MonotoneCubic, Point, PowerCurve, response_curve

# Rows for what is on the way. Made anew for each step they cost more than the steps do.
Spare = NDArray[np.float64]
# A number as an array without axes, which NumPy need not convert at each step.
Number = NDArray[np.float64]

# So many at a time stay in the processor's cache.
PIECE = 32_768
# An array of zeros: a quicker lower bound than the number 0.
ZEROS = np.zeros(PIECE)
# Pieces of a curve that are narrower than this are looked up one by one.
_NARROW = 0.05
# More than what a few steps are off by.
_ROUNDING = 1e-15
# A reach that is nothing is taken for this one by the logarithm, which is slow with true nothing.
_FAINT = 1e-60


def number(value: float) -> Number:
    """A number as an array."""
    return np.array(value)


class Bend(Protocol):
    """A response curve from 0..width to least..1.

    Attributes:
        jumps: it makes more than nothing out of nothing, which whoever bends sets to nothing again.
    """

    jumps: bool

    def bent(self, reach: Samples, spare: Spare) -> Samples:
        """Bends values; the result is in place of them, or in a row of `spare`."""


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
    """Returns the same as `np.power`, which takes four times as long for zeros."""

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
    """The first piece of a curve goes on for ever; each later one adds what it has besides.

    They meet in value and slope, so that this is a square and a cube of the way behind their border.
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
    """Each value by its own piece: where narrow ones are steep, the sum above would lose too many digits."""

    def __init__(self, curve: MonotoneCubic, width: float, least: float) -> None:
        self.jumps = least > 0.0 or curve.pieces[0][0] > 0.0
        self._per = (1.0 + _ROUNDING) / width
        self._borders = np.array(curve.xs[1:-1])
        self._starts, *self._parts = np.array([(x, *piece) for x, piece in zip(curve.xs, curve.pieces, strict=False)]).T
        self._line = _Line(1.0, least)

    def bent(self, reach: Samples, spare: Spare) -> Samples:
        reach *= self._per
        np.clip(reach, 0.0, 1.0, out=reach)  # the end is the end, however steep the curve is there
        index = np.searchsorted(self._borders, reach, side="right")
        along = reach - self._starts[index]
        value, slope, square, cube = (part[index] for part in self._parts)
        np.clip(value + along * (slope + along * (square + along * cube)), 0.0, 1.0, out=reach)
        return self._line.bent(reach, spare)


def bend(power: float, points: Sequence[Point], width: float, least: float) -> Bend:
    """The curve of a feel from 0..`width` to `least`..1: `points` or a `power`, as `response_curve` takes them."""
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

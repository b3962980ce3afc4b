"""Response curves from 0..1 to 0..1, compiled for evaluation."""

from __future__ import annotations

from bisect import bisect_right
from collections.abc import Sequence
from itertools import pairwise
from math import hypot
from typing import Final, Protocol

# Points nearer to one another than this are merged, which avoids division by tiny spans.
CLOSEST: Final = 1e-6

Point = tuple[float, float]


class Curve(Protocol):
    """A compiled, monotone curve."""

    def at(self, x: float) -> float:
        """The curve at x, 0 to 1."""


class PowerCurve:
    """Power curve, x ** power."""

    def __init__(self, power: float) -> None:
        self.power = power

    def at(self, x: float) -> float:
        """The curve at x, 0 to 1."""
        return float(x**self.power)


class MonotoneCubic:
    """The monotone cubic interpolant through points with rising x and not falling y.

    Tangents by Fritsch and Carlson, "Monotone piecewise cubic interpolation", SIAM J. Numer. Anal. 17 (1980):
    three-point differences, reduced to the circle of radius three where they would overshoot. Each segment is stored as
    the coefficients of a polynomial in the distance from its first point.
    """

    def __init__(self, points: Sequence[Point]) -> None:
        tangents = fritsch_carlson_tangents(points)
        self.xs = [x for x, _ in points]
        self.last_y = points[-1][1]
        self.pieces: list[tuple[float, float, float, float]] = []
        for index, ((x0, y0), (x1, y1)) in enumerate(pairwise(points)):
            width = x1 - x0
            slope, before, after = (y1 - y0) / width, tangents[index], tangents[index + 1]
            square = (3.0 * slope - 2.0 * before - after) / width
            cube = (before + after - 2.0 * slope) / (width * width)
            self.pieces.append((y0, before, square, cube))

    def at(self, x: float) -> float:
        """Returns the curve at x, 0 to 1; constant before the first point and after the last."""
        index = bisect_right(self.xs, x) - 1
        if index < 0:
            return self.pieces[0][0]
        if index >= len(self.pieces):
            return self.last_y
        value, slope, square, cube = self.pieces[index]
        beyond = x - self.xs[index]
        result = value + beyond * (slope + beyond * (square + beyond * cube))
        return 0.0 if result < 0.0 else 1.0 if result > 1.0 else result  # rounding


def fritsch_carlson_tangents(points: Sequence[Point]) -> list[float]:
    """Returns the slopes at the points; see `MonotoneCubic`."""
    slopes = [(y1 - y0) / (x1 - x0) for (x0, y0), (x1, y1) in pairwise(points)]
    tangents = [
        slopes[0],
        *((a + b) / 2 if a * b > 0 else 0.0 for a, b in pairwise(slopes)),
        slopes[-1],
    ]
    for index, slope in enumerate(slopes):
        if slope == 0.0:
            tangents[index] = tangents[index + 1] = 0.0
            continue
        reach = hypot(tangents[index] / slope, tangents[index + 1] / slope)
        if reach > 3.0:
            tangents[index] *= 3.0 / reach
            tangents[index + 1] *= 3.0 / reach
    return tangents


def response_curve(power: float, points: Sequence[Point]) -> Curve | None:
    """Returns a power curve, or the monotone cubic through (0, 0), `points` and (1, 1); None for a straight line."""
    if points:
        inner: list[Point] = []
        for point in points:
            if (inner[-1][0] if inner else 0.0) + CLOSEST <= point[0] <= 1.0 - CLOSEST:
                inner.append(point)
        first = next((y for x, y in points if x == 0.0), 0.0)
        last = next((y for x, y in points if x == 1.0), 1.0)
        return MonotoneCubic([(0.0, first), *inner, (1.0, last)])
    return PowerCurve(power) if power != 1.0 else None

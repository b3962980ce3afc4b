"""Response curves, compiled into tables."""

from __future__ import annotations

from collections.abc import Callable, Sequence
from itertools import pairwise
from math import hypot

TABLE_STEPS = 512


def monotone_cubic(points: Sequence[tuple[float, float]]) -> Callable[[float], float]:
    """The monotone cubic interpolant through points with rising x and not falling y.

    Tangents by Fritsch and Carlson, "Monotone piecewise cubic interpolation", SIAM J. Numer. Anal. 17 (1980):
    three-point differences, drawn in to the circle of radius three where they would overshoot.
    """
    xs = [x for x, _ in points]
    ys = [y for _, y in points]
    tangents = fritsch_carlson_tangents(points)

    def at(x: float) -> float:
        if x <= xs[0]:
            return ys[0]
        if x >= xs[-1]:
            return ys[-1]
        index = next(index for index in range(len(xs) - 1) if x < xs[index + 1])
        width = xs[index + 1] - xs[index]
        t = (x - xs[index]) / width
        rise = t * t * (3 - 2 * t)
        bend = t * (1 - t)
        value = ys[index] * (1 - rise) + ys[index + 1] * rise
        return value + width * bend * (tangents[index] * (1 - t) - tangents[index + 1] * t)

    return at


def fritsch_carlson_tangents(points: Sequence[tuple[float, float]]) -> list[float]:
    """The slopes at the points; see `monotone_cubic`."""
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


class CurveTable:
    """A curve from 0..1 to 0..1 as a table with straight lines between its entries."""

    def __init__(self, curve: Callable[[float], float]) -> None:
        self._values = [min(max(curve(step / TABLE_STEPS), 0.0), 1.0) for step in range(TABLE_STEPS + 1)]
        self._values.append(self._values[-1])

    def at(self, x: float) -> float:
        """The curve at x, 0 to 1."""
        spot = x * TABLE_STEPS
        index = int(spot)
        low = self._values[index]
        return low + (self._values[index + 1] - low) * (spot - index)


def response_curve(power: float, points: Sequence[tuple[float, float]]) -> CurveTable | None:
    """The table of a power curve, or of the monotone cubic through (0, 0), `points` and (1, 1); None if straight."""
    if points:
        inner = [point for point in points if 0.0 < point[0] < 1.0]
        first = next((y for x, y in points if x == 0.0), 0.0)
        last = next((y for x, y in points if x == 1.0), 1.0)
        return CurveTable(monotone_cubic([(0.0, first), *inner, (1.0, last)]))
    return CurveTable(lambda x: x**power) if power != 1.0 else None

"""Moving, adding and removing points of a response curve, which stays monotone."""

from __future__ import annotations

from collections.abc import Callable
from itertools import pairwise

Points = tuple[tuple[float, float], ...]

# Limit of the file format.
MOST = 12
# Least horizontal distance of two points.
LEAST_GAP = 0.02


def move_point(points: Points, index: int, x: float, y: float) -> Points:
    """Returns the points with one moved, as far as its neighbours permit."""
    left_x, left_y = points[index - 1] if index else (0.0, 0.0)
    right_x, right_y = points[index + 1] if index + 1 < len(points) else (1.0, 1.0)
    # Points written by a person may be nearer to each other.
    low, high = min(left_x + LEAST_GAP, points[index][0]), max(right_x - LEAST_GAP, points[index][0])
    moved = round(min(max(x, low), high), 3), round(min(max(y, left_y), right_y), 3)
    return (*points[:index], moved, *points[index + 1 :])


def add_point(points: Points, curve: Callable[[float], float], x: float | None = None) -> Points:
    """Returns the points with another on the present curve: at `x`, or in the middle of the widest gap.

    Returns the points unchanged without room for another.
    """
    if len(points) >= MOST:
        return points
    if x is None:
        gaps = pairwise((0.0, *(x for x, _ in points), 1.0))
        left, right = max(gaps, key=lambda gap: gap[1] - gap[0])
        x = (left + right) / 2
    x = round(x, 3)
    if any(abs(x - other) < LEAST_GAP for other in (0.0, *(x for x, _ in points), 1.0)):
        return points
    index = sum(other < x for other, _ in points)
    low, high = points[index - 1][1] if index else 0.0, points[index][1] if index < len(points) else 1.0
    y = round(min(max(curve(x), low), high), 3)
    return (*points[:index], (x, y), *points[index:])


def remove_point(points: Points, index: int) -> Points:
    """The points without one."""
    return (*points[:index], *points[index + 1 :])


def points_text(points: Points) -> str:
    """Returns the points in the form of a file."""
    return f"[{', '.join(f'[{x:g}, {y:g}]' for x, y in points)}]"

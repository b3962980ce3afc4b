"""A stick as four or eight directions, with hysteresis at every border and at the radius."""

from __future__ import annotations

from math import atan2, degrees

from nub_shift.model.feel import Directions

# Sectors go clockwise from up; even ones are straight, odd ones diagonal.
SECTOR_WAYS: tuple[tuple[str, ...], ...] = (
    ("up",),
    ("up", "right"),
    ("right",),
    ("right", "down"),
    ("down",),
    ("down", "left"),
    ("left",),
    ("left", "up"),
)


class Sectors:
    """The sectors of one stick. Angles are in degrees clockwise from up; positions have y downwards."""

    def __init__(self, feel: Directions) -> None:
        four = feel.ways == 4
        self._on = feel.on
        self._off = feel.off
        self._straight = 45.0 if four else (90.0 - feel.diagonal_degrees) / 2.0  # half the width of a straight one
        diagonal = 0.0 if four else feel.diagonal_degrees / 2.0
        self._stay = [width + feel.hysteresis_degrees for width in (self._straight, diagonal)] * 4

    def next(self, current: int | None, x: float, y: float, radius: float) -> int | None:
        """The sector that follows `current` when the stick is at (x, y), `radius` from the middle, which is None."""
        if current is None:
            return None if radius < self._on else self.at(degrees(atan2(x, -y)))
        if radius < self._off:
            return None
        angle = degrees(atan2(x, -y))
        if abs((angle - current * 45.0 + 180.0) % 360.0 - 180.0) <= self._stay[current]:
            return current
        return self.at(angle)

    def at(self, angle: float) -> int:
        """The sector in which an angle lies, hysteresis left aside. A border belongs to the straight sector."""
        straight = int((angle + 45.0) // 90.0) % 4 * 2
        offset = (angle - straight * 45.0 + 180.0) % 360.0 - 180.0
        if abs(offset) <= self._straight:
            return straight
        return (straight + (1 if offset > 0 else -1)) % 8

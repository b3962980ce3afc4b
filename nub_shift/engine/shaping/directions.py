"""A stick as four or eight directions, with hysteresis at every border and at the radius."""

from __future__ import annotations

from math import atan2, cos, degrees, radians, sin, tan

from nub_shift.model.profile.feel import Directions

# Sectors run clockwise from up; even ones are straight, odd ones diagonal.
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
    """Sectors of one stick. Angles are in degrees clockwise from up; positions have y downwards."""

    def __init__(self, feel: Directions) -> None:
        four = feel.ways == 4
        self._on = feel.on
        self._off = feel.off
        stages = [feel.stage(way) for (way,) in SECTOR_WAYS[::2]]
        self._stages = [(stage.on, stage.off) for stage in stages]  # of up, right, down, left
        self._alike = all(stage == (feel.on, feel.off) for stage in self._stages)
        self._straight = 45.0 if four else (90.0 - feel.diagonal_degrees) / 2.0  # half the width of a straight sector
        diagonal = 0.0 if four else feel.diagonal_degrees / 2.0
        # Direction of each sector, and the tangent of its half width with hysteresis.
        stays = [tan(radians(width + feel.hysteresis_degrees)) for width in (self._straight, diagonal)] * 4
        angles = [radians(45.0 * sector) for sector in range(8)]
        self._holds = [(sin(angle), -cos(angle), stay) for angle, stay in zip(angles, stays, strict=True)]

    def next(self, current: int | None, x: float, y: float, radius: float) -> int | None:
        """Returns the sector after `current` for a stick at (x, y), `radius` from the middle; None for the middle."""
        if not self._alike:
            return self._next_by_way(current, x, y, radius)
        if current is None:
            return None if radius < self._on else self.at(degrees(atan2(x, -y)))
        if radius < self._off:
            return None
        to_x, to_y, stay = self._holds[current]
        if abs(x * to_y - y * to_x) <= (x * to_x + y * to_y) * stay:
            return current
        return self.at(degrees(atan2(x, -y)))

    def _next_by_way(self, current: int | None, x: float, y: float, radius: float) -> int | None:
        """Returns the next sector where each direction has its own stages: of a diagonal, the reached directions
        count.
        """
        sector = self.at(degrees(atan2(x, -y)))
        if current is not None:
            to_x, to_y, stay = self._holds[current]
            if abs(x * to_y - y * to_x) <= (x * to_x + y * to_y) * stay:
                sector = current
        held = _straight_parts(current) if current is not None else ()
        reached = [way for way in _straight_parts(sector) if radius >= self._stages[way // 2][1 if way in held else 0]]
        return sector if len(reached) == 2 else next(iter(reached), None)

    def at(self, angle: float) -> int:
        """Returns the sector of an angle without hysteresis. A border belongs to the straight sector."""
        straight = int((angle + 45.0) // 90.0) % 4 * 2
        offset = (angle - straight * 45.0 + 180.0) % 360.0 - 180.0
        if abs(offset) <= self._straight:
            return straight
        return (straight + (1 if offset > 0 else -1)) % 8


def _straight_parts(sector: int) -> tuple[int, ...]:
    """Returns the straight sectors that make up a sector."""
    return (sector,) if sector % 2 == 0 else (sector - 1, (sector + 1) % 8)

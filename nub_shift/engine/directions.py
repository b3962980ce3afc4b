"""A stick as four or eight directions, with hysteresis at every border and at the radius."""

from __future__ import annotations

from math import atan2, degrees, hypot

from nub_shift.model.profile import Directions

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


def angle_of(x: float, y: float) -> float:
    """Degrees clockwise from up, 0 to 360, of a stick position (y downwards)."""
    return degrees(atan2(x, -y)) % 360.0


def half_width(sector: int, feel: Directions) -> float:
    """Half the width of a sector in degrees."""
    if feel.ways == 4:
        return 45.0
    return (feel.diagonal_degrees if sector % 2 else 90.0 - feel.diagonal_degrees) / 2.0


def sector_at(angle: float, feel: Directions) -> int:
    """The sector in which an angle lies, hysteresis left aside. A border belongs to the straight sector."""
    straight = int((angle + 45.0) // 90.0) % 4 * 2
    offset = (angle - straight * 45.0 + 180.0) % 360.0 - 180.0
    if feel.ways == 4 or abs(offset) <= half_width(straight, feel):
        return straight
    return (straight + (1 if offset > 0 else -1)) % 8


def next_sector(current: int | None, x: float, y: float, feel: Directions) -> int | None:
    """The sector that follows `current` when the stick is at (x, y); None is the middle."""
    radius = hypot(x, y)
    if radius < (feel.on if current is None else feel.off):
        return None
    angle = angle_of(x, y)
    if current is not None:
        offset = abs((angle - current * 45.0 + 180.0) % 360.0 - 180.0)
        if offset <= half_width(current, feel) + feel.hysteresis_degrees:
            return current
    return sector_at(angle, feel)

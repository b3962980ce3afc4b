"""Shaping of a stick position. A feel is compiled once; the shape has no state."""

from __future__ import annotations

from functools import lru_cache
from math import copysign, cos, hypot, radians, sin
from typing import Final

from nub_shift.engine.shaping.curves import response_curve
from nub_shift.model.profile.feel import AxisFeel, DeadZoneShape, StickFeel

# Below the resolution of any pad; has no direction, and counts as the middle.
REST_RADIUS: Final = 1e-6
# No accepted feel has a shorter span, but merged feels of layers may; shaping must be total.
SHORTEST_SPAN: Final = 1e-3


class StickShape:
    """A compiled feel. Positions have x to the right and y downwards, -1 to 1.

    Attributes:
        dead: radius of the dead zone.
        keeps_orientation: whether `oriented` is the identity.
    """

    def __init__(self, feel: StickFeel) -> None:
        self._feel = feel
        angle = radians(feel.rotation_degrees)
        self._cos, self._sin = cos(angle), sin(angle)
        self.keeps_orientation = not (feel.rotation_degrees or feel.square_off or feel.invert_x or feel.invert_y)
        shape = feel.dead_zone_shape
        self._axial = feel.axial_dead_zone if shape is not DeadZoneShape.RADIAL else 0.0
        self.dead = feel.dead_zone if shape is not DeadZoneShape.AXIAL else 0.0
        self._span = max(1.0 - feel.edge_zone - self.dead, SHORTEST_SPAN)
        self._curve = response_curve(feel.power, feel.points)
        self._anti = feel.anti_dead_zone
        axes = (feel.x, feel.y)
        self._axes = (AxisShape(feel.x or AxisFeel()), AxisShape(feel.y or AxisFeel())) if any(axes) else None

    def oriented(self, x: float, y: float) -> tuple[float, float]:
        """Returns the position as meant by the hand: rotated, inverted, squared off."""
        if self.keeps_orientation:
            return x, y
        feel = self._feel
        # Clockwise with y downwards.
        x, y = x * self._cos - y * self._sin, x * self._sin + y * self._cos
        x, y = (-x if feel.invert_x else x), (-y if feel.invert_y else y)
        return _squared(x, y, feel.square_off) if feel.square_off else (x, y)

    def shape(self, x: float, y: float) -> tuple[float, float]:
        """Returns an oriented position after dead zones, edge zone, curve and anti-dead zone; within the unit circle.

        The radius r becomes (r - dead) / (1 - edge - dead), clamped to 0 and 1, then bent by the curve; the angle
        stays. An axial dead zone first removes its band from each axis in the same way.
        """
        if self._axial:
            x, y = _off_axis(x, self._axial), _off_axis(y, self._axial)
        radius = hypot(x, y)
        if radius <= self.dead or radius < REST_RADIUS:
            return 0.0, 0.0
        reach = (radius - self.dead) / self._span
        if reach > 1.0:
            reach = 1.0
        if self._curve is not None:
            reach = self._curve.at(reach)
        factor = (self._anti + (1.0 - self._anti) * reach) / radius
        x, y = x * factor, y * factor
        return (x, y) if self._axes is None else (self._axes[0].shape(x), self._axes[1].shape(y))


def unoriented(feel: StickFeel, x: float, y: float) -> tuple[float, float]:
    """Returns the position whose oriented position is (x, y): the inverse of `StickShape.oriented`."""
    if feel.square_off:
        longest = max(abs(x), abs(y))
        if longest > 0.0:
            factor = _square_factor(hypot(x, y) / longest, feel.square_off)
            x, y = x / factor, y / factor
    x, y = (-x if feel.invert_x else x), (-y if feel.invert_y else y)
    angle = radians(feel.rotation_degrees)
    return x * cos(angle) + y * sin(angle), y * cos(angle) - x * sin(angle)


class AxisShape:
    """Shaping of a single axis."""

    def __init__(self, feel: AxisFeel) -> None:
        self._dead = feel.dead_zone
        self._curve = response_curve(feel.power, feel.points)

    def shape(self, value: float) -> float:
        """Returns a value from -1 to 1 after the axis's own dead zone and curve."""
        value = _off_axis(value, self._dead) if self._dead else value
        if self._curve is None or value == 0.0:
            return value
        return copysign(self._curve.at(min(abs(value), 1.0)), value)


@lru_cache(maxsize=256)
def shape_of(feel: StickFeel) -> StickShape:
    """Returns the compiled shape of a feel, cached for layers that activate again."""
    return StickShape(feel)


def _off_axis(value: float, band: float) -> float:
    if abs(value) <= band:
        return 0.0
    return (value - band if value > 0 else value + band) / (1.0 - band)


def _squared(x: float, y: float, amount: float) -> tuple[float, float]:
    """Stretches the diagonals of a circle towards those of a square by `amount`, or shrinks them if negative."""
    longest = max(abs(x), abs(y))
    if longest == 0.0:
        return x, y
    factor = _square_factor(hypot(x, y) / longest, amount)
    return x * factor, y * factor


def _square_factor(stretch: float, amount: float) -> float:
    """Returns the factor; `stretch` is 1 on the axes, the square root of two on the diagonals."""
    return 1.0 + amount * (stretch - 1.0) if amount > 0 else 1.0 / (1.0 - amount * (stretch - 1.0))

"""A stick's shaping for many positions at once: what a change of its feel would have made of what hands just did."""

from __future__ import annotations

from math import cos, radians, sin

import numpy as np
from numpy.typing import NDArray

from nub_shift.engine.shaping.curves import Curve, MonotoneCubic, PowerCurve, response_curve
from nub_shift.engine.shaping.stick_shape import REST_RADIUS, SHORTEST_SPAN
from nub_shift.model.feel import AxisFeel, DeadZoneShape, StickFeel

Samples = NDArray[np.float64]

# So many at a time stay in the processor's cache.
_PIECE = 32_768


def shaped(feel: StickFeel, x: Samples, y: Samples) -> tuple[Samples, Samples]:
    """Positions after all of a feel but what depends on time, as `engine.shaping.stick_shape` does it one by one.

    Args:
        feel: the stick's.
        x, y: positions, -1 to 1, of equal length.

    Returns:
        The shaped positions, of that length; all of them within the unit circle.
    """
    out_x, out_y = np.array(x, dtype=np.float64), np.array(y, dtype=np.float64)
    for start in range(0, len(out_x), _PIECE):
        piece = slice(start, start + _PIECE)
        _orient(feel, out_x[piece], out_y[piece])
        _shape(feel, out_x[piece], out_y[piece])
    return out_x, out_y


def oriented(feel: StickFeel, x: Samples, y: Samples) -> tuple[Samples, Samples]:
    """Positions as the hand means them: rest in the middle, turned, inverted, squared off."""
    out_x, out_y = np.array(x, dtype=np.float64), np.array(y, dtype=np.float64)
    _orient(feel, out_x, out_y)
    return out_x, out_y


def shaped_at(feel: StickFeel, x: float, y: float) -> tuple[float, float]:
    """The same for one position."""
    made_x, made_y = shaped(feel, np.array([x]), np.array([y]))
    return float(made_x[0]), float(made_y[0])


def response(feel: StickFeel, count: int) -> tuple[Samples, Samples]:
    """How far a stick is pushed to the right, from 0 to 1 in that many steps, and how far out that comes."""
    pushed = np.linspace(0.0, 1.0, count)
    out_x, out_y = shaped(feel, feel.rest_x + pushed * (1.0 - feel.rest_x), np.full(count, feel.rest_y))
    return pushed, np.hypot(out_x, out_y)


def _orient(feel: StickFeel, x: Samples, y: Samples) -> None:
    """Rest in the middle, turned, inverted, squared off; in place."""
    for values, rest in ((x, feel.rest_x), (y, feel.rest_y)):
        if rest:
            values -= rest
            values /= np.where(values > 0, 1.0 - rest, 1.0 + rest)
    if feel.rotation_degrees:
        angle = radians(feel.rotation_degrees)
        turned = x * cos(angle) - y * sin(angle)
        y *= cos(angle)
        y += x * sin(angle)
        x[:] = turned
    for values, inverted in ((x, feel.invert_x), (y, feel.invert_y)):
        if inverted:
            np.negative(values, out=values)
    if feel.square_off:
        longest = np.maximum(np.abs(x), np.abs(y))
        longest[longest == 0.0] = 1.0
        stretch = np.sqrt(x * x + y * y)
        stretch /= longest
        stretch -= 1.0
        stretch *= abs(feel.square_off)
        stretch += 1.0
        for values in (x, y):
            if feel.square_off > 0:
                values *= stretch
            else:
                values /= stretch


def _shape(feel: StickFeel, x: Samples, y: Samples) -> None:
    """Dead zones, edge zone, curve, anti-dead zone, and what each axis has for itself; in place."""
    if feel.dead_zone_shape is not DeadZoneShape.RADIAL and feel.axial_dead_zone:
        _off_axis(x, feel.axial_dead_zone)
        _off_axis(y, feel.axial_dead_zone)
    dead = feel.dead_zone if feel.dead_zone_shape is not DeadZoneShape.AXIAL else 0.0
    span = max(1.0 - feel.edge_zone - dead, SHORTEST_SPAN)
    curve = response_curve(feel.power, feel.points)
    radius = x * x
    radius += y * y
    np.sqrt(radius, out=radius)
    reach = radius - dead
    reach *= 1.0 / span
    np.minimum(reach, 1.0, out=reach)
    np.maximum(reach, 0.0, out=reach)
    _bend(curve, reach)
    if feel.anti_dead_zone:
        reach *= 1.0 - feel.anti_dead_zone
        reach += feel.anti_dead_zone
    if dead < REST_RADIUS or feel.anti_dead_zone or (curve is not None and curve.at(0.0) > 0.0):
        reach *= (radius > dead) & (radius >= REST_RADIUS)  # else what comes out there is nothing already
    np.maximum(radius, REST_RADIUS, out=radius)
    reach /= radius
    x *= reach
    y *= reach
    for values, own in ((x, feel.x), (y, feel.y)):
        if own is not None:
            _shape_axis(own, values)


def _shape_axis(feel: AxisFeel, values: Samples) -> None:
    if feel.dead_zone:
        _off_axis(values, feel.dead_zone)
    curve = response_curve(feel.power, feel.points)
    if curve is None:
        return
    reach = np.abs(values)
    np.minimum(reach, 1.0, out=reach)
    rests = reach == 0.0
    _bend(curve, reach)
    reach[rests] = 0.0
    np.copysign(reach, values, out=values)


def _off_axis(values: Samples, band: float) -> None:
    reach = np.abs(values)
    reach -= band
    np.maximum(reach, 0.0, out=reach)
    reach *= 1.0 / (1.0 - band)
    np.copysign(reach, values, out=values)


def _bend(curve: Curve | None, reach: Samples) -> None:
    """Bends values from 0 to 1 by a response curve, in place."""
    match curve:
        case None:
            pass
        case PowerCurve():
            np.power(reach, curve.power, out=reach)
        case MonotoneCubic():
            _bend_by_pieces(curve, reach)
        case _:
            raise TypeError(curve)


def _bend_by_pieces(curve: MonotoneCubic, reach: Samples) -> None:
    """Few pieces: counting the borders below a value is quicker than searching for it."""
    index = np.zeros(len(reach), dtype=np.intp)
    for border in curve.xs[1:-1]:
        index += reach >= border
    starts, *parts = np.array([(x, *piece) for x, piece in zip(curve.xs, curve.pieces, strict=False)]).T
    value, slope, square, cube = (np.ascontiguousarray(part).take(index, mode="clip") for part in parts)
    along = reach - np.ascontiguousarray(starts).take(index, mode="clip")
    cube *= along
    cube += square
    cube *= along
    cube += slope
    cube *= along
    cube += value
    np.minimum(cube, 1.0, out=cube)
    np.maximum(cube, 0.0, out=cube)
    reach[:] = cube

"""A stick's shaping for many positions at once: what a change of its feel would have made of what hands just did."""

from __future__ import annotations

from collections.abc import Callable, Sequence
from itertools import pairwise
from math import cos, radians, sin

import numpy as np
from numpy.typing import NDArray

from nub_shift.engine.shaping.curves import Curve, MonotoneCubic, PowerCurve, response_curve
from nub_shift.engine.shaping.stick_shape import REST_RADIUS, SHORTEST_SPAN
from nub_shift.model.feel import AxisFeel, DeadZoneShape, StickFeel

Samples = NDArray[np.float64]
# Arrays of the length of a piece for what is on the way. Made anew for each step they cost more than the steps do.
Spare = NDArray[np.float64]

# So many at a time stay in the processor's cache.
_PIECE = 16_384
_SPARE = 6
# Pieces of a curve that are narrower than this are looked up one by one.
_NARROW = 0.05
# Added before something is divided by, which is as it was then unless it was nothing.
_TINY = 1e-200
# A reach that is nothing is taken for this one by the logarithm, which is slow with true nothing.
_FAINT = 1e-60


def shaped(feel: StickFeel, x: Samples, y: Samples) -> tuple[Samples, Samples]:
    """Positions after all of a feel but what depends on time, as `engine.shaping.stick_shape` does it one by one.

    Args:
        feel: the stick's.
        x, y: positions, -1 to 1, of equal length.

    Returns:
        The shaped positions, of that length; all of them within the unit circle.
    """
    return _by_pieces((_orient, _shape), feel, x, y)


def oriented(feel: StickFeel, x: Samples, y: Samples) -> tuple[Samples, Samples]:
    """Positions as the hand means them: rest in the middle, turned, inverted, squared off."""
    return _by_pieces((_orient,), feel, x, y)


def shaped_at(feel: StickFeel, x: float, y: float) -> tuple[float, float]:
    """The same as `shaped` for one position."""
    made_x, made_y = shaped(feel, np.array([x]), np.array([y]))
    return float(made_x[0]), float(made_y[0])


def response(feel: StickFeel, count: int) -> tuple[Samples, Samples]:
    """How far a stick is pushed to the right, from 0 to 1 in that many steps, and how far out that comes."""
    pushed = np.linspace(0.0, 1.0, count)
    out_x, out_y = shaped(feel, feel.rest_x + pushed * (1.0 - feel.rest_x), np.full(count, feel.rest_y))
    return pushed, np.hypot(out_x, out_y)


_Step = Callable[[StickFeel, Samples, Samples, Spare], None]


def _by_pieces(steps: Sequence[_Step], feel: StickFeel, x: Samples, y: Samples) -> tuple[Samples, Samples]:
    """What comes of positions by those steps, each of which works in place."""
    out_x, out_y = np.array(x, dtype=np.float64), np.array(y, dtype=np.float64)
    spare = np.empty((_SPARE, min(_PIECE, len(out_x))))
    for start in range(0, len(out_x), _PIECE):
        piece_x, piece_y = out_x[start : start + _PIECE], out_y[start : start + _PIECE]
        for step in steps:
            step(feel, piece_x, piece_y, spare[:, : len(piece_x)])
    return out_x, out_y


def _orient(feel: StickFeel, x: Samples, y: Samples, spare: Spare) -> None:
    """Rest in the middle, turned, inverted, squared off."""
    one, other = spare[:2]
    for values, rest in ((x, feel.rest_x), (y, feel.rest_y)):
        if rest:
            values -= rest
            np.clip(values, -np.inf, 0.0, out=one)
            one *= 1.0 / (1.0 + rest)
            np.clip(values, 0.0, np.inf, out=values)
            values *= 1.0 / (1.0 - rest)
            values += one
    if feel.rotation_degrees:
        angle = radians(feel.rotation_degrees)
        np.multiply(x, sin(angle), out=one)
        np.multiply(y, sin(angle), out=other)
        x *= cos(angle)
        x -= other
        y *= cos(angle)
        y += one
    for values, inverted in ((x, feel.invert_x), (y, feel.invert_y)):
        if inverted:
            np.negative(values, out=values)
    if feel.square_off:
        _square_off(feel.square_off, x, y, spare)


def _square_off(how_far: float, x: Samples, y: Samples, spare: Spare) -> None:
    longest, stretch = spare[:2]
    np.abs(x, out=longest)
    np.abs(y, out=stretch)
    np.maximum(longest, stretch, out=longest)
    longest += _TINY
    _radius(x, y, stretch, spare[2])
    stretch /= longest
    np.clip(stretch, 1.0, np.inf, out=stretch)  # in the middle too
    stretch *= abs(how_far)
    stretch += 1.0 - abs(how_far)
    if how_far < 0:
        np.reciprocal(stretch, out=stretch)
    x *= stretch
    y *= stretch


def _shape(feel: StickFeel, x: Samples, y: Samples, spare: Spare) -> None:
    """Dead zones, edge zone, curve, anti-dead zone, and what each axis has for itself."""
    radius, reach, moves = spare[:3]
    if feel.dead_zone_shape is not DeadZoneShape.RADIAL and feel.axial_dead_zone:
        _off_axis(x, feel.axial_dead_zone, radius)
        _off_axis(y, feel.axial_dead_zone, radius)
    dead = feel.dead_zone if feel.dead_zone_shape is not DeadZoneShape.AXIAL else 0.0
    span = max(1.0 - feel.edge_zone - dead, SHORTEST_SPAN)
    curve = response_curve(feel.power, feel.points)
    _radius(x, y, radius, reach)
    np.subtract(radius, dead, out=reach)
    reach *= 1.0 / span
    np.clip(reach, 0.0, 1.0, out=reach)
    jumps = bool(feel.anti_dead_zone) or (curve is not None and curve.at(0.0) > 0.0)
    if jumps:
        np.ceil(reach, out=moves)  # 1 outside the dead zone; without a jump nothing comes out there
    _bend(curve, reach, spare[3:])
    if feel.anti_dead_zone:
        reach *= 1.0 - feel.anti_dead_zone
        reach += feel.anti_dead_zone
    if jumps:
        reach *= moves
    if dead < REST_RADIUS:
        reach *= radius >= REST_RADIUS
    radius += _TINY
    reach /= radius
    x *= reach
    y *= reach
    for values, own in ((x, feel.x), (y, feel.y)):
        if own is not None:
            _shape_axis(own, values, spare)


def _shape_axis(feel: AxisFeel, values: Samples, spare: Spare) -> None:
    reach, before = spare[:2]
    if feel.dead_zone:
        _off_axis(values, feel.dead_zone, reach)
    curve = response_curve(feel.power, feel.points)
    if curve is None:
        return
    np.abs(values, out=reach)
    np.clip(reach, 0.0, 1.0, out=reach)
    np.add(reach, _TINY, out=before)
    _bend(curve, reach, spare[2:])
    reach /= before
    values *= reach


def _radius(x: Samples, y: Samples, radius: Samples, spare: Samples) -> None:
    """How far out positions are; they are near 1 or nothing, so that this need not be as careful as `hypot`."""
    np.multiply(x, x, out=radius)
    np.multiply(y, y, out=spare)
    radius += spare
    np.sqrt(radius, out=radius)


def _off_axis(values: Samples, band: float, spare: Samples) -> None:
    np.clip(values, -band, band, out=spare)
    values -= spare
    values *= 1.0 / (1.0 - band)


def _bend(curve: Curve | None, reach: Samples, spare: Spare) -> None:
    """Bends values from 0 to 1 by a response curve."""
    match curve:
        case None:
            pass
        case PowerCurve():
            _raise(curve.power, reach, spare[0])
        case MonotoneCubic():
            narrow = any(after - before < _NARROW for before, after in pairwise(curve.xs))
            (_look_pieces_up if narrow else _add_pieces_up)(curve, reach, spare)
            np.clip(reach, 0.0, 1.0, out=reach)
        case _:
            raise TypeError(curve)


def _raise(power: float, reach: Samples, spare: Samples) -> None:
    """As `np.power`, which takes four times as long for what is nothing."""
    np.ceil(reach, out=spare)
    np.clip(reach, _FAINT, 1.0, out=reach)
    np.log(reach, out=reach)
    reach *= power
    np.exp(reach, out=reach)
    reach *= spare


def _add_pieces_up(curve: MonotoneCubic, reach: Samples, spare: Spare) -> None:
    """The first piece goes on for ever; each later one adds what it has besides: they meet in value and slope."""
    total, along, more = spare[:3]
    value, slope, square, cube = curve.pieces[0]
    np.multiply(reach, cube, out=total)
    for coefficient in (square, slope):
        total += coefficient
        total *= reach
    total += value
    for index in range(1, len(curve.pieces)):
        border, width = curve.xs[index], curve.xs[index] - curve.xs[index - 1]
        (_, _, square_before, cube_before), (_, _, square, cube) = curve.pieces[index - 1 : index + 1]
        np.subtract(reach, border, out=along)
        np.clip(along, 0.0, np.inf, out=along)
        np.multiply(along, cube - cube_before, out=more)
        more += square - square_before - 3.0 * width * cube_before
        more *= along
        more *= along
        total += more
    reach[:] = total


def _look_pieces_up(curve: MonotoneCubic, reach: Samples, _spare: Spare) -> None:
    """Each value by its own piece: where narrow ones are steep, the sum above would lose too many digits."""
    index = np.searchsorted(curve.xs[1:-1], reach, side="right")
    starts, *parts = np.array([(x, *piece) for x, piece in zip(curve.xs, curve.pieces, strict=False)]).T
    along = reach - starts[index]
    value, slope, square, cube = (part[index] for part in parts)
    reach[:] = value + along * (slope + along * (square + along * cube))

"""Shaping of many stick positions at once, to apply a changed feel to recorded movements.

The cost is the number of passes over all positions. A feel is therefore compiled into the numbers of few steps, and
common factors are folded into a later multiplication.
"""

from __future__ import annotations

import os
from concurrent.futures import ThreadPoolExecutor
from functools import lru_cache
from math import cos, radians, sin

import numpy as np

from nub_shift.analysis.bending import PIECE, ZEROS, Spare, bend, number
from nub_shift.analysis.hands import Samples
from nub_shift.engine.shaping.stick_shape import REST_RADIUS, SHORTEST_SPAN
from nub_shift.engine.shaping.trimming import Trimming
from nub_shift.model.pad.trim import StickTrim
from nub_shift.model.profile.feel import AxisFeel, DeadZoneShape, StickFeel

# Added to divisors, which changes only those that are 0.
_TINY = number(1e-200)
_SIGN = np.array(-(2**63), dtype=np.int64)  # sign bit of a float
_SPARE = 6
_LINE = 8  # numbers in a cache line
_WORTH_SHARING = 4  # least number of pieces per core for which a thread pays off


def shaped(feel: StickFeel, x: Samples, y: Samples) -> tuple[Samples, Samples]:
    """Returns positions after the time-independent parts of a feel, as `engine.shaping.stick_shape` does.

    Args:
        feel: feel of the stick.
        x, y: positions, -1 to 1, of equal length.

    Returns:
        The shaped positions, of that length, within the unit circle apart from rounding.
    """
    return _by_pieces(feel, x, y, to_the_end=True)


def oriented(feel: StickFeel, x: Samples, y: Samples) -> tuple[Samples, Samples]:
    """Returns positions as meant by the hand: rotated, inverted, squared off."""
    return _by_pieces(feel, x, y, to_the_end=False)


def shaped_at(feel: StickFeel, x: float, y: float) -> tuple[float, float]:
    """Returns the result of `shaped` for one position."""
    made_x, made_y = shaped(feel, np.array([x]), np.array([y]))
    return float(made_x[0]), float(made_y[0])


def corrected(trim: StickTrim, x: float, y: float) -> tuple[float, float]:
    """Returns a position of a worn pad with its rest in the middle and its rim at 1."""
    return Trimming(trim).moved(x, y)


def response(feel: StickFeel, count: int) -> tuple[Samples, Samples]:
    """Returns the pushes to the right from 0 to 1 in `count` steps, and the shaped radius of each."""
    pushed = np.linspace(0.0, 1.0, count)
    out_x, out_y = shaped(feel, pushed, np.zeros(count))
    return pushed, np.hypot(out_x, out_y)


def _by_pieces(feel: StickFeel, x: Samples, y: Samples, to_the_end: bool) -> tuple[Samples, Samples]:
    """Returns positions, oriented or shaped `to_the_end`; large arrays on all cores."""
    orient, shape = _compiled(feel)
    made = _aligned(2, len(x))

    def work(start: int, end: int) -> None:
        spare = _aligned(_SPARE, min(PIECE, end - start))
        for at in range(start, end, PIECE):
            piece = made[:, at : min(at + PIECE, end)]
            rows = spare[:, : piece.shape[1]]
            orient.work(x[at : at + piece.shape[1]], y[at : at + piece.shape[1]], piece, rows)
            if to_the_end:
                shape.work(piece, rows)

    shares = len(x) // (_WORTH_SHARING * PIECE)
    if shares <= 1:
        work(0, len(x))
    else:
        shares = min(shares, len(os.sched_getaffinity(0)))
        borders = [len(x) * share // shares // _LINE * _LINE for share in range(shares)] + [len(x)]
        with ThreadPoolExecutor(shares) as pool:
            list(pool.map(work, borders[:-1], borders[1:]))  # NumPy releases the interpreter lock within a step
    return made[0], made[1]


def _aligned(rows: int, length: int) -> Samples:
    """Returns rows that begin at a cache line."""
    apart = -(-length // _LINE) * _LINE
    raw = np.empty(rows * apart + _LINE - 1)
    start = -(raw.ctypes.data // raw.itemsize) % _LINE
    return raw[start : start + rows * apart].reshape(rows, apart)[:, :length]


class _Orient:
    """Rotation, inversion and square-off."""

    def __init__(self, feel: StickFeel) -> None:
        angle = radians(feel.rotation_degrees)
        turn = np.array([[cos(angle), -sin(angle)], [sin(angle), cos(angle)]])
        turn *= [[-1.0 if inverted else 1.0] for inverted in (feel.invert_x, feel.invert_y)]
        self._turn = turn if not np.array_equal(turn, np.eye(2)) else None
        self._square = feel.square_off
        self._much, self._less = number(abs(feel.square_off)), number(1.0 - abs(feel.square_off))

    def work(self, x: Samples, y: Samples, made: Samples, spare: Spare) -> None:
        """Writes the oriented positions into the two rows of `made`."""
        if self._turn is None:
            made[0], made[1] = x, y
        else:
            rows = spare[:2]
            rows[0], rows[1] = x, y
            np.matmul(self._turn, rows, out=made)
        if self._square:
            self._square_off(made, spare)

    def _square_off(self, positions: Samples, spare: Spare) -> None:
        stretch, other, longest = spare[:3]
        np.multiply(positions, positions, out=spare[:2])
        np.maximum(stretch, other, out=longest)
        stretch += other
        longest += _TINY
        stretch /= longest
        np.sqrt(stretch, out=stretch)  # 1 on the axes, the root of 2 on the diagonals; 0 in the middle
        if self._square < 0:
            np.clip(stretch, 1.0, 2.0, out=stretch)
        stretch *= self._much
        stretch += self._less
        if self._square < 0:
            np.reciprocal(stretch, out=stretch)
        positions *= stretch


class _Shape:
    """Dead zones, edge zone, curve, anti-dead zone, and the settings of each axis."""

    def __init__(self, feel: StickFeel) -> None:
        band = feel.axial_dead_zone if feel.dead_zone_shape is not DeadZoneShape.RADIAL else 0.0
        self._band = (number(-band), number(band)) if band else None
        # Length of 1 after an axial dead zone; not rescaled, since the radius is bent anyway.
        wide = 1.0 - band
        dead = feel.dead_zone if feel.dead_zone_shape is not DeadZoneShape.AXIAL else 0.0
        span = max(1.0 - feel.edge_zone - dead, SHORTEST_SPAN)
        self._low, self._high = number(dead * wide), number((dead + span) * wide)
        self._rest = REST_RADIUS * wide if dead < REST_RADIUS else 0.0
        self._bend = bend(feel.power, feel.points, span * wide, feel.anti_dead_zone)
        self._axes = [_Axis(own) if own is not None else None for own in (feel.x, feel.y)]

    def work(self, positions: Samples, spare: Spare) -> None:
        """Shapes positions in two rows in place."""
        radius, reach, moves = spare[:3]
        if self._band is not None:
            positions.clip(*self._band, out=spare[:2])
            positions -= spare[:2]
        np.multiply(positions, positions, out=spare[:2])
        radius += reach
        np.sqrt(radius, out=radius)
        radius.clip(self._low, self._high, out=reach)
        reach -= self._low
        if self._bend.jumps:
            np.ceil(reach, out=moves)  # 1 outside the dead zone, whose width is at most 1
        bent = self._bend.bent(reach, spare[3:])
        if self._bend.jumps:
            bent *= moves
        if self._rest:
            bent *= radius >= self._rest
        radius += _TINY
        bent /= radius
        positions *= bent
        for values, own in zip(positions, self._axes, strict=True):
            if own is not None:
                own.work(values, spare)


class _Axis:
    """Dead zone and curve of one axis."""

    def __init__(self, feel: AxisFeel) -> None:
        self._dead = number(feel.dead_zone) if feel.dead_zone else None
        self._bend = bend(feel.power, feel.points, 1.0 - feel.dead_zone, 0.0)

    def work(self, values: Samples, spare: Spare) -> None:
        reach, moves = spare[:2]
        np.abs(values, out=reach)
        if self._dead is not None:
            reach -= self._dead
            np.maximum(reach, ZEROS[: len(reach)], out=reach)
        if self._bend.jumps:
            np.sign(reach, out=moves)
        bent = self._bend.bent(reach, spare[2:])
        if self._bend.jumps:
            bent *= moves
        _put_into(values, bent)


@lru_cache(maxsize=64)
def _compiled(feel: StickFeel) -> tuple[_Orient, _Shape]:
    return _Orient(feel), _Shape(feel)


def _put_into(values: Samples, sizes: Samples) -> None:
    """Replaces the magnitudes of values but not their signs; `np.copysign` takes twice as long."""
    bits = values.view(np.int64)
    bits &= _SIGN
    bits |= sizes.view(np.int64)

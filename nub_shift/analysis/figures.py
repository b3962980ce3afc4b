"""Figures of looking, moving and pulling over a piece of recorded movements."""

from __future__ import annotations

from dataclasses import dataclass
from functools import lru_cache
from itertools import pairwise

import numpy as np
from numpy.typing import NDArray

from nub_shift.analysis.hands import GRID_US, Piece, Samples, held_at
from nub_shift.analysis.reshaping import Motion, Turned, stage_pressed
from nub_shift.analysis.turning import SLOW_DPS
from nub_shift.engine.shaping.directions import SECTOR_WAYS
from nub_shift.engine.values import US_PER_SECOND
from nub_shift.model.profile.feel import Stage

# A stick is at rest over a quarter of a second within this radius and this range.
_BLOCK = 62
_REST_RADIUS = 0.12
_REST_SPAN = 0.1
# Radius at which a push begins and ends, and the radius that counts as a full push, for worn rims too.
_PUSH_RADIUS = 0.25
_FULL_PUSH = 0.75
_FULL = 0.95
# A reversal shorter than this after a turn counts as overshoot.
_BACK_S = 0.4
# A direction or stage that ends sooner was hardly intended.
SHORT_US = 60_000
# Rates in degrees a second below which a hand holds still, and above which it turns fast.
_STILL_DPS = 1.5
_FAST_DPS = 60.0
_MOST_ALPHA = 150.0
# Begin and end of a pull; repeated presses of a stage within one pull were intended once.
_PULL = Stage(on=0.1, off=0.05)


@dataclass(frozen=True)
class LookFigures:
    """Figures of looking with a stick.

    Attributes:
        speed: mean speed of the moving pointer, in counts a second.
        jitter: counts a minute while the stick is at rest; None if it never was.
        pushes, full: number of pushes about to the rim, and of those that reached full speed.
        full_s: median time to full speed; None without any.
        overshoot: part of the way that was reversed at once.
    """

    speed: float
    jitter: float | None
    pushes: int
    full: int
    full_s: float | None
    overshoot: float


def look_figures(piece: Piece, motion: Motion, across: float, down: float) -> LookFigures:
    """Returns the figures of looking over a piece with its motion."""
    ticks, _ = piece.grid
    rests, pushes = _hand(piece)
    held = held_at(motion.t_us, ticks)
    out_x, out_y = motion.x[held], motion.y[held]
    vx, vy = out_x * across, out_y * down
    speed = np.hypot(vx, vy)
    moves = speed > 0.0
    tick_s = GRID_US / US_PER_SECOND
    jitter = float(speed[: len(rests)][rests].sum() * tick_s / (rests.sum() * tick_s) * 60.0) if rests.any() else None
    reached = np.hypot(out_x, out_y) >= _FULL
    waits = [int(reached[start:end].argmax()) * tick_s for start, end in pushes if reached[start:end].any()]
    main = vx if np.abs(vx).sum() >= np.abs(vy).sum() else vy
    return LookFigures(
        float(speed[moves].mean()) if moves.any() else 0.0,
        jitter,
        len(pushes),
        len(waits),
        float(np.median(waits)) if waits else None,
        _overshoot(main),
    )


@dataclass(frozen=True)
class WalkFigures:
    """Figures of a stick's directions.

    Attributes:
        shares: part of the time in each sector, clockwise from up.
        changes: changes of direction a minute.
        short: presses of a direction below 60 ms.
    """

    shares: tuple[float, ...]
    changes: float
    short: int


def walk_figures(piece: Piece, found: NDArray[np.int64]) -> WalkFigures:
    """Returns the figures of moving by directions over a piece."""
    lengths = np.diff(piece.t_us, append=piece.t_us[-1:])
    total = max(float(lengths.sum()), 1.0)
    shares = tuple(float(lengths[found == sector].sum()) / total for sector in range(len(SECTOR_WAYS)))
    starts = np.flatnonzero(np.diff(found, prepend=-1))
    times, kept = piece.t_us[starts], found[starts]
    took = np.diff(times, append=piece.t_us[-1:])
    between = int(((kept[1:] >= 0) & (kept[:-1] >= 0)).sum())
    short = int(((kept >= 0) & (took < SHORT_US))[:-1].sum())
    return WalkFigures(shares, between * 60.0 * US_PER_SECOND / total, short)


@dataclass(frozen=True)
class PullFigures:
    """Figures of a stage of a trigger or sensor.

    Attributes:
        pulls: number of pulls.
        presses: begin and end of each press of the stage, in microseconds.
        missed: pulls that did not press the stage.
        doubled: pulls that pressed it more than once.
    """

    pulls: int
    presses: tuple[tuple[int, int], ...]
    missed: int
    doubled: int


def pull_figures(piece: Piece, stage: Stage, ease: float | None, side: int) -> PullFigures:
    """Returns the figures of a stage over a piece of one channel; arguments as for `what_if.stage_pressed`."""
    presses = _runs(stage_pressed(piece, stage, ease, side))
    pulls = _runs(stage_pressed(piece, _PULL, None, side))
    begins = np.array([start for start, _ in presses], dtype=np.int64)
    counts = [int(((begins >= start) & (begins < end)).sum()) for start, end in pulls]
    last = len(piece.t_us) - 1
    return PullFigures(
        len(pulls),
        tuple((int(piece.t_us[start]), int(piece.t_us[min(end, last)])) for start, end in presses),
        sum(count == 0 for count in counts),
        sum(count > 1 for count in counts),
    )


@dataclass(frozen=True)
class TurnFigures:
    """Figures of looking by turning the pad.

    Attributes:
        shake: speed of the view while the hand held still, in degrees a second; None if it never did.
        slow: degrees of the view per degree of the hand in slow turns; None without any.
        fast: likewise in fast turns.
    """

    shake: float | None
    slow: float | None
    fast: float | None


def turn_figures(made: Turned) -> TurnFigures:
    """Returns the figures of looking by motion over a piece."""
    still = made.hand < _STILL_DPS
    slow = (made.hand >= _STILL_DPS) & (made.hand < SLOW_DPS)
    fast = made.hand >= _FAST_DPS
    ratios = [float(made.view[part].sum() / made.hand[part].sum()) if part.any() else None for part in (slow, fast)]
    return TurnFigures(float(made.view[still].mean()) if still.any() else None, *ratios)


def usual_place(piece: Piece) -> float:
    """Returns the median radius of a deflected stick; 0 if it was never deflected."""
    radius = np.hypot(*piece.values.T)
    out = radius[radius > 0.2]
    return float(np.median(out)) if len(out) else 0.0


def density(piece: Piece, side: int, colour: tuple[int, int, int]) -> bytes:
    """Returns a picture of the time that a stick spent in each cell of a square, row by row from the top, in a colour.

    Opacity grows with the logarithm of the time, so that minutes at rest do not outweigh the rest.

    Returns:
        Pixels of 32 bits, premultiplied, with alpha, red, green and blue as in a word.
    """
    lasted = np.diff(piece.t_us, append=piece.t_us[-1:]) / 1_000.0
    x, y = piece.values.T
    found, _, _ = np.histogram2d(y, x, bins=side, range=((-1.0, 1.0), (-1.0, 1.0)), weights=lasted)
    strong = np.log1p(found)
    most = strong.max()
    alpha = (strong * (_MOST_ALPHA / most if most > 0.0 else 0.0)).astype(np.uint32)
    red, green, blue = (part * alpha // 255 for part in colour)
    pixels: NDArray[np.uint32] = ((alpha << 24) | (red << 16) | (green << 8) | blue).astype(np.uint32)
    return pixels.tobytes()


@lru_cache(maxsize=4)
def _hand(piece: Piece) -> tuple[NDArray[np.bool_], list[tuple[int, int]]]:
    """Returns whether the stick was at rest at each tick, and the ranges of ticks with a full push.

    Cached, since the result does not depend on the feel and many feels are compared.
    """
    _, raw = piece.grid
    radius = np.hypot(*raw.T)
    pushes = [run for run in _runs(radius >= _PUSH_RADIUS) if radius[slice(*run)].max() >= _FULL_PUSH]
    return _at_rest(raw), pushes


def _at_rest(raw: Samples) -> NDArray[np.bool_]:
    """Returns whether the stick is at rest at each tick, up to the last whole block."""
    blocks = raw[: len(raw) // _BLOCK * _BLOCK].reshape(-1, _BLOCK, 2)
    spans = blocks.max(axis=1) - blocks.min(axis=1)
    middle = np.median(blocks, axis=1)
    rests = (spans.max(axis=1, initial=0.0) < _REST_SPAN) & (np.hypot(middle[:, 0], middle[:, 1]) < _REST_RADIUS)
    return np.repeat(rests, _BLOCK)


def _runs(true: NDArray[np.bool_]) -> list[tuple[int, int]]:
    """Returns begin and end of each run of true values."""
    borders = np.flatnonzero(np.diff(true.astype(np.int8), prepend=0, append=0))
    return [(int(start), int(end)) for start, end in zip(borders[::2], borders[1::2], strict=True)]


def _overshoot(speed: Samples) -> float:
    """Returns the part of a way that is reversed right after a turn of at least twice its length."""
    tick_s = GRID_US / US_PER_SECOND
    turns = [
        (start, end, float(speed[start:end].sum()) * tick_s)
        for moves in (speed > 0.0, speed < 0.0)
        for start, end in _runs(moves)
    ]
    turns.sort()
    whole = sum(abs(way) for _, _, way in turns)
    back = sum(
        abs(way)
        for (_, before_end, before), (start, end, way) in pairwise(turns)
        if way * before < 0.0
        and abs(way) <= abs(before) / 2
        and (start - before_end) * tick_s <= _BACK_S / 2
        and (end - start) * tick_s <= _BACK_S
    )
    return back / whole if whole else 0.0

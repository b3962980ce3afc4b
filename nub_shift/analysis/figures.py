"""How looking, moving and pulling went over a piece of what hands did, in figures."""

from __future__ import annotations

from dataclasses import dataclass
from functools import lru_cache
from itertools import pairwise

import numpy as np
from numpy.typing import NDArray

from nub_shift.analysis.hands import GRID_US, Piece, Samples, held_at
from nub_shift.analysis.turning import SLOW_DPS
from nub_shift.analysis.what_if import Motion, Turned, stage_pressed
from nub_shift.engine.shaping.directions import SECTOR_WAYS
from nub_shift.engine.values import US_PER_SECOND
from nub_shift.model.profile.feel import Stage

# A stick is taken to be at rest over a quarter of a second in which it stays this near to the middle, and this still.
_BLOCK = 62
_REST_RADIUS = 0.12
_REST_SPAN = 0.1
# A push begins where the stick leaves this radius, and ends where it is back. One that gets this far is meant to be
# full, also with a rim that is worn.
_PUSH_RADIUS = 0.25
_FULL_PUSH = 0.75
_FULL = 0.95
# A reversal shorter than this after a turn counts as overshoot.
_BACK_S = 0.4
# A direction or stage that is left this soon was hardly meant.
SHORT_US = 60_000
# A hand that turns slower than this holds still, and one that turns faster than that turns fast, in degrees a second.
_STILL_DPS = 1.5
_FAST_DPS = 60.0
_MOST_ALPHA = 150.0
# A pull begins and ends there; what presses a stage again within one pull was meant once.
_PULL = Stage(on=0.1, off=0.05)


@dataclass(frozen=True)
class LookFigures:
    """Looking with a stick, in figures.

    Attributes:
        speed: the mean of the pointer's speed while it moves, in counts a second.
        jitter: counts a minute while the stick is at rest; None if it never was.
        pushes, full: how often the stick was pushed about all the way, and how often that reached full speed.
        full_s: how long that took, the median; None where it never came to that.
        overshoot: the part of the way that went back at once.
    """

    speed: float
    jitter: float | None
    pushes: int
    full: int
    full_s: float | None
    overshoot: float


def look_figures(piece: Piece, motion: Motion, across: float, down: float) -> LookFigures:
    """How looking went over a piece, with what came of it."""
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
    """Directions of a stick, in figures.

    Attributes:
        shares: the part of the time in which each sector was pressed, clockwise from up.
        changes: from one direction to another, a minute.
        short: presses of a direction that were over within 60 ms.
    """

    shares: tuple[float, ...]
    changes: float
    short: int


def walk_figures(piece: Piece, found: NDArray[np.int64]) -> WalkFigures:
    """How moving by directions went over a piece."""
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
    """A stage of a trigger or sensor, in figures.

    Attributes:
        pulls: how often it was pulled.
        presses: from when to when the stage was pressed, in microseconds.
        missed: pulls that did not press it.
        doubled: pulls that pressed it more than once.
    """

    pulls: int
    presses: tuple[tuple[int, int], ...]
    missed: int
    doubled: int


def pull_figures(piece: Piece, stage: Stage, ease: float | None, side: int) -> PullFigures:
    """How a stage went over a piece of one channel; as `what_if.stage_pressed`."""
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
    """Looking by turning the pad, in figures.

    Attributes:
        shake: how fast the view went while the hand hardly turned, in degrees a second; None if it always did.
        slow: degrees of the view for each of the hand in slow turns; None if there were none.
        fast: the same in fast ones.
    """

    shake: float | None
    slow: float | None
    fast: float | None


def turn_figures(made: Turned) -> TurnFigures:
    """How looking by motion went over a piece."""
    still = made.hand < _STILL_DPS
    slow = (made.hand >= _STILL_DPS) & (made.hand < SLOW_DPS)
    fast = made.hand >= _FAST_DPS
    ratios = [float(made.view[part].sum() / made.hand[part].sum()) if part.any() else None for part in (slow, fast)]
    return TurnFigures(float(made.view[still].mean()) if still.any() else None, *ratios)


def usual_place(piece: Piece) -> float:
    """How far out a stick usually is when it is out: the median of its radius, or 0 if it never was."""
    radius = np.hypot(*piece.values.T)
    out = radius[radius > 0.2]
    return float(np.median(out)) if len(out) else 0.0


def density(piece: Piece, side: int, colour: tuple[int, int, int]) -> bytes:
    """Returns a picture of the time that a stick spent in each cell of a square, rows from above, in a colour.

    The longer it was there the less transparent, by the logarithm: the minutes at rest do not drown the rest.

    Returns:
        Pixels of 32 bits, premultiplied, as red, green and blue (0 to 255) and their alpha lie in a word.
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
    """By tick whether the stick was at rest, and from where to where it was pushed about all the way.

    No feel makes a difference to that, and many are held against the same piece.
    """
    _, raw = piece.grid
    radius = np.hypot(*raw.T)
    pushes = [run for run in _runs(radius >= _PUSH_RADIUS) if radius[slice(*run)].max() >= _FULL_PUSH]
    return _at_rest(raw), pushes


def _at_rest(raw: Samples) -> NDArray[np.bool_]:
    """By tick whether the stick is at rest, up to the last whole block."""
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
    """The part of a way that is gone back right after a turn of at least twice its length."""
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

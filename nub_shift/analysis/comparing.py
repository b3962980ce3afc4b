"""Changes of a pad since an earlier measurement, in words."""

from __future__ import annotations

from collections.abc import Iterator, Sequence
from datetime import date
from math import hypot

from nub_shift.model.pad.measures import Measured, StickRest, StickRim, last_motion, last_rest, last_rim
from nub_shift.translation import day_text, tr

# Smaller changes occur between measurements on the same day.
_RATIO = 1.5
_LEAST = 0.004
_MOVED = 0.01
_REACH = 0.02
_TURN_DPS = 0.2


def stick_changes(measured: Sequence[Measured], stick: str) -> list[str]:
    """Returns the changes of a stick between the last two measurements; empty if none can be felt."""
    rest, rim = last_rest(measured, stick), last_rim(measured, stick)
    found: list[str] = []
    if len(rest) > 1:
        found += _rest_changes(rest[0][1], rest[1][1], rest[1][0])
    if len(rim) > 1:
        found += _rim_changes(rim[0][1], rim[1][1], rim[1][0])
    return found


def motion_changes(measured: Sequence[Measured]) -> list[str]:
    """Returns the changes of the motion sensors between the last two measurements."""
    motion = last_motion(measured)
    if len(motion) < 2:
        return []
    (_, now), (on, before) = motion[:2]
    moved = max(abs(a - b) for a, b in zip(now.bias_dps, before.bias_dps, strict=True))
    found = (
        [tr("Its rest has moved by {moved:.1f} degrees a second since {day}", moved=moved, day=day_text(on))]
        if moved >= _TURN_DPS
        else []
    )
    return [*found, *_grown(tr("Noise"), now.noise_dps, before.noise_dps, 0.05, on)]


def _rest_changes(now: StickRest, before: StickRest, on: date) -> Iterator[str]:
    yield from _grown(tr("Drift"), now.drift, before.drift, _LEAST, on)
    yield from _grown(tr("Noise"), now.noise, before.noise, _LEAST, on)
    moved = hypot(now.x, now.y) - hypot(before.x, before.y)
    if abs(moved) >= _MOVED:
        words = (
            tr("The stick rests {moved:.2f} further from the middle than on {day}", moved=moved, day=day_text(on))
            if moved > 0
            else tr("The stick rests {moved:.2f} closer to the middle than on {day}", moved=-moved, day=day_text(on))
        )
        yield words


def _rim_changes(now: StickRim, before: StickRim, on: date) -> Iterator[str]:
    lost = min(before.reach) - min(now.reach)
    if abs(lost) >= _REACH:
        yield (
            tr("Its shortest range is {lost:.2f} less than on {day}", lost=lost, day=day_text(on))
            if lost > 0
            else tr("Its shortest range is {gained:.2f} more than on {day}", gained=-lost, day=day_text(on))
        )


def _grown(what: str, now: float, before: float, least: float, on: date) -> Iterator[str]:
    """Yields a change of a number beyond chance; values below `least` cannot be felt."""
    if max(now, before) < least:
        return
    ratio = now / max(before, least / 4)
    if ratio >= _RATIO:
        yield (
            tr("{what} has doubled since {day}", what=what, day=day_text(on))
            if 1.8 <= ratio < 2.3
            else tr(
                "{what} has become {ratio:.1f} times as large since {day}", what=what, ratio=ratio, day=day_text(on)
            )
        )
    elif ratio <= 1 / _RATIO:
        yield tr("{what} is less than on {day}", what=what, day=day_text(on))

"""Checks of relations between the numbers of a feel, in the profile and in each of its layers."""

from __future__ import annotations

from collections.abc import Iterator
from dataclasses import replace
from itertools import pairwise
from typing import assert_never

from nub_shift.model.controls import WAYS
from nub_shift.model.problems import Problem
from nub_shift.model.profile.feel import (
    Feel,
    FeelChange,
    MotionFeel,
    SliderFeel,
    Stage,
    StickFeel,
    TriggerFeel,
    changed_feel,
)
from nub_shift.model.profile.profile import Profile
from nub_shift.model.references.name_checks import duplicates
from nub_shift.translation import tr


def feel_problems(profile: Profile) -> Iterator[Problem]:
    """Yields the faults of the profile's feel, and those that a layer or a pad adds."""
    known = list(_feel(profile.feel))
    yield from known
    unchanged = FeelChange()
    changes = [(f"layers.{layer.id}", layer.feel) for layer in profile.layers[1:]]
    changes += [(f"pads[{index}]", pad.feel) for index, pad in enumerate(profile.pads)]
    for place, change in changes:
        if change == unchanged:
            continue
        for found in _feel(changed_feel(profile.feel, change)):
            if found not in known:
                yield replace(found, path=f"{place}.{found.path}")
    for identity in duplicates(pad.identity for pad in profile.pads):
        yield Problem("pads", tr("{identity!r} appears twice", identity=identity), tr("name each pad once"))


def _feel(feel: Feel) -> Iterator[Problem]:
    """Yields the faults of each control's feel, by its type, so that no control is left out."""
    for name in Feel.__struct_fields__:
        control: StickFeel | TriggerFeel | SliderFeel | MotionFeel = getattr(feel, name)
        match control:
            case StickFeel():
                yield from _stick_feel(f"feel.{name}", control)
            case TriggerFeel() | SliderFeel():
                for field in control.__struct_fields__:
                    stage = getattr(control, field)
                    if isinstance(stage, Stage):
                        yield from _stage(f"feel.{name}.{field}", stage.on, stage.off)
            case MotionFeel():
                yield from _motion_feel(control)
            case _:
                assert_never(control)


def _motion_feel(motion: MotionFeel) -> Iterator[Problem]:
    if not motion.slow_dps < motion.fast_dps:
        yield Problem(
            "feel.motion.fast_dps",
            tr("is not above slow_dps"),
            tr("expected more than {slow_dps:g}", slow_dps=motion.slow_dps),
        )
    tilt = motion.tilt
    if not tilt.off_degrees < tilt.on_degrees:
        path = "feel.motion.tilt.off_degrees"
        yield Problem(
            path, tr("is not below on_degrees"), tr("expected less than {on_degrees:g}", on_degrees=tilt.on_degrees)
        )
    if not tilt.dead_degrees < tilt.full_degrees:
        path = "feel.motion.tilt.dead_degrees"
        yield Problem(
            path,
            tr("is not below full_degrees"),
            tr("expected less than {full_degrees:g}", full_degrees=tilt.full_degrees),
        )


def _stick_feel(path: str, stick: StickFeel) -> Iterator[Problem]:
    directions = stick.directions
    yield from _stage(f"{path}.directions", directions.on, directions.off)
    for way in WAYS:
        own = getattr(directions, way)
        if own is not None:
            yield from _stage(f"{path}.directions.{way}", own.on, own.off)
    yield from _stage(f"{path}.edge", stick.edge.on, stick.edge.off)
    if stick.dead_zone + stick.edge_zone >= 1.0:
        yield Problem(path, tr("dead zone and edge zone meet"), tr("expected their sum to be below 1"))
    narrow = min(directions.diagonal_degrees, 90 - directions.diagonal_degrees)
    if 2 * directions.hysteresis_degrees >= narrow:
        wrong = tr("is as wide as a direction")
        yield Problem(
            f"{path}.directions.hysteresis_degrees", wrong, tr("expected less than {narrow:g}", narrow=narrow / 2)
        )
    yield from _points(f"{path}.points", stick.points)
    for name, axis in (("x", stick.x), ("y", stick.y)):
        if axis is not None:
            yield from _points(f"{path}.{name}.points", axis.points)


def _points(path: str, points: tuple[tuple[float, float], ...]) -> Iterator[Problem]:
    if any(not 0 <= number <= 1 for point in points for number in point):
        yield Problem(path, tr("a point lies outside"), tr("expected numbers from 0 to 1"))
    elif any(x0 >= x1 or y0 > y1 for (x0, y0), (x1, y1) in pairwise(points)):
        yield Problem(path, tr("the curve falls or goes back"), tr("expected rising first numbers, no falling second"))


def _stage(path: str, on: float, off: float) -> Iterator[Problem]:
    if not off < on:
        yield Problem(
            path, tr("off ({off:g}) is not below on ({on:g})", off=off, on=on), tr("expected off to be below on")
        )
    if off <= 0:
        yield Problem(path, tr("off is 0 and would never be reached from above"), tr("expected off to be above 0"))

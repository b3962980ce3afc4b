"""What corrects a worn pad: its rest is the middle, its rim is full, and what only trembles is at rest."""

from __future__ import annotations

from itertools import count
from math import cos, hypot, pi, sin
from random import Random

import pytest
from hypothesis import given
from hypothesis import strategies as st
from msgspec.structs import replace

from nub_shift.bench.random_profiles import random_profile
from nub_shift.engine.engine import Engine
from nub_shift.engine.program import Program
from nub_shift.engine.shaping.trimming import Trimming
from nub_shift.engine.values import Frame
from nub_shift.model.controls import AT_REST
from nub_shift.model.pad.measures import RIM_ANGLES
from nub_shift.model.pad.trim import PadTrim, StickTrim, stick_feel_on
from nub_shift.model.profile.feel import DeadZoneShape, StickFeel
from nub_shift.store.profile_files import parse_profile
from tests.engine.playing import START_US, profile_text

RESTS = st.tuples(st.floats(-0.3, 0.3), st.floats(-0.3, 0.3))


@pytest.mark.parametrize(
    ("trim", "raw", "placed"),
    [
        (StickTrim(rest_x=0.2), (0.2, 0.0), (0.0, 0.0)),
        (StickTrim(rest_x=0.2), (1.0, 0.0), (1.0, 0.0)),
        (StickTrim(rest_x=0.2), (-1.0, 0.0), (-1.0, 0.0)),
        (StickTrim(dead_zone=0.1), (0.06, 0.07), (0.0, 0.0)),
        (StickTrim(dead_zone=0.1), (0.0, -0.2), (0.0, -0.2)),
        (StickTrim(reach=(0.8,) * RIM_ANGLES), (0.0, -0.8), (0.0, -1.0)),
    ],
)
def test_where_a_worn_stick_stands(trim: StickTrim, raw: tuple[float, float], placed: tuple[float, float]) -> None:
    assert Trimming(trim).place(*raw) == pytest.approx(placed, abs=1e-9)


@given(rest=RESTS, reach=st.lists(st.floats(0.6, 1.2), min_size=4, max_size=4), angle=st.floats(0.0, 2 * pi))
def test_the_rim_that_was_measured_is_full_from_wherever_the_stick_rests(
    rest: tuple[float, float], reach: list[float], angle: float
) -> None:
    def radius(at: float) -> float:  # smooth, as a rim is
        return (reach[0] + reach[1]) / 2 + 0.1 * (reach[2] - reach[3]) * cos(2 * at)

    rim = tuple(radius(2 * pi * index / RIM_ANGLES) for index in range(RIM_ANGLES))
    trimming = Trimming(StickTrim(rest_x=rest[0], rest_y=rest[1], reach=rim))
    x, y = trimming.place(radius(angle) * sin(angle), -radius(angle) * cos(angle))
    assert hypot(x, y) == pytest.approx(1.0, abs=0.03)


@given(seed=st.integers(0, 2000), rest=RESTS, noise=st.floats(0.0, 0.1))
def test_no_profile_does_anything_while_a_worn_pad_lies_there(
    seed: int, rest: tuple[float, float], noise: float
) -> None:
    """A profile never brings another pad's rest along, so any pad that its own card corrects lies still."""
    trim = PadTrim({"left_stick": StickTrim(rest_x=rest[0], rest_y=rest[1], dead_zone=round(noise * 1.3, 3))})
    program, random = Program(random_profile(Random(seed))), Random(seed)
    for one, values in ((trim, rest), (PadTrim(), (0.0, 0.0))):
        engine = Engine(program, trim=one)
        outputs = []
        for step in range(30):
            trembles = random.uniform(0, noise if one is trim else 0.0), random.uniform(0, 2 * pi)
            x, y = values[0] + trembles[0] * sin(trembles[1]) * 0.6, values[1] + trembles[0] * cos(trembles[1]) * 0.6
            frame = AT_REST | {"left_stick.x": x, "left_stick.y": y}
            outputs += engine.feed(Frame(START_US + step * 4_000, frame))
        outputs += engine.advance(START_US + 500_000)
        assert outputs == []


@given(st.floats(0.0, 0.5), st.floats(0.0, 0.5), st.sampled_from(DeadZoneShape))
def test_the_larger_dead_zone_of_pad_and_profile_counts(own: float, pads: float, shape: DeadZoneShape) -> None:
    feel = StickFeel(dead_zone=own, axial_dead_zone=own, dead_zone_shape=shape)
    played = stick_feel_on(StickTrim(dead_zone=pads), feel)
    zone = played.axial_dead_zone if shape is DeadZoneShape.AXIAL else played.dead_zone
    assert zone == max(own, pads)
    assert replace(played, dead_zone=own, axial_dead_zone=own) == feel


def test_another_pad_that_comes_brings_its_own_correction() -> None:
    text = profile_text("left_stick = { pointer = { x = 1000, y = 1000 } }", rest="[feel.left_stick]\ndead_zone = 0.0")
    engine = Engine(Program(parse_profile(text)))
    now = count(START_US, 100_000)
    engine.fit(PadTrim({"left_stick": StickTrim(rest_x=0.05, dead_zone=0.02)}))
    worn = {"left_stick.x": 0.06, "left_stick.y": 0.0}
    assert engine.feed(Frame(next(now), worn)) + engine.advance(next(now)) == []
    engine.forget_pad(next(now))
    engine.fit(PadTrim())
    engine.feed(Frame(next(now), {"left_stick.x": 0.0, "left_stick.y": 0.0}))
    assert engine.advance(next(now)) == []
    engine.feed(Frame(next(now), worn))
    assert engine.advance(next(now)), "on a sound pad the same is a move of the hand"

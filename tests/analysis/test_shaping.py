"""Shaping for many positions at once, held to the engine's for one."""

from __future__ import annotations

import numpy as np
from hypothesis import given
from hypothesis import strategies as st

from nub_shift.analysis.bending import PIECE
from nub_shift.analysis.shaping import oriented, shaped
from nub_shift.engine.shaping.stick_shape import StickShape
from nub_shift.model.profile.feel import AxisFeel, DeadZoneShape, Feel, StickFeel, sound_feel

PARTS = st.floats(0.0, 1.0)
POWERS = st.floats(0.2, 5.0)
POINTS = st.lists(st.tuples(PARTS, PARTS), max_size=4).map(
    lambda points: tuple(zip(sorted({x for x, _ in points}), sorted(y for _, y in points), strict=False))
)
AXES = st.none() | st.builds(AxisFeel, dead_zone=st.floats(0.0, 0.9), power=POWERS, points=POINTS)
FEELS = st.builds(
    StickFeel,
    dead_zone=st.floats(0.0, 0.9),
    dead_zone_shape=st.sampled_from(DeadZoneShape),
    axial_dead_zone=st.floats(0.0, 0.9),
    edge_zone=st.floats(0.0, 0.5),
    anti_dead_zone=st.floats(0.0, 0.5),
    power=POWERS,
    points=POINTS,
    rotation_degrees=st.floats(-180.0, 180.0),
    invert_x=st.booleans(),
    invert_y=st.booleans(),
    square_off=st.floats(-1.0, 1.0),
    x=AXES,
    y=AXES,
)


@given(feel=FEELS, seed=st.integers(0, 2**32 - 1))
def test_every_feel_shapes_many_positions_as_the_engine_does_each(feel: StickFeel, seed: int) -> None:
    feel = sound_feel(Feel(left_stick=feel)).left_stick
    random = np.random.default_rng(seed)
    x, y = random.uniform(-1.0, 1.0, (2, 200)) * random.choice([0.0, 1e-7, 0.1, 1.0], 200)
    shape = StickShape(feel)
    wanted = [shape.shape(*shape.oriented(*point)) for point in zip(x.tolist(), y.tolist(), strict=True)]
    made = np.array(shaped(feel, x, y)).T
    # A zone's border may round to either side: there what comes next to it is as right.
    step = np.abs(np.array(shaped(feel, x * (1 + 1e-12), y * (1 + 1e-12))).T - made).max(axis=1)
    assert np.all(np.abs(made - np.array(wanted)).max(axis=1) <= 1e-9 + step)


def test_where_a_position_stands_among_many_changes_nothing() -> None:
    feel = StickFeel(rotation_degrees=5.0, square_off=0.5, points=((0.4, 0.2),), x=AxisFeel(power=2.0))
    many = 9 * PIECE + 7  # enough for several cores
    x, y = np.random.default_rng(3).uniform(-1.0, 1.0, (2, many))
    at = [0, PIECE - 1, PIECE, *range(many // 2 - 9, many // 2 + 9), many - 8, many - 1]
    for work in (shaped, oriented):
        assert np.allclose(np.array(work(feel, x, y))[:, at], work(feel, x[at], y[at]), rtol=0.0, atol=1e-15)
        assert work(feel, x[:0], y[:0])[0].size == 0

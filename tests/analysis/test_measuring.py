"""Measuring, held against pads of which everything is known."""

from __future__ import annotations

from datetime import date
from math import cos, hypot, pi, radians, sin

import numpy as np
import pytest

from nub_shift.analysis.comparing import motion_changes, stick_changes
from nub_shift.analysis.measuring import TooLittleData, measure_motion, measure_rest, measure_rim
from nub_shift.engine.shaping.stick_shape import StickShape
from nub_shift.engine.values import Frame
from nub_shift.model.pad.measures import REST_MARGIN, Measured, MotionRest, StickRest, StickRim
from nub_shift.model.profile.feel import StickFeel
from nub_shift.pads.made_up.shapes import Doing, simulated_pad

SECONDS = 5.0


def stick(points: list[tuple[float, float]]) -> list[Frame]:
    """A frame every 4 ms with a stick at these points."""
    return [Frame(4_000 * at, {"left_stick.x": x, "left_stick.y": y}) for at, (x, y) in enumerate(points)]


def rim(reach_at: dict[int, float]) -> list[Frame]:
    """Twice round a rim whose reach is known at each 45 degrees."""
    angles = np.arange(0, 720, 1.5)
    known = sorted(reach_at)
    reach = np.interp(angles % 360, [*known, 360], [*(reach_at[angle] for angle in known), reach_at[0]])
    return stick([(r * sin(radians(angle)), -r * cos(radians(angle))) for angle, r in zip(angles, reach, strict=True)])


def test_noise_place_and_drift_at_rest_are_found() -> None:
    made = np.random.default_rng(4)
    count = round(SECONDS * 250)
    xs = 0.05 + made.normal(0, 0.004, count) + np.linspace(0, 0.02, count)
    rest = measure_rest(stick(list(zip(xs, made.normal(0, 0.004, count), strict=True))), "left_stick", SECONDS)
    assert (rest.x, rest.y) == pytest.approx((0.06, 0.0), abs=0.002)
    assert rest.noise == pytest.approx(0.006, abs=0.003)
    assert rest.drift == pytest.approx(0.015, abs=0.003)
    assert rest.dead_zone >= REST_MARGIN * (0.06 + rest.spread)
    shape = StickShape(StickFeel(dead_zone=rest.dead_zone))
    assert all(shape.shape(x, 0.0) == (0.0, 0.0) for x in xs)


def test_a_stick_that_reports_nothing_more_is_a_quiet_one() -> None:
    rest = measure_rest(stick([(0.01, 0.0)]), "left_stick", SECONDS)
    assert (rest.noise, rest.drift) == (0.0, 0.0)
    assert rest.dead_zone == pytest.approx(0.015)


@pytest.mark.parametrize(
    ("straight", "diagonal", "square_off", "edge_zone"),
    [(1.0, 1.0, 0.0, 0.02), (0.9, 0.9, 0.0, 0.12), (1.0, 2**0.5, -0.85, 0.02), (1.0, 0.85, 0.36, 0.15)],
)
def test_the_rim_gives_edge_zone_and_square_off(
    straight: float, diagonal: float, square_off: float, edge_zone: float
) -> None:
    found = measure_rim(rim({at: straight if at % 90 == 0 else diagonal for at in range(0, 360, 45)}), "left_stick")
    assert found.square_off == pytest.approx(square_off, abs=0.06)
    assert found.edge_zone == pytest.approx(edge_zone, abs=0.03)
    shape = StickShape(StickFeel(square_off=found.square_off, edge_zone=found.edge_zone, dead_zone=0.0))
    for angle in range(0, 360, 45):
        reach = straight if angle % 90 == 0 else diagonal
        x, y = shape.shape(*shape.oriented(reach * sin(angle * pi / 180), -reach * cos(angle * pi / 180)))
        assert hypot(x, y) == pytest.approx(1.0, abs=0.02)


def test_bias_and_noise_of_motion_are_found() -> None:
    motion = measure_motion(simulated_pad("halves", 0, doing=Doing.REST).read(5_000_000))
    assert motion.bias_dps == pytest.approx((0.0, 0.7, 0.0), abs=0.02)
    assert motion.noise_dps == pytest.approx(0.1, abs=0.02)
    assert 0.3 < motion.gate_dps < 0.6


def test_what_cannot_be_measured_is_said() -> None:
    for wrong, part in (
        (lambda: measure_rest(stick([(0.0, 0.0)]), "left_stick", 0.5), "too short"),
        (lambda: measure_rest(stick([(0.0, 0.0)]), "right_stick", SECONDS), "this pad has no right stick"),
        (lambda: measure_rest(stick([(at / 50, 0.0) for at in range(50)]), "left_stick", 2.0), "was moved"),
        (lambda: measure_rim(rim(dict.fromkeys(range(0, 360, 45), 1.0))[:120], "left_stick"), "of the rim"),
    ):
        with pytest.raises(TooLittleData, match=part):
            wrong()


def test_what_has_become_of_a_pad_is_told_in_words() -> None:
    def on(day: int, drift: float, x: float, reach: float, bias: float) -> Measured:
        rest = StickRest(x, 0.0, 0.004, 0.01, drift, 0.05, 4.0)
        rim = StickRim((reach,) * 36, 0.05, 0.0)
        motion = MotionRest((0.0, bias, 0.0), 0.1, 0.5)
        return Measured(date(2026, 6, day), {"left_stick": rest}, {"left_stick": rim}, motion)

    june = on(3, 0.006, 0.01, 0.97, 0.1)
    later = on(20, 0.012, 0.04, 0.92, 0.8)
    assert stick_changes([june, later], "left_stick") == [
        "Drift has doubled since 3 June 2026",
        "The stick rests 0.03 further from the middle than on 3 June 2026",
        "Its shortest range is 0.05 less than on 3 June 2026",
    ]
    assert motion_changes([june, later]) == ["Its rest has moved by 0.7 degrees a second since 3 June 2026"]
    assert stick_changes([june, on(4, 0.0061, 0.012, 0.965, 0.1)], "left_stick") == []
    assert stick_changes([later], "left_stick") == motion_changes([later]) == []

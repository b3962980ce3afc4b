"""Sticks, triggers and sliders: curves held against SciPy, shapes as properties, behaviour as a table."""

from __future__ import annotations

import itertools
from math import hypot

import numpy as np
import pytest
from hypothesis import assume, example, given
from hypothesis import strategies as st
from scipy.interpolate import CubicHermiteSpline, PchipInterpolator

from nub_shift.engine.shaping.curves import MonotoneCubic, fritsch_carlson_tangents, response_curve
from nub_shift.engine.shaping.smoothing import OneEuro, RampUp
from nub_shift.engine.shaping.stick_shape import StickShape
from nub_shift.engine.values import Pointer
from nub_shift.model.profile.feel import DeadZoneShape, Ramp, Smoothing, StickFeel
from tests.engine.playing import Player, brief

unit = st.floats(-1.0, 1.0)
rising = st.lists(st.tuples(st.integers(1, 99), st.integers(0, 100)), min_size=1, max_size=8, unique_by=lambda p: p[0])


def curve_points(pairs: list[tuple[int, int]]) -> list[tuple[float, float]]:
    """Points with rising x and not falling y, from (0, 0) to (1, 1)."""
    xs = sorted(x for x, _ in pairs)
    ys = sorted(y for _, y in pairs)
    return [(0.0, 0.0), *((x / 100, y / 100) for x, y in zip(xs, ys, strict=True)), (1.0, 1.0)]


@given(rising)
def test_the_curve_is_the_cubic_of_its_tangents_and_never_falls(pairs: list[tuple[int, int]]) -> None:
    points = curve_points(pairs)
    xs, ys = np.array(points).T
    at = np.linspace(0.0, 1.0, 401)
    ours = np.array([MonotoneCubic(points).at(x) for x in at])
    scipys = CubicHermiteSpline(xs, ys, fritsch_carlson_tangents(points))(at)
    np.testing.assert_allclose(ours, scipys, atol=1e-9)
    assert np.all(np.diff(ours) >= -1e-9)
    # Where SciPy's own monotone cubic (other tangents, same property) is flat, ours is.
    np.testing.assert_allclose(ours[[0, -1]], PchipInterpolator(xs, ys)(at)[[0, -1]], atol=1e-12)
    for (x0, y0), (x1, y1) in itertools.pairwise(points):
        if y0 == y1:
            assert ours[(at >= x0) & (at <= x1)] == pytest.approx(y0)


def test_a_power_is_exact_however_steep_it_is() -> None:
    for power in (0.2, 2.2):
        curve = response_curve(power, ())
        assert curve is not None
        assert max(abs(curve.at(x / 9997) - (x / 9997) ** power) for x in range(9998)) < 1e-9
    assert response_curve(1.0, ()) is None


def test_points_that_are_all_but_one_make_a_curve_all_the_same() -> None:
    curve = response_curve(1.0, ((5e-324, 0.2), (0.5, 0.3), (0.5 + 1e-15, 0.9)))
    assert curve is not None
    assert [curve.at(x) for x in (0.0, 0.5, 1.0)] == pytest.approx([0.0, 0.3, 1.0])


@given(unit, unit, st.floats(0, 0.5), st.sampled_from(DeadZoneShape), st.floats(-1, 1), st.floats(0, 0.3))
@example(0.0, 2.2e-311, 0.0, DeadZoneShape.RADIAL, 0.0, 0.2)
def test_any_shape_stays_in_the_circle_and_points_the_same_way(
    x: float, y: float, dead: float, shape: DeadZoneShape, square: float, anti: float
) -> None:
    assume(hypot(x, y) <= 1.0)
    feel = StickFeel(dead_zone=dead, dead_zone_shape=shape, axial_dead_zone=0.1, square_off=square, anti_dead_zone=anti)
    compiled = StickShape(feel)
    placed = compiled.oriented(x, y)
    shaped = compiled.shape(*placed)
    assert hypot(*shaped) <= 1 + 1e-9
    assert shaped[0] * x >= -1e-12 and shaped[1] * y >= -1e-12
    if shaped != (0.0, 0.0):
        assert hypot(*shaped) >= anti - 1e-9


@pytest.mark.parametrize(
    ("feel", "raw", "placed"),
    [
        (StickFeel(rotation_degrees=90), (0.0, -1.0), (1.0, 0.0)),
        (StickFeel(invert_y=True), (0.3, -1.0), (0.3, 1.0)),
        (StickFeel(square_off=1.0), (0.5**0.5, 0.5**0.5), (1.0, 1.0)),
        (StickFeel(square_off=-1.0), (1.0, 1.0), (0.5**0.5, 0.5**0.5)),
        (StickFeel(square_off=1.0), (0.6, 0.0), (0.6, 0.0)),
    ],
)
def test_where_the_hand_means_the_stick_to_be(
    feel: StickFeel, raw: tuple[float, float], placed: tuple[float, float]
) -> None:
    x, y = StickShape(feel).oriented(*raw)
    # At amount -1 the corner of a square comes to the circle by the ratio of its two reaches.
    assert (x, y) == pytest.approx(placed, abs=0.01)


def test_smoothing_steadies_what_is_slow_and_follows_what_is_fast() -> None:
    smoothing = Smoothing(min_cutoff_hz=1.0, beta=8.0)
    noisy, filtered = [], []
    one_euro = OneEuro(smoothing)
    for step in range(500):
        x = 0.3 + (0.02 if step % 2 else -0.02)
        noisy.append(x)
        filtered.append(one_euro.step(x, 0.0, step * 4000)[0])
    assert np.std(filtered[100:]) < np.std(noisy[100:]) / 5
    flick = OneEuro(smoothing)
    flick.step(0.0, 0.0, 0)
    reached = [flick.step(1.0, 0.0, 4000 * (step + 1))[0] for step in range(30)]
    assert reached[14] > 0.9  # after 60 ms
    assert reached == sorted(reached)


def test_a_ramp_grows_while_the_stick_is_out_and_begins_anew() -> None:
    ramp = RampUp(Ramp(start=0.5, full_ms=100))
    assert [ramp.factor(True, t_ms * 1000) for t_ms in (0, 50, 100, 900)] == [0.5, 0.75, 1.0, 1.0]
    assert ramp.factor(False, 901_000) == 1.0
    assert ramp.factor(True, 902_000) == 0.5


STICK = "right_stick = {{ {} }}\n"
FLAT = "[feel.right_stick]\ndead_zone = 0\nedge_zone = 0\n"


def test_smoothing_goes_by_what_the_stick_did_and_not_by_how_often_it_reports() -> None:
    ends = []
    for hz in (60, 125, 250, 1000):
        one_euro = OneEuro(Smoothing(min_cutoff_hz=2.0, beta=2.0))
        one_euro.step(0.0, 0.0, 0)
        for report in range(1, hz + 1):  # half a second of rest, a jump, and from there a slow way
            t_us = report * 1_000_000 // hz
            x = 0.0 if t_us < 500_000 else 0.5 + (t_us - 500_000) / 2_000_000
            found = one_euro.step(x, 0.0, t_us)[0]
            if t_us == 500_000:
                assert found == 0.0  # nothing has been waiting to be let through
            if t_us == 600_000:
                ends.append(found)
        ends.append(found)
    assert max(ends[::2]) - min(ends[::2]) < 0.01 and max(ends[1::2]) - min(ends[1::2]) < 0.01


def test_a_smoothed_stick_settles_though_no_frame_comes() -> None:
    text = FLAT + "smoothing = { min_cutoff_hz = 2, beta = 0 }"
    player = Player(STICK.format("pointer = { x = 1000, y = 0 }"), "", text)
    player.feed(right_stick__x=0)
    player.wait(10)
    player.feed(right_stick__x=1)
    early, late = player.wait(100), player.wait(900)
    assert sum(move.dx for move in early if isinstance(move, Pointer)) < 75
    assert sum(move.dx for move in late if isinstance(move, Pointer)) > 800
    player.feed(right_stick__x=0)
    player.wait(3000)
    assert player.engine.deadline() is None


def test_a_ramped_stick_reaches_its_full_speed() -> None:
    text = FLAT + "ramp = { start = 0.5, full_ms = 200 }"
    player = Player(STICK.format("pointer = { x = 1000, y = 0 }"), "", text)
    player.feed(right_stick__x=1)
    counts = [sum(move.dx for move in player.wait(200) if isinstance(move, Pointer)) for _ in range(2)]
    assert counts[0] == pytest.approx(150, abs=4)
    assert counts[1] == pytest.approx(200, abs=1)


def test_a_stick_places_the_pointer_and_takes_it_back() -> None:
    player = Player(STICK.format("position = { x = 100, y = 50 }"), "", FLAT)
    assert brief(player.feed(right_stick__x=0.5)) == "<50,0>"
    assert brief(player.feed(right_stick__x=1, right_stick__y=0)) == "<50,0>"
    assert brief(player.feed(right_stick__x=0, right_stick__y=-1)) == "<-100,-50>"
    assert brief(player.feed(right_stick__y=0)) == "<0,50>"


def test_on_a_ring_the_pointer_goes_the_whole_way_and_a_button_is_held() -> None:
    player = Player(STICK.format('position = { x = 100, y = 100, ring = true, hold = ["BTN_LEFT"] }'), "", FLAT)
    assert brief(player.feed(right_stick__x=0.4)) == "<100,0> +BTN_LEFT"
    assert brief(player.feed(right_stick__x=0.9)) == ""
    assert brief(player.feed(right_stick__x=0)) == "-BTN_LEFT <-100,0>"
    player.feed(right_stick__x=1)
    assert brief(player.stop()) == "-BTN_LEFT"


def test_a_layer_without_the_placing_takes_the_pointer_back() -> None:
    slots = STICK.format('position = { x = 100, y = 100, hold = ["BTN_LEFT"] }') + 'left_shoulder = { layer = "shift" }'
    player = Player(slots, "right_stick = { silence = true }", FLAT)
    player.feed(right_stick__x=1)
    assert brief(player.feed(left_shoulder=1)) == "-BTN_LEFT <-100,0>"
    assert brief(player.feed(left_shoulder=0)) == "<100,0> +BTN_LEFT"


def test_a_stick_turns_the_wheel_up_when_it_is_pushed_up() -> None:
    player = Player(STICK.format("scroll = { x = 0, y = 10 }"), "", FLAT)
    player.feed(right_stick__y=-1)
    assert brief(player.wait(2)) == "wheel(0,1) wheel(0,1)"


def test_a_layer_shapes_a_held_stick_anew_in_the_same_step() -> None:
    slots = STICK.format("pointer = { x = 1000, y = 1000 }") + 'left_shoulder = { layer = "shift" }'
    player = Player(slots, "", f"[layers.feel.right_stick]\npower = 2\n{FLAT}")
    player.feed(right_stick__x=0.5)
    counts = []
    for down in (0, 1, 0):
        player.feed(left_shoulder=down)
        counts.append(sum(move.dx for move in player.wait(200) if isinstance(move, Pointer)))
    assert counts == pytest.approx([100, 50, 100], abs=1)


def test_a_layers_thresholds_count_from_the_next_move_so_that_they_press_nothing_by_themselves() -> None:
    slots = '"left_stick.up" = { layer = "shift" }\nwest = { keys = ["KEY_A"] }'
    feel = "[layers.feel.left_stick.directions]\non = 0.9\noff = 0.85"
    player = Player(slots, 'west = { keys = ["KEY_B"] }', feel)
    player.feed(left_stick__y=-0.6)
    assert brief(player.feed(west=1)) == "+B"
    assert player.engine.state().layers == ("base", "shift")
    player.feed(left_stick__y=-0.61)
    assert player.engine.state().layers == ("base",)


Step = tuple[dict[str, float], str]
TABLE: list[tuple[str, str, str, list[Step]]] = [
    (
        "inner is pressed below its radius while a direction is, edge above its own",
        """"left_stick.up" = { keys = ["KEY_W"] }
"left_stick.inner" = { keys = ["KEY_LEFTCTRL"] }
"left_stick.edge" = { keys = ["KEY_LEFTSHIFT"] }""",
        "",
        [
            ({"left_stick.y": -0.3}, ""),
            ({"left_stick.y": -0.5}, "+W +LEFTCTRL"),
            ({"left_stick.y": -0.72}, ""),
            ({"left_stick.y": -0.8}, "-LEFTCTRL"),
            ({"left_stick.y": -0.95}, "+LEFTSHIFT"),
            ({"left_stick.y": -0.87}, ""),
            ({"left_stick.y": 0.0}, "-W -LEFTSHIFT"),
        ],
    ),
    (
        "four ways have no diagonals",
        '"left_stick.up" = { keys = ["KEY_W"] }\n"left_stick.right" = { keys = ["KEY_D"] }',
        "[feel.left_stick]\ndirections = { ways = 4 }",
        [
            ({"left_stick.x": 0.6, "left_stick.y": -0.7}, "+W"),
            ({"left_stick.x": 0.7, "left_stick.y": -0.66}, ""),
            ({"left_stick.x": 0.8, "left_stick.y": -0.5}, "+D -W"),
        ],
    ),
    (
        "a trigger has a light and a deep stage",
        '"right_trigger.light" = { keys = ["KEY_A"] }\n"right_trigger.deep" = { keys = ["KEY_B"] }',
        "",
        [
            ({"right_trigger": 0.5}, "+A"),
            ({"right_trigger": 0.95}, "+B"),
            ({"right_trigger": 0.75}, "-B"),
            ({"right_trigger": 0.0}, "-A"),
        ],
    ),
    (
        "a quick trigger lets go as soon as the finger eases and fires again as soon as it pulls",
        '"right_trigger.light" = { keys = ["KEY_A"] }',
        "[feel.right_trigger]\nquick = true\nease = 0.1",
        [
            ({"right_trigger": 0.3}, ""),
            ({"right_trigger": 0.9}, "+A"),
            ({"right_trigger": 0.85}, ""),
            ({"right_trigger": 0.79}, "-A"),
            ({"right_trigger": 0.7}, ""),
            ({"right_trigger": 0.78}, ""),
            ({"right_trigger": 0.81}, "+A"),
            ({"right_trigger": 0.2}, "-A"),
        ],
    ),
    (
        "a sensor has stages on each side of rest",
        """"slider_1.low" = { keys = ["KEY_A"] }
"slider_1.high" = { keys = ["KEY_B"] }
"slider_1.high_deep" = { keys = ["KEY_C"] }""",
        "",
        [
            ({"slider_1": 0.3}, "+B"),
            ({"slider_1": 0.85}, "+C"),
            ({"slider_1": -0.3}, "+A -B -C"),
            ({"slider_1": 0.0}, "-A"),
        ],
    ),
]


@pytest.mark.parametrize(("slots", "feel", "steps"), [row[1:] for row in TABLE], ids=[row[0] for row in TABLE])
def test_stages_and_directions(slots: str, feel: str, steps: list[Step]) -> None:
    player = Player(slots, "", feel)
    for number, (frame, expected) in enumerate(steps, 1):
        made = player.feed(**{name.replace(".", "__"): value for name, value in frame.items()})
        assert sorted(brief(made).split()) == sorted(expected.split()), f"step {number}: {frame}"


def test_a_finger_drags_the_pointer_by_its_way_and_starts_anew_where_it_touches_again() -> None:
    player = Player("surface = { drag = { x = 1000, y = 500 } }", "surface = { silence = true }")
    player.feed(surface__x=-0.5, surface__y=0.0, surface__touch=1.0)
    player.wait(10)
    player.feed(surface__x=0.5, surface__y=0.2)
    player.wait(10)
    player.feed(surface__touch=0.0)
    player.feed(surface__x=-1.0, surface__touch=1.0)
    player.wait(10)
    moves = [output for output in player.outputs if isinstance(output, Pointer)]
    assert (sum(move.dx for move in moves), sum(move.dy for move in moves)) == (500, 50)


def test_a_surface_does_what_a_stick_does_by_where_the_finger_is() -> None:
    player = Player('"surface.left" = { keys = ["KEY_A"] }\n"surface.touch" = { keys = ["KEY_T"] }')
    player.feed(surface__x=-0.9, surface__y=0.0)
    assert player.engine.state().down == ()
    player.feed(surface__touch=1.0)
    assert set(player.engine.state().down) == {"KEY_A", "KEY_T"}
    player.feed(surface__touch=0.0)
    assert player.engine.state().down == ()


NINE = """
"left_stick.up" = { keys = ["KEY_KP8"] }
"left_stick.right" = { keys = ["KEY_KP6"] }
"left_stick.up_right" = { keys = ["KEY_KP9"] }
left_shoulder = { layer = "shift" }
"""


def test_a_diagonal_with_a_key_of_its_own_is_sent_in_place_of_the_two() -> None:
    player = Player(NINE)
    assert brief(player.feed(left_stick__y=-1.0)) == "+KP8"
    assert brief(player.feed(left_stick__x=0.7, left_stick__y=-0.7)) == "+KP9 -KP8"
    assert brief(player.feed(left_stick__x=1.0, left_stick__y=0.0)) == "+KP6 -KP9"
    assert brief(player.feed(left_stick__x=0.0)) == "-KP6"


def test_a_layer_that_has_only_the_straight_ways_sends_both_on_a_diagonal() -> None:
    player = Player(NINE.replace('"left_stick.up_right" = { keys = ["KEY_KP9"] }', ""), NINE.splitlines()[3])
    assert brief(player.feed(left_stick__x=0.7, left_stick__y=-0.7)) == "+KP8 +KP6"
    assert brief(player.feed(left_shoulder=1.0)) == "+KP9 -KP6 -KP8"
    assert brief(player.feed(left_shoulder=0.0)) == "+KP8 +KP6 -KP9"

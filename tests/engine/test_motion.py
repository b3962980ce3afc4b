"""Motion: what is learned at rest, what moves the pointer, and leaning."""

from __future__ import annotations

import random
from collections.abc import Callable
from math import cos, radians, sin

import pytest

from nub_shift.engine.program import Program
from nub_shift.engine.shaping.motion import BiasEstimator, Gravity, Steady
from nub_shift.engine.values import Frame, Output, Pointer
from nub_shift.model.feel import MotionFeel
from nub_shift.store.profile_files import parse_profile
from tests.engine.playing import START_US, Player, brief, profile_text

STEP_US = 4_000
FLAT = (0.0, 1.0, 0.0)
TURN = "motion = { turn = {} }\n"
PLAIN = "[feel.motion]\nratio = 1\ngate_dps = 0\nsmooth_below_dps = 0\n"


def learned(rate: float, tremor: float, seconds: float = 4.0) -> float:
    """The bias that is learned about y from a rate with tremor (a standard deviation, degrees a second)."""
    estimator = BiasEstimator()
    made = random.Random(4)
    for step in range(round(seconds * 250)):
        gyro = (made.gauss(0, tremor), rate + made.gauss(0, tremor), made.gauss(0, tremor))
        estimator.take(*gyro, (made.gauss(0, 0.003), 1.0, made.gauss(0, 0.003)), START_US + step * STEP_US)
    return estimator.bias[1]


@pytest.mark.parametrize(
    ("rate", "tremor", "expected"),
    [
        (1.3, 0.06, 1.3),  # a pad on a table whose sensor is off
        (2.0, 0.4, 0.0),  # slow, deliberate turning in a hand
        (0.5, 0.3, 0.0),  # very slow turning in a very calm hand
        (20.0, 0.01, 0.0),  # no sensor is that far off
    ],
)
def test_bias_is_learned_from_a_pad_that_lies_still_and_only_then(rate: float, tremor: float, expected: float) -> None:
    assert learned(rate, tremor) == pytest.approx(expected, abs=0.05)


def test_up_is_known_through_a_roll_though_the_accelerometer_is_shaken() -> None:
    gravity = Gravity()
    gravity.take(0.0, 0.0, 0.0, FLAT, 0.0)
    for step in range(250):  # a quarter turn about z in a second, while the accelerometer shows nonsense
        gravity.take(0.0, 0.0, 90.0, (3.0, 3.0, 3.0) if step % 2 else (0.0, 0.1, 0.0), 0.004)
    assert gravity.up == pytest.approx((1.0, 0.0, 0.0), abs=0.01)


def test_what_is_fast_is_not_delayed_and_what_is_slow_is_not_lost() -> None:
    feel = MotionFeel(gate_dps=0.0, smooth_below_dps=5.0, smooth_ms=100)
    assert Steady(feel).step(80.0, 0.0, 0.004) == (80.0, 0.0)
    steady = Steady(feel)
    slow = [steady.step(2.0, 0.0, 0.004)[0] for _ in range(25)] + [steady.step(0.0, 0.0, 0.004)[0] for _ in range(500)]
    assert slow[0] < 0.2
    assert sum(slow) == pytest.approx(50.0, rel=0.01)


def test_the_noise_gate_eases_in() -> None:
    steady = Steady(MotionFeel(gate_dps=1.0, smooth_below_dps=0.0))
    through = [steady.step(rate / 100, 0.0, 0.004)[0] for rate in range(0, 200, 5)]
    assert through == sorted(through)
    assert through[2] < 0.01
    assert through[20:] == [rate / 100 for rate in range(100, 200, 5)]


class Hands:
    """Turns a pad with motion sensors."""

    def __init__(self, slots: str, feel: str = PLAIN, layer: str = "") -> None:
        self.player = Player(slots, layer, feel)
        self.sample()

    def sample(self, x: float = 0.0, y: float = 0.0, z: float = 0.0, up: tuple[float, float, float] = FLAT) -> None:
        values = {f"motion__gyro_{axis}": rate for axis, rate in zip("xyz", (x, y, z), strict=True)}
        values |= {f"motion__accel_{axis}": part for axis, part in zip("xyz", up, strict=True)}
        self.player.feed(**values)

    def turn(
        self, seconds: float, x: float = 0.0, y: float = 0.0, z: float = 0.0, up: tuple[float, float, float] = FLAT
    ) -> tuple[int, int]:
        """Turns at these rates; returns the pointer counts that follow."""
        before = len(self.player.outputs)
        for _ in range(round(seconds * 250)):
            self.sample(x, y, z, up)
            self.player.wait(4)
        self.sample()
        return counts(self.player.outputs[before:])


def counts(outputs: list[Output]) -> tuple[int, int]:
    moves = [output for output in outputs if isinstance(output, Pointer)]
    return sum(move.dx for move in moves), sum(move.dy for move in moves)


def test_a_degree_of_the_hand_is_a_degree_in_the_game() -> None:
    hands = Hands(TURN)
    assert hands.turn(1.0, y=-90) == pytest.approx((900, 0), abs=5)  # to the right
    assert hands.turn(1.0, x=30) == pytest.approx((0, -300), abs=5)  # up


def test_ratios_apply_across_up_and_when_fast() -> None:
    feel = PLAIN.replace("ratio = 1", "ratio = 2\nvertical_ratio = 0.5\nfast_ratio = 4\nslow_dps = 50\nfast_dps = 100")
    feel += "axis = 'yaw'\n"
    hands = Hands(TURN, feel)
    assert hands.turn(1.0, y=-20)[0] == pytest.approx(400, abs=5)
    assert hands.turn(1.0, x=20)[1] == pytest.approx(-200, abs=5)
    assert hands.turn(0.5, y=-100)[0] == pytest.approx(2000, abs=20)
    assert hands.turn(1.0, y=-75)[0] == pytest.approx(2250, abs=20)


@pytest.mark.parametrize(
    ("axis", "pitched", "turned"), [("yaw", 60.0, 450), ("gravity", 60.0, 900), ("roll", 0.0, 0), ("gravity", 0.0, 900)]
)
def test_gravity_makes_turning_across_the_same_however_the_pad_is_held(axis: str, pitched: float, turned: int) -> None:
    up = (0.0, cos(radians(pitched)), sin(radians(pitched)))
    hands = Hands(TURN, PLAIN + f'axis = "{axis}"\n')
    for _ in range(1500):
        hands.sample(up=up)
        hands.player.wait(4)
    # Turning to the right about the true vertical, at 90 degrees a second, as the tilted sensors see it.
    got = hands.turn(1.0, y=-90 * up[1], z=-90 * up[2], up=up)
    assert got[0] == pytest.approx(turned, abs=12)


def test_a_layer_turns_at_a_ratio_of_its_own_and_a_layer_based_on_it_too() -> None:
    layers = """[layers.feel.motion]
ratio = 0.5
[[layers]]
id = "finer"
label = "Finer"
based_on = "shift"
feel = { motion = { vertical_ratio = 0.5 } }
"""
    slots = TURN + 'west = { layer = "shift" }\nnorth = { layer = "finer" }\n'
    hands = Hands(slots, layers + PLAIN)
    hands.player.feed(west=1)
    assert hands.turn(1.0, y=-90) == pytest.approx((450, 0), abs=5)
    hands.player.feed(west=0, north=1)
    assert hands.turn(1.0, x=30) == pytest.approx((0, -75), abs=5)


def test_motion_is_switched_on_while_held_and_off_by_a_clutch() -> None:
    slots = """
motion = { turn = { on = false } }
"left_trigger.light" = { motion = "on" }
west = { motion = "off" }
north = { motion = "on", manner = "toggle" }"""
    hands = Hands(slots)
    assert hands.turn(0.2, y=-90) == (0, 0)
    hands.player.feed(left_trigger=1)
    assert hands.turn(0.2, y=-90)[0] == pytest.approx(180, abs=4)
    hands.player.feed(west=1)
    assert hands.turn(0.2, y=-90) == (0, 0)
    hands.player.feed(west=0, left_trigger=0)
    assert hands.turn(0.2, y=-90) == (0, 0)
    hands.player.feed(north=1)
    hands.player.feed(north=0)
    assert hands.turn(0.2, y=-90)[0] == pytest.approx(180, abs=4)


def test_motion_that_a_layer_brings_ends_with_the_layer() -> None:
    hands = Hands('left_shoulder = { layer = "shift" }', layer="motion = { turn = {} }")
    assert hands.turn(0.2, y=-90) == (0, 0)
    hands.player.feed(left_shoulder=1)
    assert hands.turn(0.2, y=-90)[0] == pytest.approx(180, abs=4)
    hands.player.feed(left_shoulder=0)
    assert hands.turn(0.2, y=-90) == (0, 0)


LATE: dict[str, Callable[[int], int]] = {
    "now and then": lambda step: 3_500 if step * 7 % 11 < 4 else 0,
    "three times as slow": lambda step: step * 2 * STEP_US,
    "in bunches of five": lambda step: (4 - step % 5) * STEP_US,
}


@pytest.mark.parametrize("late", LATE.values(), ids=list(LATE))
def test_the_sensors_own_clock_counts_and_not_when_samples_arrive(late: Callable[[int], int]) -> None:
    hands = Hands(TURN)
    engine, begin_us, out = hands.player.engine, hands.player.now_us, []
    for step in range(400):  # still, half a second of turning at 90 degrees a second, still again
        t_us = begin_us + step * STEP_US + late(step)
        while (deadline := engine.deadline()) is not None and deadline <= t_us:
            out += engine.advance(deadline)
        sensor_us = (2**32 - 500_000 + step * STEP_US) % 2**32
        out += engine.feed(Frame(t_us, {"motion.gyro_y": -90.0 if 25 <= step < 150 else 0.0}, sensor_us))
    assert counts(out)[0] == pytest.approx(450, abs=2)
    dx = [move.dx for move in out if isinstance(move, Pointer)]
    assert min(dx) >= -1 and max(dx) <= 3  # it does not run away in between


def test_a_sensor_that_goes_quiet_stops_the_pointer() -> None:
    hands = Hands(TURN)
    hands.sample(y=-90)
    first, second = hands.player.wait(100), hands.player.wait(1000)
    assert counts(first)[0] == pytest.approx(54, abs=1)
    assert second == []
    assert hands.player.engine.deadline() is None


def test_bias_that_was_learned_stays_through_a_change_of_profile() -> None:
    hands = Hands(TURN)
    for _ in range(600):
        hands.sample(y=-1.0)
        hands.player.wait(4)
    hands.player.engine.replace(hands.player.engine._program, hands.player.now_us)
    assert abs(hands.turn(2.0, y=-1.0)[0]) <= 1


def test_leaning_past_an_angle_is_a_slot_and_recentring_moves_its_middle() -> None:
    slots = """
"motion.lean_right" = { keys = ["KEY_E"] }
"motion.lean_left" = { keys = ["KEY_Q"] }
west = { motion = "recentre" }"""
    hands = Hands(slots)

    def lean(angle: float) -> str:
        """Leans to the right for a while."""
        before = len(hands.player.outputs)
        for _ in range(1000):
            hands.sample(up=(-sin(radians(angle)), cos(radians(angle)), 0.0))
            hands.player.wait(4)
        return brief(hands.player.outputs[before:])

    assert lean(15) == ""
    assert lean(32) == "+E"
    assert lean(22) == ""
    assert lean(10) == "-E"
    assert lean(-32) == "+Q"
    hands.player.feed(west=1)
    hands.player.feed(west=0)
    assert lean(-32) == "-Q"
    assert lean(0) == "+E"


def test_leaning_forward_goes_on_beyond_upside_down() -> None:
    hands = Hands('"motion.lean_forward" = { keys = ["KEY_W"] }\nwest = { motion = "recentre" }')
    for angle in (160, 200):  # from 180 on `atan2` counts from the other end
        for _ in range(1000):
            hands.sample(up=(0.0, cos(radians(angle)), sin(radians(angle))))
            hands.player.wait(4)
        if angle == 160:
            hands.player.feed(west=1)
            hands.player.feed(west=0)
            hands.player.outputs.clear()
    assert brief(hands.player.outputs) == "-W +W"


def test_a_profile_that_comes_before_the_first_sample_does_not_take_the_pad_to_lie_level() -> None:
    slots = 'motion = { turn = {} }\n"motion.lean_forward" = { keys = ["KEY_W"] }'
    player = Player(slots, rest=PLAIN)
    player.engine.replace(Program(parse_profile(profile_text(slots, rest=PLAIN))), player.now_us)
    assert player.engine.deadline() is None
    up = (0.0, cos(radians(50.0)), sin(radians(50.0)))
    for _ in range(50):
        player.feed(motion__gyro_x=0.0, motion__accel_y=up[1], motion__accel_z=up[2])
        player.wait(4)
    assert brief(player.outputs) == ""  # as it is held at first is its middle


@pytest.mark.parametrize("rolled", [-60.0, -30.0, 0.0, 30.0, 60.0])
def test_turning_about_the_vertical_moves_nothing_up_or_down_however_the_pad_is_rolled(rolled: float) -> None:
    up = (sin(radians(rolled)), cos(radians(rolled)), 0.0)
    hands = Hands(TURN, PLAIN + 'axis = "gravity"\n')
    for _ in range(1500):
        hands.sample(up=up)
        hands.player.wait(4)
    got = hands.turn(1.0, x=-90 * up[0], y=-90 * up[1], z=-90 * up[2], up=up)
    assert got == pytest.approx((900, 0), abs=12)

"""Motion: what is learned at rest, what moves the pointer, and tilting."""

from __future__ import annotations

import random
from collections.abc import Callable
from math import cos, radians, sin

import pytest

from nub_shift.engine.program import Program
from nub_shift.engine.shaping.bias import BiasEstimator
from nub_shift.engine.shaping.motion import Gravity, Steady
from nub_shift.engine.values import Frame, Output, Pointer
from nub_shift.model.profile.feel import MotionFeel
from nub_shift.store.profile_files import parse_profile
from tests.engine.playing import START_US, Player, brief, profile_text

STEP_US = 4_000
FLAT = (0.0, 1.0, 0.0)
TURN = "motion = { turn = {} }\n"
PLAIN = "[feel.motion]\nratio = 1\ngate_dps = 0\nsmooth_below_dps = 0\n"


class Gyro:
    """A sensor of which a bias is estimated; it turns about y, with noise (standard deviations)."""

    def __init__(self, known: tuple[float, float, float] | None = None) -> None:
        self.estimator = BiasEstimator(known)
        self._step = 0
        self._made = random.Random(4)

    def turn(self, rate: Callable[[float], float], seconds: float, noise: float = 0.05, accel: float = 0.003) -> float:
        """Turns at a rate of time; returns the degrees that are left of it without the bias."""
        left = 0.0
        for _ in range(round(seconds * 250)):
            self._step += 1
            x, y, z = (self._made.gauss(0, noise) for _ in range(3))
            y += rate(self._step / 250)
            gravity = self._made.gauss(0, accel), 1.0, self._made.gauss(0, accel)
            self.estimator.take(x, y, z, gravity, START_US + self._step * STEP_US)
            left += (y - self.estimator.bias[1]) / 250
        return left


@pytest.mark.parametrize(
    ("rate", "noise", "accel_noise", "expected"),
    [
        (1.3, 0.06, 0.003, 1.3),  # a pad on a table whose sensor is off
        (-0.7, 0.2, 0.008, -0.7),  # a noisier sensor
        (20.0, 0.01, 0.003, 0.0),  # no sensor is that far off
    ],
)
def test_bias_is_learned_from_a_pad_that_lies_still(
    rate: float, noise: float, accel_noise: float, expected: float
) -> None:
    gyro = Gyro()
    gyro.turn(lambda _: rate, 4.0, noise, accel_noise)
    assert gyro.estimator.bias[1] == pytest.approx(expected, abs=0.05)


@pytest.mark.parametrize("rate", [1.0, 2.0, 5.0, -3.0])
@pytest.mark.parametrize("known", [None, (0.0, 0.8, 0.0)], ids=["after lying still", "told by its card"])
def test_slow_turning_is_not_taken_for_bias_once_that_is_known(
    rate: float, known: tuple[float, float, float] | None
) -> None:
    gyro = Gyro(known)
    if known is None:
        gyro.turn(lambda _: 0.8, 5.0)
    assert gyro.turn(lambda _: 0.8 + rate, 60.0) == pytest.approx(60 * rate, rel=0.02)
    assert abs(gyro.turn(lambda _: 0.8, 60.0)) < 1.0  # and does not drift back


def test_bias_follows_a_sensor_that_grows_warm_and_one_that_has_become_another() -> None:
    gyro = Gyro()
    gyro.turn(lambda seconds: 0.5 + 0.002 * seconds, 300.0)
    assert gyro.estimator.bias[1] == pytest.approx(1.1, abs=0.05)
    gyro.turn(lambda _: -3.0, 200.0)
    assert gyro.estimator.bias[1] == pytest.approx(-3.0, abs=0.05)


def test_a_pad_held_in_a_hand_from_the_start_drifts_by_less_than_a_degree_a_minute() -> None:
    def turning(seconds: float) -> float:  # it trembles, and wanders by a third of a degree
        return 0.9 * sin(52 * seconds) + 0.5 * sin(61.3 * seconds + 1) + 0.13 * cos(0.4 * seconds)

    gyro = Gyro()
    for minute in range(3):
        turned = sum(turning(60 * minute + step / 250) for step in range(1, 15001)) / 250
        left = gyro.turn(lambda seconds: 1.2 + turning(seconds), 60.0, 0.1, 0.015)
        assert abs(left - turned) < 1.0


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


BUNCH_ENDS = [0, 3, 50, 52, 90, 91, 92, 125, 170, 175, 176, 220, 269, 270, 300, 345, 400, 450, 500]
LATE: dict[str, Callable[[int], int]] = {
    "now and then": lambda step: 3_500 if step * 7 % 11 < 4 else 0,
    "in bunches of 20 ms": lambda step: (4 - step % 5) * STEP_US,
    "in bunches of 64 ms": lambda step: (15 - step % 16) * STEP_US,
    "in bunches of 200 ms": lambda step: (49 - step % 50) * STEP_US,
    "in bunches of all sizes": lambda step: next(end for end in BUNCH_ENDS if end >= step) * STEP_US - step * STEP_US,
}


@pytest.mark.parametrize("told", ["each value", "what changes"])
@pytest.mark.parametrize("late", LATE.values(), ids=list(LATE))
def test_the_sensors_own_clock_counts_and_not_when_samples_arrive(late: Callable[[int], int], told: str) -> None:
    hands = Hands(TURN)
    engine, begin_us, out = hands.player.engine, hands.player.now_us, []
    for step in range(500):  # still, a second of turning at 90 degrees a second, still again
        t_us = begin_us + step * STEP_US + late(step)
        while (deadline := engine.deadline()) is not None and deadline <= t_us:
            out += engine.advance(deadline)
        sensor_us = (2**32 - 500_000 + step * STEP_US) % 2**32
        values = {"motion.gyro_y": -90.0 if 25 <= step < 275 else 0.0}
        repeats = told == "what changes" and step not in (0, 25, 275)  # the kernel sends no event for those
        out += engine.feed(Frame(t_us, {} if repeats else values, sensor_us))
    while (deadline := engine.deadline()) is not None:
        out += engine.advance(deadline)
    assert counts(out)[0] == pytest.approx(900, abs=9)
    moves = [move for move in out if isinstance(move, Pointer)]
    for start_us in range(begin_us, begin_us + 2_500_000, 10_000):  # the share of 50 ms is 45 counts
        assert -5 <= sum(move.dx for move in moves if start_us <= move.t_us < start_us + 50_000) <= 2 * 45


def test_what_other_controls_do_takes_nothing_from_a_turn() -> None:
    hands = Hands(TURN)
    player = hands.player
    for step in range(1, 60):  # a button after each sample, which come late and far between
        player.outputs += player.engine.feed(Frame(player.now_us, {"motion.gyro_y": -90.0}, step * STEP_US))
        player.feed(south=step % 2)
        player.wait(17 if step % 5 else 60)
    player.outputs += player.engine.feed(Frame(player.now_us, {"motion.gyro_y": 0.0}, 60 * STEP_US))
    player.wait(500)
    assert counts(player.outputs)[0] == pytest.approx(58 * 3.6, abs=4)


def test_samples_that_the_kernel_dropped_are_made_good_by_the_next_ones_clock() -> None:
    player = Hands(TURN).player
    for step in range(250):
        if step % 50 < 20:  # the kernel had no room; then it tells the state, which has no time of its own
            if step % 50 == 19:
                player.outputs += player.engine.feed(Frame(player.now_us, {"motion.gyro_y": -90.0}))
        else:
            player.outputs += player.engine.feed(Frame(player.now_us, {"motion.gyro_y": -90.0}, step * STEP_US))
        player.wait(4)
    player.outputs += player.engine.feed(Frame(player.now_us, {"motion.gyro_y": 0.0}, 250 * STEP_US))
    player.wait(500)
    assert counts(player.outputs)[0] == pytest.approx(229 * 3.6, abs=4)  # from the first sample's time on


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


def test_tilting_past_an_angle_is_a_slot_and_recentring_moves_its_middle() -> None:
    slots = """
"motion.tilt_right" = { keys = ["KEY_E"] }
"motion.tilt_left" = { keys = ["KEY_Q"] }
west = { motion = "recentre" }"""
    hands = Hands(slots)

    def tilt(angle: float) -> str:
        """Tilts to the right for a while."""
        before = len(hands.player.outputs)
        for _ in range(1000):
            hands.sample(up=(-sin(radians(angle)), cos(radians(angle)), 0.0))
            hands.player.wait(4)
        return brief(hands.player.outputs[before:])

    assert tilt(15) == ""
    assert tilt(32) == "+E"
    assert tilt(22) == ""
    assert tilt(10) == "-E"
    assert tilt(-32) == "+Q"
    hands.player.feed(west=1)
    hands.player.feed(west=0)
    assert tilt(-32) == "-Q"
    assert tilt(0) == "+E"


def test_tilting_forward_goes_on_beyond_upside_down() -> None:
    hands = Hands('"motion.tilt_forward" = { keys = ["KEY_W"] }\nwest = { motion = "recentre" }')
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
    slots = 'motion = { turn = {} }\n"motion.tilt_forward" = { keys = ["KEY_W"] }'
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

"""What holds for any profile and any frames."""

from __future__ import annotations

from fractions import Fraction
from random import Random

import msgspec
import pytest
from hypothesis import assume, given
from hypothesis import strategies as st
from msgspec.structs import replace

from nub_shift.bench.random_profiles import CHANNELS, random_frames, random_profile
from nub_shift.engine.agenda import earlier
from nub_shift.engine.engine import Engine
from nub_shift.engine.program import Program
from nub_shift.engine.shaping.stick_shape import StickShape
from nub_shift.engine.values import Frame, Key, Output, Pointer
from nub_shift.keyboard.layout import us_layout
from nub_shift.model.checks.references import reference_problems
from nub_shift.model.controls import MOTION_CHANNELS
from nub_shift.model.profile.effects import PointerSpeed
from nub_shift.model.profile.feel import Feel, FeelChange, StickFeel
from nub_shift.model.profile.profile import Layer, Profile
from nub_shift.model.profile.reactions import Assignment
from nub_shift.store.profile_files import format_profile, parse_profile
from tests.chances import chances
from tests.engine.playing import START_US, Player

profiles = chances.map(random_profile)
streams = chances.map(lambda chance: list(random_frames(chance, chance.randint(1, 30), START_US)))
speeds = st.integers(-5000, 5000).map(float)


fractions = st.sampled_from([0.0, 0.1, 0.35, 0.5])
layer_feels = st.fixed_dictionaries(
    {},
    optional={
        "left_stick": st.fixed_dictionaries(
            {},
            optional={
                "dead_zone": st.sampled_from([0.0, 0.4, 0.6, 0.9]),
                "edge_zone": fractions,
                "anti_dead_zone": fractions,
                "rotation_degrees": st.sampled_from([0, 90]),
                "points": st.sampled_from([[], [[0.2, 0.5], [0.8, 0.5]], [[0.0, 0.0], [1.0, 0.0]]]),
                "directions": st.sampled_from([{"on": 0.9, "off": 0.8}, {"on": 0.4}, {"diagonal_degrees": 12}]),
                "edge": st.sampled_from([{"on": 0.86}, {"off": 0.91}]),
            },
        ),
        "surface": st.fixed_dictionaries({}, optional={"dead_zone": fractions, "edge_zone": fractions}),
        "right_trigger": st.just({"quick": True}),
        "motion": st.fixed_dictionaries(
            {},
            optional={
                "slow_dps": st.sampled_from([10, 300]),
                "fast_dps": st.sampled_from([20, 150, 400]),
                "fast_ratio": st.sampled_from([1, 5]),
            },
        ),
    },
).map(lambda data: msgspec.convert(data, FeelChange))


def play(profile: Profile, frames: list[Frame], step_us: int | None = None, offset_us: int = 0) -> list[Output]:
    """All outputs; `advance` is called at each deadline, and every `step_us` besides.

    With an offset it is played by a clock that is so far ahead, and told by this one.
    """
    engine = Engine(Program(profile))
    outputs: list[Output] = []
    now_us = START_US + offset_us
    for frame in (replace(frame, t_us=frame.t_us + offset_us) for frame in frames):
        while True:
            next_us = earlier(engine.deadline(), now_us + step_us if step_us is not None else None)
            if next_us is None or next_us > frame.t_us:
                break
            now_us = next_us
            outputs += engine.advance(now_us)
            if step_us is not None:
                engine.state()
        outputs += engine.feed(frame)
    outputs += engine.stop(frames[-1].t_us + offset_us)
    return [replace(output, t_us=output.t_us - offset_us) for output in outputs] if offset_us else outputs


@given(profiles, streams)
def test_no_key_goes_down_or_up_twice_and_nothing_is_down_after_stop(profile: Profile, frames: list[Frame]) -> None:
    down: set[str] = set()
    for output in play(profile, frames):
        if isinstance(output, Key):
            assert (output.code in down) is not output.down
            (down.add if output.down else down.discard)(output.code)
    assert not down


@given(profiles, streams)
def test_calling_at_deadlines_gives_the_same_as_calling_all_the_time(profile: Profile, frames: list[Frame]) -> None:
    assert play(profile, frames) == play(profile, frames, step_us=100)


@given(profiles, streams, st.sampled_from((-START_US, 100_000_000 - START_US, 10**12)))
def test_the_same_hands_at_another_clock_give_the_same(profile: Profile, frames: list[Frame], offset_us: int) -> None:
    assert play(profile, frames) == play(profile, frames, offset_us=offset_us)


@given(profiles, streams)
def test_what_is_told_again_unchanged_changes_nothing(profile: Profile, frames: list[Frame]) -> None:
    """A kernel reports what has changed, other sources all of it, and at their own rate; sensors are left out."""
    standing = {channel: 0.0 for channel in CHANNELS if channel not in MOTION_CHANNELS}
    changes, full = list[Frame](), list[Frame]()
    for frame in frames:
        told = {name: value for name, value in frame.values.items() if name in standing}
        changed = {name: value for name, value in told.items() if value != standing[name]}
        standing |= told
        if full:
            full.append(replace(full[-1], t_us=(full[-1].t_us + frame.t_us) // 2))
        changes.append(Frame(frame.t_us, changed))
        full.append(Frame(frame.t_us, changed | {name: standing[name] for name in standing if name not in changed}))
    assert play(profile, changes) == play(profile, full)


@given(profiles, streams, chances)
def test_key_times_hold_by_when_the_engine_was_really_called(
    profile: Profile, frames: list[Frame], chance: Random
) -> None:
    engine, now_us = Engine(Program(profile)), START_US
    since: dict[str, int] = {}
    times = (profile.game.gap_ms * 1000, profile.game.key_ms * 1000)

    def keep(outputs: list[Output], call_us: int) -> None:
        for output in outputs:
            assert output.t_us >= call_us, "no output lies before the call that returns it"
            if isinstance(output, Key):
                assert output.t_us - since.get(output.code, -START_US) >= times[not output.down]
                since[output.code] = output.t_us

    for frame in frames:
        while (deadline := engine.deadline()) is not None and deadline <= frame.t_us:
            now_us = max(now_us, deadline) + chance.choice((0, 50, 900, 7_000, 40_000))
            keep(engine.advance(now_us), now_us)
        now_us = max(now_us, frame.t_us)
        keep(engine.feed(replace(frame, t_us=now_us)), now_us)
    end_us = now_us + 500_000
    while (deadline := engine.deadline()) is not None and deadline < end_us:
        now_us = deadline + chance.choice((0, 50, 7_000))
        keep(engine.advance(now_us), now_us)


@given(profiles, streams)
def test_outputs_are_in_order_of_time_and_the_same_every_time(profile: Profile, frames: list[Frame]) -> None:
    outputs = play(profile, frames)
    assert outputs == play(profile, frames)
    times = [output.t_us for output in outputs]
    assert times == sorted(times)


@given(st.lists(layer_feels, min_size=2, max_size=3))
def test_feels_that_are_sound_one_by_one_are_sound_together(changes: list[FeelChange]) -> None:
    layers = [Layer(id="base", label="B")]
    layers += [Layer(id=f"l{number}", label="L", feel=change) for number, change in enumerate(changes)]
    profile = Profile(schema=4, title="F", layers=tuple(layers))
    assume(not reference_problems(profile, us_layout))
    together = Program(profile).sheet(tuple(range(1, len(layers)))).feel
    assert reference_problems(replace(profile, feel=together, layers=layers[:1]), us_layout) == []


@given(profiles)
def test_a_profile_that_is_written_reads_back_the_same(profile: Profile) -> None:
    assert parse_profile(format_profile(profile)) == profile


@given(
    st.lists(st.tuples(st.integers(1, 200_000), st.floats(-1, 1), st.floats(-1, 1)), min_size=1, max_size=40), speeds
)
def test_pointer_counts_sum_to_the_true_integral(path: list[tuple[int, float, float]], speed: float) -> None:
    slots = {"right_stick": Assignment(pointer=PointerSpeed(speed, 777.0))}
    feel = StickFeel(dead_zone=0.1, power=1.3)
    shape = StickShape(feel)
    profile = Profile(
        schema=4, title="Sum", layers=(Layer(id="base", label="Base", slots=slots),), feel=Feel(right_stick=feel)
    )
    frames = []
    t_us = START_US
    true_x = true_y = Fraction(0)
    for hold_us, x, y in path:
        frames.append(Frame(t_us, {"right_stick.x": x, "right_stick.y": y}))
        shaped_x, shaped_y = shape.shape(x, y)
        true_x += Fraction(shaped_x * speed) * hold_us / 1_000_000
        true_y += Fraction(shaped_y * 777.0) * hold_us / 1_000_000
        t_us += hold_us
    # What is left as it stops may wait until a millisecond after the last counts.
    frames += [Frame(t_us + later_us, {"right_stick.x": 0.0, "right_stick.y": 0.0}) for later_us in (0, 1_000)]
    moves = [output for output in play(profile, frames) if isinstance(output, Pointer)]
    assert abs(sum(move.dx for move in moves) - true_x) < 1 + Fraction(1, 10**6)
    assert abs(sum(move.dy for move in moves) - true_y) < 1 + Fraction(1, 10**6)


@given(st.floats(-1, 1), st.floats(-1, 1), st.floats(0, 0.9), st.floats(0, 0.05), st.floats(0.2, 5))
def test_shaping_keeps_the_angle_and_stays_in_the_circle(
    x: float, y: float, dead: float, edge: float, power: float
) -> None:
    shaped_x, shaped_y = StickShape(StickFeel(dead_zone=dead, edge_zone=edge, power=power)).shape(x, y)
    assert shaped_x**2 + shaped_y**2 <= 1 + 1e-9
    assert abs(shaped_x * y - shaped_y * x) < 1e-9
    assert shaped_x * x >= 0 and shaped_y * y >= 0


TOGGLING = """
"left_shoulder" = { layer = "aim" }
"right_shoulder" = { layer = "swim" }
south = { keys = ["KEY_A"], manner = "toggle" }
east = { keys = ["KEY_B"], manner = "toggle" }
"""
# By layer, the keys that its own slots toggle.
OWN = {"base": {"south": "KEY_A", "east": "KEY_B"}, "aim": {"south": "KEY_C"}, "swim": {"east": "KEY_D"}}


@given(st.lists(st.sampled_from(["south", "east", "left_shoulder", "right_shoulder"]), max_size=30))
def test_a_toggle_has_one_state_in_all_layers_that_have_it(presses: list[str]) -> None:
    swim = '[[layers]]\nid = "swim"\nlabel = "Swim"\nbased_on = "aim"\n[layers.slots]\n'
    swim += 'east = { keys = ["KEY_D"], manner = "toggle" }'
    aim = '[[layers]]\nid = "aim"\nlabel = "Aim"\n[layers.slots]\nsouth = { keys = ["KEY_C"], manner = "toggle" }'
    player = Player(TOGGLING, rest=f"{aim}\n{swim}")
    shoulders = {"left_shoulder": "aim", "right_shoulder": "swim"}
    held: list[str] = []
    down: set[str] = set()
    for press in presses:
        if press in shoulders:
            layer = shoulders[press]
            player.feed(**{press: 0.0 if layer in held else 1.0})
            (held.remove if layer in held else held.append)(layer)
            continue
        player.feed(**{press: 1.0})
        player.feed(**{press: 0.0})
        # The topmost layer that has the slot, itself or from what it is based on.
        bases = {"aim": ("aim",), "swim": ("swim", "aim")}
        owners = [owner for layer in reversed(held) for owner in bases[layer] if press in OWN[owner]]
        down ^= {OWN[next(iter(owners), "base")][press]}
        assert set(player.engine.state().down) == down


@given(st.lists(st.integers(1, 50), min_size=2, max_size=12), st.floats(1.0, 400.0))
def test_what_a_pad_has_turned_arrives_however_its_samples_are_bunched(bunches: list[int], dps: float) -> None:
    feel = "[feel.motion]\nratio = 1\ngate_dps = 0\nsmooth_below_dps = 0\naxis = 'yaw'"
    player = Player("motion = { turn = {} }", rest=feel)
    player.engine.set_bias((0.0, 0.0, 0.0))
    player.feed(motion__gyro_y=0.0)  # the state as the pad was opened, which has no time of the sensors'
    player.wait(3000)
    turned_s = 0.0
    sample = 0
    for size in [1, *bunches, 1]:  # one bunch is there when its last sample has been taken
        player.wait(4 * size)
        for _ in range(size):
            sample += 1
            moves = sample <= sum(bunches)
            turned_s += 0.004 * (moves and sample > 1)  # of the first one it is not known how long it lasted
            values = {"motion.gyro_y": -dps if moves else 0.0}
            player.outputs += player.engine.feed(Frame(player.now_us, values, sample * 4000))
    for _ in range(100):  # it lies still until all is paid
        sample += 1
        player.wait(4)
        player.outputs += player.engine.feed(Frame(player.now_us, {"motion.gyro_y": 0.0}, sample * 4000))
    player.wait(1000)
    got = sum(output.dx for output in player.outputs if isinstance(output, Pointer))
    assert got == pytest.approx(dps * turned_s * 10, rel=0.01, abs=1.5)  # 3600 counts a turn

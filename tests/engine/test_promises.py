"""Promises that hold under every setting, clock and holder, each with a property that finds what breaks it."""

from __future__ import annotations

from itertools import pairwise

import pytest
from hypothesis import given
from hypothesis import strategies as st

from nub_shift.engine.engine import Engine
from nub_shift.engine.ledger import KeyTimes, Ledger
from nub_shift.engine.program import Program
from nub_shift.engine.values import Frame, Key, Output, Pointer
from nub_shift.model.profile.actions import Manner
from nub_shift.model.profile.feel import Feel, Stage, TriggerFeel
from nub_shift.model.profile.game import Game
from nub_shift.model.profile.profile import SCHEMA_VERSION, Layer, Profile
from nub_shift.model.profile.reactions import Assignment
from nub_shift.store.profile_files import parse_profile
from tests.engine.playing import START_US, Player, brief, profile_text

STAGES = ("both", "replace", "either")
TRIGGER = '"right_trigger.light" = { keys = ["KEY_A"] }\n"right_trigger.deep" = { keys = ["KEY_B"] }'


def staged(stages: str, over: str = "both", light: float = 0.3) -> str:
    """A profile whose trigger goes by `stages`, and in a layer that the left shoulder holds by `over`."""
    feel = (
        f'[layers.feel.right_trigger]\nstages = "{over}"\n[feel.right_trigger]\nstages = "{stages}"\n'
        f"light = {{ on = {light}, off = {light - 0.1} }}"
    )
    return profile_text(f'{TRIGGER}\nleft_shoulder = {{ layer = "shift" }}', rest=feel)


def test_a_stage_that_was_waited_for_is_not_set_after_the_trigger_was_let_go() -> None:
    engine = Engine(Program(parse_profile(staged("either"))))
    engine.feed(Frame(START_US, {"right_trigger": 0.5}))
    engine.feed(Frame(START_US + 50_000, {"left_shoulder": 1.0}))
    outputs = engine.feed(Frame(START_US + 60_000, {"right_trigger": 0.0}))
    outputs += engine.advance(START_US + 600_000)
    assert brief(outputs) == "+A -A", "a short light pull"


@given(st.data(), st.sampled_from(STAGES), st.sampled_from(STAGES))
def test_a_trigger_at_rest_holds_no_stage_whatever_its_settings_were_meanwhile(
    data: st.DataObject, stages: str, over: str
) -> None:
    programs = [Program(parse_profile(staged(one, over, light))) for one in STAGES for light in (0.3, 0.5)]
    engine = Engine(Program(parse_profile(staged(stages, over))))
    now_us, down = START_US, list[str]()

    def keep(outputs: list[Output]) -> None:
        for output in outputs:
            assert isinstance(output, Key)
            (down.append if output.down else down.remove)(output.code)

    for _ in range(data.draw(st.integers(1, 10))):
        match data.draw(st.sampled_from(["pull", "pull", "wait", "layer", "retune", "replace", "pause"])):
            case "pull":
                pull = data.draw(st.sampled_from([0.0, 0.25, 0.4, 0.6, 1.0]))
                keep(engine.feed(Frame(now_us, {"right_trigger": pull})))
            case "layer":
                keep(engine.feed(Frame(now_us, {"left_shoulder": float(data.draw(st.booleans()))})))
            case "retune":
                keep(engine.retune(data.draw(st.sampled_from(programs)), now_us))
            case "replace":
                keep(engine.replace(data.draw(st.sampled_from(programs)), now_us))
            case "pause":
                keep(engine.stop(now_us))
                assert down == [] and engine.deadline() is None
                engine.catch_up(engine.standing)
                assert engine.deadline() is None, "nothing begins by itself while it is paused"
                keep(engine.resume(now_us))
            case _:
                now_us += data.draw(st.sampled_from([1_000, 60_000, 130_000]))
                while (deadline := engine.deadline()) is not None and deadline <= now_us:
                    keep(engine.advance(deadline))
    keep(engine.feed(Frame(now_us, {"right_trigger": 0.0, "left_shoulder": 0.0})))
    while (deadline := engine.deadline()) is not None:
        keep(engine.advance(deadline))
    assert down == []


@pytest.mark.parametrize(("before", "after"), [("both", "either"), ("replace", "either"), ("either", "both")])
def test_a_held_stage_stays_down_while_the_settings_change(before: str, after: str) -> None:
    engine = Engine(Program(parse_profile(staged(before))))
    outputs = engine.feed(Frame(START_US, {"right_trigger": 0.5}))
    outputs += engine.advance(START_US + 300_000)
    outputs += engine.retune(Program(parse_profile(staged(after))), START_US + 400_000)
    outputs += engine.feed(Frame(START_US + 400_000, {"right_trigger": 0.52}))
    outputs += engine.advance(START_US + 800_000)
    assert brief(outputs) == "+A"


def test_the_stricter_times_of_all_who_touched_a_key_hold() -> None:
    ledger, strict, loose = Ledger(), KeyTimes(20_000, 30_000), KeyTimes(5_000, 5_000)
    out: list[Output] = []
    ledger.press(("KEY_A",), 0, strict, out)
    ledger.press(("KEY_A",), 1_000, loose, out)
    ledger.release(("KEY_A",), 2_000, strict, out)
    ledger.release(("KEY_A",), 6_000, loose, out)
    assert ledger.due_us() == 20_000
    ledger.advance(20_000, 20_000, out)
    ledger.press(("KEY_A",), 21_000, loose, out)
    assert ledger.due_us() == 50_000, "the gap after a press of the stricter one"
    ledger.advance(50_000, 50_000, out)
    ledger.release(("KEY_A",), 51_000, loose, out)
    assert ledger.due_us() == 55_000, "the stricter one has no part in this press"
    ledger.settle(52_000, loose, out)
    assert brief(out) == "+A -A +A -A" and ledger.due_us() is None


@pytest.mark.parametrize("held_ms", [0, 5, 500])
@pytest.mark.parametrize("shortest_ms", [20, 200])
def test_letters_wait_for_the_modifiers_that_they_are_typed_without(held_ms: int, shortest_ms: int) -> None:
    slots = 'south = { keys = ["KEY_LEFTSHIFT"] }\neast = { sequence = "greet" }'
    greeting = '[[sequences]]\nid = "greet"\nlabel = "G"\nsteps = [{ text = "aBc" }]'
    player = Player(slots, rest=greeting, shortest_ms=shortest_ms)
    player.feed(south=1)
    player.wait(held_ms)
    if held_ms == 5:
        player.feed(south=0)
    player.feed(east=1)
    player.wait(5_000)
    shift, typed = False, ""
    for key in player.outputs:
        assert isinstance(key, Key)
        if key.code == "KEY_LEFTSHIFT":
            shift = key.down
        elif key.down:
            letter = key.code.removeprefix("KEY_")
            typed += letter if shift else letter.lower()
    assert typed == "aBc"
    assert shift is (held_ms != 5), "Shift is as it is held again"
    player.stop()
    player.wait(0)
    assert player.engine.state().down == ()


@given(st.integers(1, 60), st.integers(0, 200), st.integers(0, 200), st.floats(0.01, 1.0))
def test_a_pulse_is_down_for_the_part_of_the_time_that_its_slot_is_pressed_deep(
    rate_hz: int, key_ms: int, gap_ms: int, depth: float
) -> None:
    game = Game(shortest_key_ms=key_ms, shortest_gap_ms=gap_ms)
    slot = Assignment(keys=("KEY_A",), manner=Manner.PULSE, rate_hz=rate_hz)
    layer = Layer(id="base", label="Base", slots={"right_trigger.light": slot})
    feel = Feel(right_trigger=TriggerFeel(light=Stage(on=0.002, off=0.001)))
    engine = Engine(Program(Profile(schema=SCHEMA_VERSION, title="T", layers=(layer,), game=game, feel=feel)))
    end_us = 10_000_000
    outputs = engine.feed(Frame(0, {"right_trigger": depth}))
    while (deadline := engine.deadline()) is not None and deadline <= end_us:
        outputs += engine.advance(deadline)
    keys = [output for output in outputs if isinstance(output, Key)]
    times = [key.t_us for key in keys] + ([end_us] if len(keys) % 2 else [])
    down_us = sum(up - down for down, up in zip(times[::2], times[1::2], strict=True))
    assert down_us / end_us == pytest.approx(depth, abs=0.0115)  # half of the shortest time, and a thousandth of depth


HOLD = 'hold = { keys = ["KEY_A"], after_ms = 300 }'
TAP = 'tap = { keys = ["KEY_C"] }, tap_ms = 100'


@pytest.mark.parametrize(
    ("does", "pull_ms", "said", "after_ms"),
    [(TAP, 90, "+C -C", 90), (TAP, 118, "", 0), (TAP, 130, "", 0), (HOLD, 290, "", 0), (HOLD, 310, "+A -A", 300)],
)
def test_a_pull_that_may_be_light_or_deep_counts_from_the_hand(
    does: str, pull_ms: int, said: str, after_ms: int
) -> None:
    slots = f'"right_trigger.light" = {{ {does} }}\n"right_trigger.deep" = {{ keys = ["KEY_B"] }}'
    player = Player(slots, rest='[feel.right_trigger]\nstages = "either"\neither_ms = 120')
    player.feed(right_trigger=0.5)
    player.wait(pull_ms)
    player.feed(right_trigger=0.0)
    player.wait(1_000)
    assert brief(player.outputs) == said
    assert all(key.t_us == START_US + after_ms * 1000 for key in player.outputs[:1])


def test_a_turbo_by_depth_goes_faster_as_soon_as_its_trigger_is_pulled() -> None:
    slots = '"right_trigger.light" = { keys = ["KEY_A"], manner = "turbo", rate_hz = 10, light_hz = 2 }'
    player = Player(slots, rest="[feel.right_trigger]\nlight = { on = 0.05, off = 0.02 }")
    for step in range(1, 11):
        player.feed(right_trigger=step / 10)
        player.wait(6)
    player.wait(3_000)
    downs = [(key.t_us - START_US) / 1000 for key in player.outputs if isinstance(key, Key) and key.down]
    assert downs[1] < 150, "at the light rate the second one would come after 500 ms"
    assert all(after - before == pytest.approx(100, abs=1) for before, after in pairwise(downs[1:]))


def turned(outputs: list[Output]) -> int:
    """By how many counts the view has turned to the right."""
    return sum(output.dx for output in outputs if isinstance(output, Pointer))


@pytest.mark.parametrize("out_ms", [5, 30, 60, 100, 400])
def test_a_flick_is_finished_whatever_its_stick_does(out_ms: int) -> None:
    player = Player("right_stick = { flick = {} }")
    player.feed(right_stick__x=1.0)
    player.wait(out_ms)
    player.feed(right_stick__x=0.0)
    player.wait(1_000)
    assert turned(player.outputs) == 900 and player.engine.deadline() is None  # a quarter of 3600 counts
    player.feed(right_stick__x=1.0)
    player.wait(50)
    player.feed(right_stick__x=0.0)
    half = turned(player.outputs)
    player.feed(right_stick__x=-1.0)
    player.wait(1_000)
    assert turned(player.outputs) == pytest.approx(half - 900, abs=1), "pushed out anew it turns from where it is"


@pytest.mark.parametrize(
    ("snap", "x", "y", "degrees"),
    [
        ("none", 0.34, -0.94, 19.9),
        ("forward", 0.34, -0.94, 0),
        ("forward", 0.64, -0.77, 39.7),
        ("eighth", 0.5, -0.8, 45),
        ("quarter", 0.6, -0.8, 0),
        ("quarter", -0.8, 0.6, -90),
    ],
)
def test_a_flick_may_snap(snap: str, x: float, y: float, degrees: float) -> None:
    player = Player(f'right_stick = {{ flick = {{ snap = "{snap}" }} }}')
    player.feed(right_stick__x=x, right_stick__y=y)
    player.wait(1_000)
    assert turned(player.outputs) == pytest.approx(degrees * 10, abs=1)


def test_a_toggle_that_a_layer_takes_over_with_its_basis_has_one_state() -> None:
    slots = 'south = { layer = "shift" }\neast = { layer = "over" }'
    enter = '[layers.enter]\nkeys = ["KEY_A"]\nmanner = "toggle"'
    player = Player(slots, rest=f'{enter}\n[[layers]]\nid = "over"\nlabel = "O"\nbased_on = "shift"')
    said = [brief(player.feed(**{slot: down})) for slot in ("south", "east", "east", "south") for down in (1.0, 0.0)]
    assert said == ["+A", "", "-A", "", "+A", "", "-A", ""]


def test_what_ends_a_toggle_by_a_direction_counts_the_diagonals_that_lean_that_way() -> None:
    slots = (
        'south = { keys = ["KEY_A"], manner = "toggle", ended_by = ["left_stick.down"] }\n'
        '"left_stick.down_left" = { keys = ["KEY_B"] }'
    )
    for x, y, ends in ((-0.7, 0.7, True), (0.7, 0.7, True), (0.0, 1.0, True), (-0.7, -0.7, False), (1.0, 0.0, False)):
        player = Player(slots)
        player.feed(south=1.0)
        player.feed(south=0.0)
        assert ("-A" in brief(player.feed(left_stick__x=x, left_stick__y=y))) is ends, (x, y)


@pytest.mark.parametrize("rate_hz", [30, 60, 90, 125, 250, 1000])
def test_a_finger_rolls_on_as_far_however_often_its_surface_reports(rate_hz: int) -> None:
    player = Player("surface = { drag = { x = 1000, y = 0, roll_ms = 500 } }")
    period_ms = 1000 / rate_hz
    for sample in range(round(0.2 * rate_hz) + 1):  # 1000 counts a second
        player.feed(surface__touch=1.0, surface__x=sample / rate_hz * 2 - 0.5)
        player.wait(period_ms)
    dragged = turned(player.outputs)
    player.feed(surface__touch=0.0)
    player.wait(5_000)
    assert turned(player.outputs) - dragged == pytest.approx(493, abs=4)  # until it is too slow to go on
    player.feed(surface__touch=1.0, surface__x=0.0)
    player.wait(10)
    player.feed(surface__x=0.1)
    player.wait(100)
    rested = turned(player.outputs)
    player.feed(surface__touch=0.0)
    player.wait(500)
    assert turned(player.outputs) == rested, "it had come to rest"

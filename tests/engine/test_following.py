"""Which layers a held control follows, and what it begins again."""

from __future__ import annotations

import pytest
from hypothesis import given, settings
from hypothesis import strategies as st
from msgspec.structs import replace

from nub_shift.engine.engine import Engine
from nub_shift.engine.program import Program
from nub_shift.engine.values import Frame, Key, Output, Pointer
from nub_shift.model.problems import ProfileError
from nub_shift.model.profile.feel import StickFeel
from tests.engine.playing import Player, brief

FOLLOWING = [
    # slots of the base layer, of the layer, what plays before the layer comes, with it, after it
    (
        '"left_stick.up" = { move = "walk", double_tap = { keys = ["KEY_X"] } }',
        '"left_stick.up" = { keys = ["KEY_UP"] }',
        "+W | +UP -W | +W -UP | -W",
    ),
    (
        '"left_stick.up" = { move = "walk" }\n[[layers.together]]\nslots = ["left_stick.up", "south"]\n'
        'keys = ["KEY_J"]',
        '"left_stick.up" = { keys = ["KEY_UP"] }',
        "+W | +UP -W | +W -UP | -W",
    ),
    ('"left_stick.up" = { move = "walk" }', '"left_stick.up" = { wheel = "up" }', "+W | wheel(0,120) -W | +W | -W"),
    (
        '"left_stick.up" = { move = "walk" }',
        '"left_stick.up" = { keys = ["KEY_R"], manner = "toggle" }',
        "+W | +R -W | +W | -W",
    ),
    ('"left_stick.up" = { wheel = "up" }', '"left_stick.up" = { move = "walk" }', "wheel(0,120) | +W | -W | "),
    (
        '"left_stick.up" = { keys = ["KEY_R"], manner = "toggle" }',
        '"left_stick.up" = { move = "walk" }',
        "+R | +W | -W | ",
    ),
    (
        '"left_stick.up" = { hold = { after_ms = 40, keys = ["KEY_H"] }, tap = { keys = ["KEY_T"] } }',
        '"left_stick.up" = { move = "walk" }',
        "+H | +W -H | +H -W | -H",  # it is held for long enough as the layer goes
    ),
    (
        '"left_stick.up" = { carousel = { id = "c" } }',
        '"left_stick.up" = { move = "walk" }',
        "+2 | +W -2 | -W | ",  # one press is one step
    ),
]
WITH_CAROUSEL = """
[[carousels]]
id = "c"
label = "C"
entries = [{ keys = ["KEY_1"] }, { keys = ["KEY_2"] }, { keys = ["KEY_3"] }]"""


@pytest.mark.parametrize(("slots", "layer", "played"), FOLLOWING)
def test_a_held_stick_follows_layers_whatever_it_does(slots: str, layer: str, played: str) -> None:
    player = Player('left_shoulder = { layer = "shift" }\n' + slots, layer, WITH_CAROUSEL)
    told = []
    steps: list[dict[str, float]] = [
        {"left_stick__y": -1.0},
        {"left_shoulder": 1.0},
        {"left_shoulder": 0.0},
        {"left_stick__y": 0.0},
    ]
    for step in steps:
        before = len(player.outputs)
        player.feed(**step)
        player.wait(100)
        told.append(brief(player.outputs[before:]))
    assert " | ".join(told) == played


@pytest.mark.parametrize(
    "brings",
    [
        '{ layer = "shift" }',
        '{ layer = "shift", manner = "toggle" }',
        '{ stay = "shift" }',
        '{ next = ["shift", "base"] }',
        '{ carousel = { id = "layers" } }',
    ],
)
def test_a_layer_applies_to_what_is_pressed_in_the_same_frame_however_it_comes(brings: str) -> None:
    entries = '[[carousels]]\nid = "layers"\nlabel = "L"\nentries = [{ keys = ["KEY_1"] }, { layer = "shift" }]'
    slots = f'left_shoulder = {brings}\nsouth = {{ keys = ["KEY_A"] }}'
    player = Player(slots, 'south = { keys = ["KEY_B"] }', entries)
    assert brief(player.feed(south=1, left_shoulder=1)) == "+B"


def test_a_sequence_that_two_slots_hold_goes_on_until_both_have_let_go() -> None:
    repeats = '[[sequences]]\nid = "s"\nlabel = "S"\nruns = "while_held"\nsteps = [{ tap = ["KEY_A"] }]'
    player = Player('south = { sequence = "s" }\neast = { sequence = "s" }', rest=repeats)
    player.feed(south=1)
    player.wait(30)
    player.feed(east=1)
    player.feed(south=0)
    assert brief(player.wait(100)).count("+A") == 2
    player.feed(east=0)
    player.outputs.clear()
    player.wait(200)
    assert brief(player.outputs) == ""


@pytest.mark.parametrize(
    ("slots", "part"),
    [
        ('south = { tap = { layer = "shift" } }', "a tap is over at once"),
        ("south = { tap = { pace = 0.5 } }", "a tap is over at once"),
        ("south = { release = { glide = { x = 9 } } }", "a release is over at once"),
        ('south = { motion = "on", manner = "once" }', "motion cannot be kept up as once"),
        ('south = { tap = { keys = ["KEY_A"], manner = "turbo" } }', "a tap is over at once"),
        ('"left_stick.up_left" = { keys = ["KEY_A"] }', "left_stick has four ways only"),
    ],
)
def test_what_would_do_nothing_is_refused(slots: str, part: str) -> None:
    with pytest.raises(ProfileError) as caught:
        Player(slots, rest="[feel.left_stick.directions]\nways = 4")
    assert part in str(caught.value)


def test_a_trigger_that_is_held_through_a_pause_does_not_begin_again_what_one_press_does_once() -> None:
    slots = (
        '"right_trigger.light" = { wheel = "up" }\n"left_trigger.light" = { carousel = { id = "c" } }\n'
        '"left_stick.up" = { move = "walk" }'
    )
    player = Player(slots, rest=WITH_CAROUSEL)
    player.feed(right_trigger=1, left_trigger=1, left_stick__y=-1)
    player.stop()
    before = len(player.outputs)
    player.outputs += player.engine.resume(player.now_us)
    assert brief(player.outputs[before:]) == "+W"


def test_a_pulse_follows_the_feel_and_no_pull_is_too_small_for_it() -> None:
    slots = '"left_stick.up" = { keys = ["KEY_A"], manner = "pulse", rate_hz = 20 }'
    feel = "[feel.left_stick]\ndead_zone = 0.2\nedge_zone = 0\npower = 2\ndirections = { on = 0.3, off = 0.2 }"
    for pushed in (0.35, 0.5, 0.9, 0.98, 1.0):
        player = Player(slots, rest=feel, shortest_ms=20)
        player.feed(left_stick__y=-pushed)
        player.wait(10_000)
        player.feed(left_stick__y=0)
        player.wait(100)
        keys = [output for output in player.outputs if isinstance(output, Key)]
        downs = [(up.t_us - down.t_us) / 1000 for down, up in zip(keys[::2], keys[1::2], strict=True)]
        assert min(downs) >= 20
        assert sum(downs) / 10_000 == pytest.approx(((pushed - 0.2) / 0.8) ** 2, abs=0.012)


def test_a_stick_that_has_chosen_from_a_ring_neither_looks_nor_walks_before_it_has_been_back() -> None:
    slots = 'left_shoulder = { layer = "shift" }\nright_stick = { pointer = { x = 900, y = 0 } }'
    ring = '[[rings]]\nid = "r"\nlabel = "R"\nentries = [{ keys = ["KEY_1"] }, { keys = ["KEY_2"] }]'
    walks = '"left_stick.up" = { move = "walk" }'
    for below, stick in ((slots, "right_stick"), (slots + "\n" + walks, "left_stick")):
        player = Player(below, f'{stick} = {{ ring = "r" }}', ring)
        player.feed(left_shoulder=1)
        player.feed(**{f"{stick}__x": 0.7, f"{stick}__y": -0.7})
        player.wait(300)
        player.feed(left_shoulder=0)
        player.wait(300)
        assert brief(player.outputs) == ""
        player.feed(**{f"{stick}__x": 0.0, f"{stick}__y": 0.0})
        player.feed(**{f"{stick}__x": 0.7, f"{stick}__y": -0.7})
        player.wait(50)
        assert brief(player.outputs) != ""


def way(outputs: list[Output]) -> int:
    """How far the pointer went to the right."""
    return sum(out.dx for out in outputs if isinstance(out, Pointer))


@settings(max_examples=30)
@given(power=st.floats(0.3, 4.0), dead_zone=st.floats(0.0, 0.5), push=st.floats(0.6, 1.0))
def test_a_feel_is_tuned_while_something_is_held(power: float, dead_zone: float, push: float) -> None:
    """No key goes up or down, and from then on it is as if it had been played so all along."""
    slots = (
        'south = { keys = ["KEY_A"] }\neast = { layer = "shift" }\nright_stick = { pointer = { x = 1000, y = 800 } }'
    )
    player = Player(slots, 'south = { keys = ["KEY_B"] }')
    player.feed(south=1.0, east=1.0, right_stick__x=push)
    player.wait(50)
    program = player.engine._program
    tuned = StickFeel(dead_zone=dead_zone, power=power)
    profile = replace(program.profile, feel=replace(program.profile.feel, right_stick=tuned))
    assert program.retuned(replace(profile, title="Another")) is None
    assert program.retuned(program.profile) is None, "it may be another keyboard layout"
    retuned = program.retuned(profile)
    assert retuned is not None
    held = player.engine.state()
    outputs = player.engine.retune(retuned, player.now_us)
    assert not [out for out in outputs if isinstance(out, Key)] and player.engine.state() == held
    fresh = Engine(Program(profile))
    fresh.feed(Frame(player.now_us, {"right_stick.x": push}))
    wanted = [out for ms in range(1, 201) for out in fresh.advance(player.now_us + ms * 1_000)]
    assert abs(way(player.wait(200)) - way(wanted)) <= 2
    player.feed(south=0.0, east=0.0, right_stick__x=0.0)
    assert player.engine.state().down == ()

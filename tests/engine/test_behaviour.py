"""How the engine behaves, as a table: each row is a sentence, a profile, and what follows each step in virtual time.

A step is a frame (channel values) or a wait (milliseconds); beside it stands what comes out.
"""

from __future__ import annotations

import pytest

from nub_shift.engine.engine import Engine
from nub_shift.engine.ledger import Ledger
from nub_shift.engine.program import Program
from nub_shift.engine.values import Frame, Key, Pointer
from nub_shift.store.profile_files import parse_profile
from tests.engine.playing import START_US, Player, brief, profile_text

WASD = """
"left_stick.up" = { move = "walk" }
"left_stick.down" = { keys = ["KEY_S"] }
"left_stick.left" = { keys = ["KEY_A"] }
"left_stick.right" = { keys = ["KEY_D"] }
left_shoulder = { layer = "shift" }
"""
JUMP = 'south = { keys = ["KEY_SPACE"] }\nleft_shoulder = { layer = "shift" }'

Step = tuple[dict[str, float] | float, str]
X, Y, SHIFT = "left_stick__x", "left_stick__y", "left_shoulder"

TABLE: list[tuple[str, str, str, list[Step]]] = [
    (
        "a button holds its key while it is held",
        JUMP,
        "",
        [({"south": 1}, "+SPACE"), (500, ""), ({"south": 1}, ""), ({"south": 0}, "-SPACE")],
    ),
    (
        "a combination goes down modifiers first and up in reverse",
        'south = { keys = ["KEY_C", "KEY_LEFTCTRL"] }',
        "",
        [({"south": 1}, "+LEFTCTRL +C"), ({"south": 0}, "-C -LEFTCTRL")],
    ),
    (
        "two controls on one key: down with the first, up with the last",
        'south = { move = "walk" }\neast = { keys = ["KEY_W"] }',
        "",
        [({"south": 1}, "+W"), ({"east": 1}, ""), ({"south": 0}, ""), ({"east": 0}, "-W")],
    ),
    (
        "a move of the wheel clicks once a press",
        'south = { move = "next" }\neast = { wheel = "left" }',
        "",
        [({"south": 1}, "wheel(0,-120)"), ({"south": 0}, ""), ({"east": 1}, "wheel(-120,0)")],
    ),
    (
        "a trigger presses above its on and releases below its off",
        '"right_trigger.light" = { keys = ["BTN_LEFT"] }',
        "",
        [
            ({"right_trigger": 0.34}, ""),
            ({"right_trigger": 0.36}, "+BTN_LEFT"),
            ({"right_trigger": 0.26}, ""),
            ({"right_trigger": 0.24}, "-BTN_LEFT"),
        ],
    ),
    (
        "a stick goes through a diagonal and nothing is let go too early",
        WASD,
        "",
        [
            ({X: 0, Y: -1}, "+W"),
            ({X: 0.7, Y: -0.7}, "+D"),
            ({X: 1, Y: 0}, "-W"),
            ({X: 0, Y: 0}, "-D"),
        ],
    ),
    (
        "a stick that trembles on a border of two directions stays with the one it had",
        WASD,
        "",
        [
            ({X: 0.35, Y: -0.94}, "+W"),  # 20 degrees: up
            ({X: 0.42, Y: -0.91}, ""),  # 25: past the border, within hysteresis
            ({X: 0.47, Y: -0.88}, "+D"),  # 28: diagonal
            ({X: 0.35, Y: -0.94}, ""),
        ],
    ),
    (
        "a stick that trembles on the radius does not chatter",
        WASD,
        "",
        [({Y: -0.46}, "+W"), ({Y: -0.4}, ""), ({Y: -0.46}, ""), ({Y: -0.34}, "-W")],
    ),
    (
        "what a press started its release ends, whatever the layer is by then",
        JUMP,
        'south = { keys = ["KEY_X"] }',
        [
            ({"south": 1}, "+SPACE"),
            ({SHIFT: 1}, ""),
            ({"south": 0}, "-SPACE"),
            ({"south": 1}, "+X"),
            ({SHIFT: 0}, ""),
            ({"south": 0}, "-X"),
        ],
    ),
    (
        "a stick held while a layer comes on presses that layer's key in the same step",
        WASD,
        '"left_stick.up" = { keys = ["KEY_UP"] }',
        [({Y: -1}, "+W"), ({SHIFT: 1}, "+UP -W"), ({SHIFT: 0}, "+W -UP"), ({Y: 0}, "-W")],
    ),
    (
        "a key that both layers hold stays down through the change",
        WASD,
        '"left_stick.up" = { keys = ["KEY_LEFTSHIFT", "KEY_W"] }',
        [({Y: -1}, "+W"), ({SHIFT: 1}, "+LEFTSHIFT"), ({SHIFT: 0}, "-LEFTSHIFT"), ({Y: 0}, "-W")],
    ),
    (
        "a silenced slot does nothing, an empty one shows the layer below",
        JUMP + '\neast = { keys = ["KEY_E"] }',
        "south = { silence = true }",
        [({SHIFT: 1}, ""), ({"south": 1}, ""), ({"south": 0}, ""), ({"east": 1}, "+E")],
    ),
    (
        "a layer pressed in the same frame as a button applies to that button",
        JUMP,
        'south = { keys = ["KEY_X"] }',
        [({"south": 1, SHIFT: 1}, "+X"), ({"south": 0, SHIFT: 0}, "-X")],
    ),
    (
        "a trigger that holds a layer keeps it though the layer gives the trigger something else",
        '"left_trigger.light" = { layer = "shift" }\nsouth = { move = "walk" }',
        '"left_trigger.light" = { keys = ["KEY_Q"] }\nsouth = { keys = ["KEY_X"] }',
        [({"left_trigger": 1}, ""), ({"south": 1}, "+X"), ({"left_trigger": 0}, ""), ({"south": 0}, "-X")],
    ),
    (
        "the pointer moves at its speed, in whole counts, and rests with the stick",
        "right_stick = { pointer = { x = 1000, y = 500 } }",
        "",
        [
            ({"right_stick__x": 1, "right_stick__y": 0}, ""),
            (3, "<1,0> <1,0> <1,0>"),
            ({"right_stick__x": 0, "right_stick__y": 1}, ""),
            (4, "<0,1> <0,1>"),
            ({"right_stick__y": 0}, ""),
            (1000, ""),
        ],
    ),
    (
        "a layer with another speed takes the pointer over while the stick is held",
        "right_stick = { pointer = { x = 1000, y = 0 } }\nleft_shoulder = { layer = 'shift' }",
        "right_stick = { pointer = { x = -1000, y = 0 } }",
        [
            ({"right_stick__x": 1}, ""),
            (2, "<1,0> <1,0>"),
            ({SHIFT: 1}, ""),
            (2, "<-1,0> <-1,0>"),
            ({SHIFT: 0}, ""),
            (1, "<1,0>"),
        ],
    ),
]


@pytest.mark.parametrize(("slots", "layer", "steps"), [row[1:] for row in TABLE], ids=[row[0] for row in TABLE])
def test_the_engine_behaves_as_the_table_says(slots: str, layer: str, steps: list[Step]) -> None:
    player = Player(slots, layer)
    for number, (step, expected) in enumerate(steps, 1):
        made = player.feed(**step) if isinstance(step, dict) else player.wait(step)
        assert brief(made) == expected, f"step {number}: {step}"


def test_stop_empties_the_ledger_and_held_sticks_act_again_after_resume() -> None:
    player = Player(WASD + 'south = { keys = ["KEY_SPACE"] }')
    player.feed(left_stick__y=-1, south=1)
    assert brief(player.stop()) in ("-SPACE -W", "-W -SPACE")
    assert player.engine.state().down == ()
    assert brief(player.engine.resume(player.now_us)) == "+W"
    assert brief(player.feed(south=0)) == ""
    assert brief(player.feed(south=1)) == "+SPACE"


def test_another_program_takes_over_in_place() -> None:
    player = Player(WASD + 'south = { keys = ["KEY_SPACE"] }')
    player.feed(left_stick__y=-1, south=1)
    other = Program(
        parse_profile(profile_text('"left_stick.up" = { keys = ["KEY_UP"] }\nsouth = { keys = ["KEY_Z"] }'))
    )
    outputs = player.engine.replace(other, player.now_us)
    assert sorted(brief(outputs).split()) == ["+UP", "-SPACE", "-W"]
    assert brief(player.feed(south=0, left_stick__y=0)) == "-UP"
    assert brief(player.feed(south=1)) == "+Z"


def test_a_pad_that_is_gone_holds_nothing_and_comes_back_at_rest() -> None:
    player = Player(WASD)
    player.feed(left_stick__y=-1, left_shoulder=1)
    assert brief(player.engine.forget_pad(player.now_us)) == "-W"
    assert player.engine.state().layers == ("base",)
    assert brief(player.feed(left_stick__y=-1)) == "+W"


def test_two_engines_share_a_ledger() -> None:
    ledger = Ledger()
    program = Program(parse_profile(profile_text(JUMP)))
    first, second = Engine(program, ledger), Engine(program, ledger)
    assert brief(first.feed(Frame(START_US, {"south": 1}))) == "+SPACE"
    assert brief(second.feed(Frame(START_US, {"south": 1}))) == ""
    assert brief(first.stop(START_US)) == ""
    assert brief(second.feed(Frame(START_US, {"south": 0}))) == "-SPACE"


def test_after_a_gap_nothing_is_made_up_for() -> None:
    player = Player("right_stick = { pointer = { x = 1000, y = 0 } }")
    player.feed(right_stick__x=1)
    player.wait(10)
    late_us = player.now_us + 60_000_000
    assert player.engine.advance(late_us) == []
    assert player.engine.advance(late_us + 1000) == [Pointer(late_us + 1000, 1, 0)]


def test_a_late_wake_up_sends_what_is_due_at_once() -> None:
    player = Player("right_stick = { pointer = { x = 1000, y = 0 } }")
    player.feed(right_stick__x=1)
    assert player.engine.advance(START_US + 7_400) == [Pointer(START_US + 7_400, 7, 0)]


def test_time_that_seems_to_go_back_is_taken_as_now() -> None:
    player = Player(JUMP)
    player.engine.advance(START_US + 1000)
    (output,) = player.feed(south=1)
    assert output.t_us == START_US + 1000


def test_a_pad_that_floods_cannot_flood_the_system() -> None:
    slots = """
south = { keys = ["KEY_A"] }
east = { wheel = "up" }
west = { nudge = { x = 1 } }
north = { profile = "Other" }
left_stick = { position = { x = 100 } }
right_stick = { pointer = { x = 20000, y = 0 } }"""
    player = Player(slots)
    for number in range(20_000):  # in one second
        down = float(number % 2 == 0)
        player.feed(south=down, east=down, west=down, north=down, left_stick__x=down, right_stick__x=down)
        player.wait(0.05)
    presses = [output for output in player.outputs if isinstance(output, Key) and output.down]
    assert 1000 <= len(presses) <= 1400
    assert len(player.outputs) - 2 * len(presses) <= 1400 + 1000  # besides, the pointer's own ticks
    player.stop()
    assert player.engine.state().down == ()

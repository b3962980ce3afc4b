"""Each kind of behaviour, shown by a short profile and a recording of a pad through `nub-shift replay`."""

from __future__ import annotations

import json
from math import cos, radians, sin
from pathlib import Path
from typing import Any

import pytest
from click.testing import CliRunner

from nub_shift.cli.main import main
from nub_shift.engine.values import Frame
from nub_shift.model.controls import CONTROLS
from nub_shift.pads.description import Description
from nub_shift.pads.known.gamepad import wiring_of
from nub_shift.pads.made_up.encoder import Encoder, describe_canonical, describe_motion, describe_surface
from nub_shift.pads.recorded.recording import write_events, write_header
from tests.engine.playing import profile_text

Steps = list[tuple[int, dict[str, float]]]

BACK_AND_FORTH: Steps = [
    *((0, {"east": 1.0}), (50, {"east": 0.0}), (100, {"west": 1.0}), (150, {"west": 0.0})),
    *((200, {"west": 1.0}), (250, {"west": 0.0})),
]

PULLS = '"right_trigger.light" = { keys = ["KEY_A"] }\n"right_trigger.deep" = { keys = ["KEY_B"] }'
PULL_ENDS: Steps = [(300, {"right_trigger": 0})]
CAROUSEL = '[[carousels]]\nid = "c"\nlabel = "C"\nentries = [{ keys = ["KEY_1"] }, { keys = ["KEY_2"] }]\n'


def _tilted(degrees: float) -> dict[str, float]:
    """A pad that lies tilted to the right."""
    angle = radians(degrees)
    return {"motion.accel_x": -sin(angle), "motion.accel_y": cos(angle), "motion.gyro_x": degrees / 1000}


# slots, further tables, what the pad does at which millisecond, what the game gets at which millisecond
TABLE: dict[str, tuple[str, str, Steps, str]] = {
    "tap and hold": (
        'south = { tap = { keys = ["KEY_A"] }, hold = { after_ms = 200, keys = ["KEY_B"] } }',
        "",
        [(0, {"south": 1}), (100, {"south": 0}), (500, {"south": 1}), (900, {"south": 0})],
        "100+A 120-A 700+B 900-B",
    ),
    "double tap": (
        'south = { tap = { keys = ["KEY_A"] }, double_tap = { within_ms = 200, keys = ["KEY_B"] } }',
        "",
        [(0, {"south": 1}), (50, {"south": 0}), (150, {"south": 1}), (190, {"south": 0}), (900, {"east": 1})],
        "150+B 190-B",
    ),
    "two slots together": (
        'left_shoulder = { layer = "shift" }',
        '[[layers.together]]\nslots = ["south", "east"]\nkeys = ["KEY_C"]',
        [(0, {"left_shoulder": 1}), (10, {"south": 1}), (50, {"east": 1}), (200, {"east": 0})],
        "50+C 200-C",
    ),
    "turbo": (
        'south = { keys = ["KEY_A"], manner = "turbo", rate_hz = 10, duty = 0.5 }',
        "",
        [(0, {"south": 1}), (220, {"south": 0}), (500, {"east": 1})],
        "0+A 50-A 100+A 150-A 200+A 250-A",
    ),
    "toggle": (
        'south = { keys = ["KEY_A"], manner = "toggle" }',
        "",
        [(0, {"south": 1}), (30, {"south": 0}), (300, {"south": 1}), (330, {"south": 0})],
        "0+A 300-A",
    ),
    "pulse": (
        '"right_trigger.light" = { keys = ["KEY_A"], manner = "pulse", rate_hz = 10 }',
        "[feel.right_trigger]\nlight = { on = 0.1, off = 0.05 }",
        [(0, {"right_trigger": 0.3}), (100, {"right_trigger": 0.7}), (210, {"right_trigger": 0}), (300, {"east": 1})],
        "0+A 26-A 100+A 126-A 200+A 220-A",
    ),
    "sequence with text": (
        'south = { sequence = "hi" }',
        '[[sequences]]\nid = "hi"\nlabel = "Hi"\nsteps = [{ wait_ms = 100 }, { text = "Hi" }]',
        [(0, {"south": 1}), (10, {"south": 0}), (400, {"east": 1})],
        "100+LEFTSHIFT 100+H 120-H 120-LEFTSHIFT 140+I 160-I",
    ),
    "carousel on two slots": (
        'east = { carousel = { id = "c" } }\nwest = { carousel = { id = "c", step = "back" } }',
        '[[carousels]]\nid = "c"\nlabel = "C"\n'
        'entries = [{ keys = ["KEY_1"] }, { keys = ["KEY_2"] }, { keys = ["KEY_3"] }]',
        BACK_AND_FORTH,
        "0+2 50-2 100+1 150-1 200+3 250-3",
    ),
    "ring": (
        'right_stick = { ring = "r" }',
        '[[rings]]\nid = "r"\nlabel = "R"\nentries = [{ keys = ["KEY_1"] }, { keys = ["KEY_2"] }]',
        [(0, {"right_stick.x": 0}), (100, {"right_stick.y": 1}), (300, {"right_stick.y": 0}), (400, {"east": 1})],
        "300+2 320-2",
    ),
    "a layer while a stick is held": (
        '"left_stick.up" = { move = "walk" }\nleft_shoulder = { layer = "shift" }',
        "",
        [
            (0, {"left_stick.y": -1}),
            (100, {"left_shoulder": 1}),
            (200, {"left_shoulder": 0}),
            (300, {"left_stick.y": 0}),
        ],
        "0+W 100+UP 100-W 200+W 200-UP 300-W",
    ),
    "look with a stick": (
        "right_stick = { pointer = { x = 1000, y = 0 } }",
        "[feel.right_stick]\nedge_zone = 0",
        [(0, {"right_stick.x": 1}), (500, {"right_stick.x": 0})],
        "500<500,0>",
    ),
    "look with motion": (
        "motion = { turn = {} }",
        '[feel.motion]\naxis = "yaw"\nratio = 1\ngate_dps = 0\nsmooth_below_dps = 0',
        [(at, {"motion.gyro_y": -90.1 if at < 500 else 0.0, "motion.accel_y": 1.0}) for at in range(0, 508, 4)],
        "500<446,0>",
    ),
    "a sensor on each side of rest": (
        '"slider_1.low" = { keys = ["KEY_A"] }\n"slider_1.high" = { keys = ["KEY_B"] }',
        "",
        [(0, {"slider_1": -0.5}), (100, {"slider_1": 0.5}), (200, {"slider_1": 0})],
        "0+A 100-A 100+B 200-B",
    ),
    "several effects on one press, ended in the reverse": (
        'left_shoulder = { keys = ["KEY_C"], also = [{ layer = "shift" }, { keys = ["KEY_D"], manner = "once" }] }\n'
        '"left_stick.up" = { move = "walk" }',
        "",
        [(0, {"left_stick.y": -1}), (100, {"left_shoulder": 1}), (200, {"left_shoulder": 0}), (300, {"east": 1})],
        "0+W 100+C 100+D 100+UP 100-W 120-D 200-C 200+W 200-UP 300-W",
    ),
    "a deep pull beside the light one": (
        PULLS,
        "",
        [(0, {"right_trigger": 0.5}), (100, {"right_trigger": 1}), (200, {"right_trigger": 0.5}), *PULL_ENDS],
        "0+A 100+B 200-B 300-A",
    ),
    "a deep pull in place of the light one": (
        PULLS,
        '[feel.right_trigger]\nstages = "replace"',
        [(0, {"right_trigger": 0.5}), (100, {"right_trigger": 1}), (200, {"right_trigger": 0.5}), *PULL_ENDS],
        "0+A 100+B 100-A 200+A 200-B 300-A",
    ),
    "a pull has one stage or the other": (
        PULLS,
        '[feel.right_trigger]\nstages = "either"\neither_ms = 80',
        [
            *(
                (0, {"right_trigger": 0.5}),
                (40, {"right_trigger": 1.0}),
                (200, {"right_trigger": 0.0}),
            ),  # pulled through
            *((300, {"right_trigger": 0.5}), (500, {"right_trigger": 1.0}), (600, {"right_trigger": 0.0})),  # slowly
            *((700, {"right_trigger": 0.5}), (720, {"right_trigger": 0.0}), (800, {"east": 1.0})),  # a short light one
        ],
        "40+B 200-B 380+A 600-A 720+A 740-A",
    ),
    "what a layer does as it comes and goes": (
        'left_shoulder = { layer = "shift" }',
        '[layers.enter]\nkeys = ["BTN_RIGHT"]\n[layers.leave]\nkeys = ["KEY_R"]',
        [(0, {"left_shoulder": 1}), (200, {"left_shoulder": 0}), (300, {"east": 1})],
        "0+BTN_RIGHT 200-BTN_RIGHT 200+R 220-R",
    ),
    "a key held on for a time after letting go": (
        'south = { keys = ["KEY_A"], linger_ms = 100 }',
        "",
        [(0, {"south": 1}), (50, {"south": 0}), (100, {"south": 1}), (200, {"south": 0}), (400, {"east": 1})],
        "0+A 300-A",
    ),
    "a sequence of moves, the wheel, counts, a carousel, and what is held as long as its slot": (
        'south = { sequence = "s" }',
        '[[sequences]]\nid = "s"\nlabel = "S"\nsteps = [{ move = "walk", act = "hold" }, { move = "next" }, '
        '{ wheel = "up" }, { nudge = { x = 5 } }, { carousel = { id = "c" } }, { tap = ["BTN_LEFT"] }]\n' + CAROUSEL,
        [(0, {"south": 1}), (200, {"south": 0}), (400, {"east": 1})],
        "0+W 200-W 220(0,-120) 220(0,120) 220+2 220+BTN_LEFT 240-2 240-BTN_LEFT 220<5,0>",
    ),
    "of a group of toggles one is on": (
        'south = { keys = ["KEY_A"], manner = "toggle", group = "pace" }\n'
        'east = { keys = ["KEY_B"], manner = "toggle", group = "pace" }',
        "",
        [(0, {"south": 1}), (50, {"south": 0}), (100, {"east": 1}), (150, {"east": 0}), (200, {"east": 1})],
        "0+A 100+B 100-A 200-B",
    ),
    "a toggle ended by pulling back": (
        'south = { move = "walk", manner = "toggle", ended_by = ["left_stick.down"] }\n'
        '"left_stick.down" = { keys = ["KEY_S"] }',
        "",
        [(0, {"south": 1}), (50, {"south": 0}), (100, {"left_stick.y": 1}), (200, {"left_stick.y": 0})],
        "0+W 100-W 100+S 200-S",
    ),
    "a turbo that is on until the next press": (
        'south = { keys = ["KEY_A"], manner = "toggle_turbo", rate_hz = 10 }',
        "",
        [(0, {"south": 1}), (10, {"south": 0}), (220, {"south": 1}), (230, {"south": 0}), (400, {"east": 1})],
        "0+A 50-A 100+A 150-A 200+A 250-A",
    ),
    "held long, a key stays": (
        'south = { keys = ["KEY_A"], manner = "lock", lock_ms = 300 }',
        "",
        [
            *((0, {"south": 1.0}), (100, {"south": 0.0}), (200, {"south": 1.0}), (600, {"south": 0.0})),
            *((800, {"south": 1.0}), (850, {"south": 0.0}), (900, {"east": 1.0})),
        ],
        "0+A 100-A 200+A 800-A",
    ),
    "three slots together, and two of them": (
        'south = { keys = ["KEY_A"] }\nleft_shoulder = { layer = "shift" }',
        '[[layers.together]]\nslots = ["south", "east", "west"]\nkeys = ["KEY_C"]\nwithin_ms = 50\n'
        '[[layers.together]]\nslots = ["south", "east"]\nkeys = ["KEY_B"]\nwithin_ms = 50',
        [
            *(
                (0, {"left_shoulder": 1.0}),
                (10, {"south": 1.0}),
                (20, {"west": 1.0}),
                (30, {"east": 1.0}),
                (100, {"west": 0.0}),
            ),
            *((110, {"south": 0.0, "east": 0.0}), (200, {"south": 1.0}), (210, {"east": 1.0}), (300, {"south": 0.0})),
            *((310, {"east": 0.0}), (400, {"south": 1.0}), (500, {"south": 0.0})),
        ],
        "30+C 100-C 250+B 300-B 450+A 500-A",
    ),
    "two slots in their order": (
        'left_shoulder = { keys = ["KEY_L"] }\nsouth = { keys = ["KEY_A"] }\nselect = { layer = "shift" }',
        '[[layers.together]]\nslots = ["left_shoulder", "south"]\norder = "given"\nkeys = ["KEY_C"]',
        [
            *((0, {"select": 1.0}), (10, {"left_shoulder": 1.0}), (500, {"south": 1.0}), (600, {"south": 0.0})),
            *(
                (700, {"left_shoulder": 0.0}),
                (800, {"south": 1.0}),
                (810, {"left_shoulder": 1.0}),
                (900, {"south": 0.0}),
            ),
        ],
        "10+L 500+C 600-C 700-L 800+A 810+L 900-A 900-L",
    ),
    "a ring confirmed by letting go of what opened it": (
        'left_shoulder = { layer = "shift" }\nright_stick = { pointer = { x = 900, y = 0 } }',
        '[layers.slots.right_stick]\nring = "r"\n[[rings]]\nid = "r"\nlabel = "R"\nconfirm = "let_go"\n'
        'entries = [{ keys = ["KEY_1"] }, { keys = ["KEY_2"] }]',
        [(0, {"left_shoulder": 1}), (100, {"right_stick.y": 1}), (300, {"left_shoulder": 0}), (400, {"east": 1})],
        "300+2 320-2",
    ),
    "a ring on a touch surface": (
        'surface = { ring = "r" }',
        '[[rings]]\nid = "r"\nlabel = "R"\nentries = [{ keys = ["KEY_1"] }, { keys = ["KEY_2"] }]',
        [(0, {"surface.touch": 1}), (100, {"surface.y": 1}), (300, {"surface.touch": 0}), (400, {"surface.x": 1})],
        "300+2 320-2",
    ),
    "a ring by tilting": (
        'motion = { ring = "r" }',
        '[[rings]]\nid = "r"\nlabel = "R"\nentries = [{ keys = ["KEY_1"] }, { keys = ["KEY_2"] }]',
        [(at, _tilted(70 if 500 <= at < 1500 else 0)) for at in range(0, 3000, 10)],
        "2080+1 2100-1",
    ),
    "a flick turns the view, and goes round with the stick": (
        "right_stick = { flick = {} }",
        "",
        [
            *(
                (0, {"right_stick.x": 1.0}),
                (200, {"right_stick.x": 0.0, "right_stick.y": 1.0}),
                (300, {"right_stick.y": 0.0}),
            ),
            (400, {"east": 1}),
        ],
        "200<1800,0>",
    ),
    "an axis with a curve and a dead zone of its own": (
        "right_stick = { pointer = { x = 1000, y = 1000 } }",
        "[feel.right_stick]\nedge_zone = 0\ndead_zone = 0\nx = { power = 2 }\ny = { dead_zone = 0.5 }",
        [(0, {"right_stick.x": 0.5, "right_stick.y": 0.75}), (1000, {"right_stick.x": 0, "right_stick.y": 0})],
        "1000<250,499>",
    ),
    "looking slows down with the depth of a trigger": (
        'right_stick = { pointer = { x = 1000, y = 0 } }\n"left_trigger.light" = { pace = 0.2, by_depth = true }',
        "[feel.right_stick]\nedge_zone = 0\n[feel.left_trigger]\nlight = { on = 0.1, off = 0.04 }",
        [(0, {"right_stick.x": 1, "left_trigger": 0.52}), (1000, {"left_trigger": 1}), (2000, {"right_stick.x": 0})],
        "1996<799,0>",
    ),
    "a finger that leaves lets the pointer roll on until the next touch": (
        "surface = { drag = { x = 1000, y = 0, roll_ms = 200 } }",
        "",
        [
            *((at, {"surface.touch": 1.0, "surface.x": at / 100}) for at in range(0, 100, 5)),
            *((100, {"surface.touch": 0.0}), (1500, {"surface.touch": 1.0})),
        ],
        "1246<1482,0>",
    ),
    "tilting steers by pulses, from a centre of its own": (
        '"motion.tilt_right" = { keys = ["KEY_D"], manner = "pulse", rate_hz = 10 }',
        "[feel.motion.tilt]\non_degrees = 10\noff_degrees = 8\ndead_degrees = 5\nfull_degrees = 45",
        [(at, _tilted(25 if at >= 500 else 0)) for at in range(0, 1300, 10)],
        "840+D 860-D 940+D 960-D 1040+D 1060-D 1140+D 1160-D 1240+D 1268-D",
    ),
    "tilting moves the pointer": (
        "motion = { tilt = { x = 1000, y = 0 } }",
        "[feel.motion.tilt]\ncentre = 'level'\ndead_degrees = 5\nfull_degrees = 45",
        [(at, _tilted(25)) for at in range(0, 2000, 10)],
        "1990<995,0>",
    ),
    "a turbo as fast as its trigger is pulled": (
        '"right_trigger.light" = { keys = ["KEY_A"], manner = "turbo", light_hz = 2, rate_hz = 10 }',
        "[feel.right_trigger]\nlight = { on = 0.1, off = 0.04 }",
        [(0, {"right_trigger": 1}), (110, {"right_trigger": 0.11}), (900, {"right_trigger": 0})],
        "0+A 50-A 100+A 247-A 441+A 634-A 827+A 900-A",
    ),
    "a stick that holds what a move expects": (
        'left_stick = { position = { x = 100, y = 100, hold_move = "walk" } }',
        "[feel.left_stick]\nedge_zone = 0",
        [(0, {"left_stick.x": 1}), (100, {"left_stick.x": 0})],
        "0+W 100-W 100<0,0>",
    ),
}


@pytest.mark.parametrize(("slots", "tables", "steps", "expected"), TABLE.values(), ids=list(TABLE))
def test_a_recording_replays_to_what_the_profile_says(
    tmp_path: Path, slots: str, tables: str, steps: Steps, expected: str
) -> None:
    profile = tmp_path / "game.toml"
    profile.write_text(profile_text(slots, '"left_stick.up" = { keys = ["KEY_UP"] }', tables, shortest_ms=20))
    pad = _recording(tmp_path / "pad.rec", steps, describe_canonical("Pad", [c.name for c in CONTROLS]))
    part = describe_surface("Pad") if "surface" in slots else describe_motion("Pad")
    other = _recording(tmp_path / "part.rec", steps, part)
    done = CliRunner().invoke(main, ["replay", str(pad), str(profile), "--with", str(other)])
    assert done.exit_code == 0, done.output
    assert _brief([json.loads(line) for line in done.stdout.splitlines()]) == expected


def _recording(path: Path, steps: Steps, device: Description) -> Path:
    encoder = Encoder(wiring_of(device))
    events = [event for at_ms, values in steps for event in encoder.encode(Frame(at_ms * 1000, values))]
    with path.open("w") as stream:
        write_header(stream, device)
        write_events(stream, events, 0)
    return path


def _brief(lines: list[dict[str, Any]]) -> str:
    """Keys at their milliseconds; pointer motion as its sum, at the time of the last."""
    words = []
    for line in lines:
        at_ms = round(line["t"] * 1000)
        if line["kind"] == "key":
            words.append(f"{at_ms}{'+' if line['down'] else '-'}{line['code'].removeprefix('KEY_')}")
        elif line["kind"] == "wheel":
            words.append(f"{at_ms}({line['x']},{line['y']})")
    moves = [line for line in lines if line["kind"] == "pointer"]
    if moves:
        x, y = sum(move["dx"] for move in moves), sum(move["dy"] for move in moves)
        words.append(f"{round(moves[-1]['t'] * 1000)}<{x},{y}>")
    return " ".join(words)

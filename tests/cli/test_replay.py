"""Each kind of behaviour, shown by a short profile and a recording of a pad through `nub-shift replay`."""

from __future__ import annotations

import json
from pathlib import Path
from typing import Any

import pytest
from click.testing import CliRunner

from nub_shift.cli.main import main
from nub_shift.engine.values import Frame
from nub_shift.model.controls import CONTROLS
from nub_shift.pads.description import Description
from nub_shift.pads.gamepad import wiring_of
from nub_shift.pads.made_up.encoder import Encoder, describe_canonical, describe_motion
from nub_shift.pads.recording import write_events, write_header
from tests.engine.playing import profile_text

Steps = list[tuple[int, dict[str, float]]]

BACK_AND_FORTH: Steps = [
    *((0, {"east": 1.0}), (50, {"east": 0.0}), (100, {"west": 1.0}), (150, {"west": 0.0})),
    *((200, {"west": 1.0}), (250, {"west": 0.0})),
]

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
        "0+A 30-A 100+A 130-A 200+A 220-A",
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
        "500<450,0>",
    ),
    "a sensor on each side of rest": (
        '"slider_1.low" = { keys = ["KEY_A"] }\n"slider_1.high" = { keys = ["KEY_B"] }',
        "",
        [(0, {"slider_1": -0.5}), (100, {"slider_1": 0.5}), (200, {"slider_1": 0})],
        "0+A 100-A 100+B 200-B",
    ),
}


@pytest.mark.parametrize(("slots", "tables", "steps", "expected"), TABLE.values(), ids=list(TABLE))
def test_a_recording_replays_to_what_the_profile_says(
    tmp_path: Path, slots: str, tables: str, steps: Steps, expected: str
) -> None:
    profile = tmp_path / "game.toml"
    profile.write_text(profile_text(slots, '"left_stick.up" = { keys = ["KEY_UP"] }', tables, shortest_ms=20))
    pad = _recording(tmp_path / "pad.rec", steps, describe_canonical("Pad", [c.name for c in CONTROLS]))
    motion = _recording(tmp_path / "motion.rec", steps, describe_motion("Pad"))
    done = CliRunner().invoke(main, ["replay", str(pad), str(profile), "--with", str(motion)])
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
    words = [
        f"{round(line['t'] * 1000)}{'+' if line['down'] else '-'}{line['code'].removeprefix('KEY_')}"
        for line in lines
        if line["kind"] == "key"
    ]
    moves = [line for line in lines if line["kind"] == "pointer"]
    if moves:
        x, y = sum(move["dx"] for move in moves), sum(move["dy"] for move in moves)
        words.append(f"{round(moves[-1]['t'] * 1000)}<{x},{y}>")
    return " ".join(words)

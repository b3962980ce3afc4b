"""From a pad's stick to a key, through a real kernel."""

from __future__ import annotations

import json
import os
import signal
import subprocess
import sys
from pathlib import Path

import pytest
from evdev import ecodes

from tests.kernel.devices import FULL, PAD_NAME, PROFILE, Reader, Runner, TestMotion, TestPad, open_own, own_device

pytestmark = pytest.mark.kernel

W, SPACE, D = ecodes.KEY_W, ecodes.KEY_SPACE, ecodes.KEY_D


def test_a_stick_presses_a_key_and_releases_it(pad: TestPad, live: Runner) -> None:
    keyboard = open_own("keyboard")
    pad.move((ecodes.ABS_Y, -FULL))
    keyboard.wait_key(W, True)
    pad.move((ecodes.ABS_X, FULL))
    keyboard.wait_key(D, True)
    pad.move((ecodes.ABS_X, 0), (ecodes.ABS_Y, 0))
    keyboard.wait_key(D, False)
    assert keyboard.seen == [(1, W, 1), (1, D, 1), (1, D, 0), (1, W, 0)] or keyboard.seen == [
        (1, W, 1),
        (1, D, 1),
        (1, W, 0),
        (1, D, 0),
    ]


def test_buttons_triggers_wheel_and_pointer_arrive_on_the_mouse(pad: TestPad, live: Runner) -> None:
    mouse = open_own("mouse")
    pad.move((ecodes.ABS_HAT2X, 200))
    mouse.wait_key(ecodes.BTN_LEFT, True)
    pad.move((ecodes.ABS_HAT2X, 0))
    mouse.wait_key(ecodes.BTN_LEFT, False)
    pad.press(ecodes.BTN_DPAD_RIGHT, True)
    mouse.wait(lambda seen: (ecodes.EV_REL, ecodes.REL_WHEEL, 1) in seen)
    assert (ecodes.EV_REL, ecodes.REL_WHEEL_HI_RES, 120) in mouse.seen
    pad.move((ecodes.ABS_RX, FULL))
    mouse.wait(lambda _: mouse.total(ecodes.REL_X) > 100)
    pad.move((ecodes.ABS_RX, 0))
    assert mouse.total(ecodes.REL_Y) == 0


def test_unplugging_releases_and_plugging_in_goes_on(pad: TestPad, live: Runner) -> None:
    keyboard = open_own("keyboard")
    pad.press(ecodes.BTN_SOUTH, True)
    keyboard.wait_key(SPACE, True)
    pad.unplug()
    keyboard.wait_key(SPACE, False)
    again = TestPad()
    try:
        # The runner looks for a pad once a second and takes the state as it stands.
        again.press(ecodes.BTN_SOUTH, True)
        keyboard.wait_key(SPACE, True)
    finally:
        again.unplug()
    keyboard.wait_key(SPACE, False)


def test_two_equal_pads_play_side_by_side(pad: TestPad) -> None:
    other = TestPad()
    runner = Runner("--seat", f"evdev:{PAD_NAME}", str(PROFILE), "--output", "uinput")
    try:
        keyboard = open_own("keyboard")
        pad.press(ecodes.BTN_SOUTH, True)
        keyboard.wait_key(SPACE, True)
        other.move((ecodes.ABS_Y, -FULL))
        keyboard.wait_key(W, True)
        pad.unplug()
        keyboard.wait_key(SPACE, False)
        other.move((ecodes.ABS_Y, 0))
        keyboard.wait_key(W, False)
        assert runner.end() == 0
    finally:
        other.unplug()


MOTION = """
schema = 2
title = "Turn"
[[layers]]
id = "base"
label = "Base"
[layers.slots]
motion = { turn = {} }
[feel.motion]
axis = "yaw"
ratio = 1
"""


def test_motion_sensors_are_tied_to_their_pad_without_being_introduced(tmp_path: Path) -> None:
    profile = tmp_path / "turn.toml"
    profile.write_text(MOTION)
    pad, motion, stranger = TestPad("test/one/input0"), TestMotion("test/one/input1"), TestMotion("test/two/input1")
    runner = Runner("--output", "uinput", profile=profile)
    try:
        listed = subprocess.run([sys.executable, "-m", "nub_shift", "pads"], capture_output=True, text=True, check=True)
        assert "motion" in listed.stdout and "Anything" not in listed.stdout
        mouse = open_own("mouse")
        stranger.turn(90, 20)
        mouse.drain()
        assert mouse.total(ecodes.REL_X) == 0
        motion.turn(90, 50)
        mouse.wait(lambda _: mouse.total(ecodes.REL_X) > 50)  # how far depends on how slow the guest is
    finally:
        runner.end()
        for device in (pad, motion, stranger):
            device.unplug()


def test_a_pad_that_another_program_has_grabbed_is_said_and_does_not_end_the_runner(pad: TestPad) -> None:
    other = Reader(pad.path)
    other.device.grab()
    command = [sys.executable, "-m", "nub_shift", "run", str(PROFILE), "--pad", f"evdev:{PAD_NAME}", "--seconds", "2"]
    done = subprocess.run(command, capture_output=True, text=True, check=True)
    assert f"{PAD_NAME} is grabbed by another program; close that program" in done.stderr
    assert "ready:" in done.stderr


@pytest.mark.parametrize("number", [signal.SIGTERM, signal.SIGINT])
def test_a_stop_releases_before_the_devices_go(pad: TestPad, live: Runner, number: signal.Signals) -> None:
    keyboard = open_own("keyboard")
    pad.press(ecodes.BTN_SOUTH, True)
    keyboard.wait_key(SPACE, True)
    live.process.send_signal(number)
    keyboard.wait_key(SPACE, False)
    assert live.close() == 0
    assert own_device("keyboard") is None


def test_a_sudden_death_leaves_no_key_down(pad: TestPad, live: Runner) -> None:
    keyboard = open_own("keyboard")
    pad.press(ecodes.BTN_SOUTH, True)
    keyboard.wait_key(SPACE, True)
    assert live.end(signal.SIGKILL) == -signal.SIGKILL
    keyboard.wait_key_or_gone(SPACE)
    assert own_device("keyboard") is None


def test_while_live_nobody_else_sees_the_pad(pad: TestPad, live: Runner) -> None:
    other = Reader(pad.path)
    keyboard = open_own("keyboard")
    pad.press(ecodes.BTN_SOUTH, True)
    keyboard.wait_key(SPACE, True)
    other.drain()
    assert other.seen == []
    live.end()
    pad.press(ecodes.BTN_SOUTH, False)
    other.wait_key(ecodes.BTN_SOUTH, False)


def test_in_rehearsal_the_pad_is_left_alone_and_nothing_is_made(pad: TestPad) -> None:
    runner = Runner("--output", "uinput", "--rehearse")
    try:
        other = Reader(pad.path)
        pad.press(ecodes.BTN_SOUTH, True)
        other.wait_key(ecodes.BTN_SOUTH, True)
        assert own_device("keyboard") is None
    finally:
        assert runner.end() == 0


def test_dropped_events_are_made_good_from_the_present_state(pad: TestPad, live: Runner) -> None:
    keyboard = open_own("keyboard")
    pad.press(ecodes.BTN_SOUTH, True)
    keyboard.wait_key(SPACE, True)
    live.process.send_signal(signal.SIGSTOP)
    os.waitpid(live.process.pid, os.WUNTRACED)
    pad.press(ecodes.BTN_SOUTH, False)
    for count in range(2000):  # far more than the kernel keeps for a reader
        pad.move((ecodes.ABS_RY, count % 50))
    pad.move((ecodes.ABS_Y, -FULL))
    live.process.send_signal(signal.SIGCONT)
    keyboard.wait_key(SPACE, False)
    keyboard.wait_key(W, True)


def test_the_pad_is_listed_and_our_own_devices_are_not(pad: TestPad, live: Runner) -> None:
    listed = subprocess.run([sys.executable, "-m", "nub_shift", "pads"], capture_output=True, text=True, check=True)
    assert PAD_NAME in listed.stdout
    assert "left stick" in listed.stdout
    assert "Nub Shift" not in listed.stdout
    checked = subprocess.run([sys.executable, "-m", "nub_shift", "doctor"], capture_output=True, text=True, check=True)
    assert "good  Keys through the kernel" in checked.stdout
    assert f"good  Pads: {PAD_NAME}" in checked.stdout


def test_what_is_recorded_replays_to_the_same_keys(pad: TestPad, tmp_path: object) -> None:
    path = f"{tmp_path}/made.rec"
    command = [sys.executable, "-m", "nub_shift", "record", path, "--pad", f"evdev:{PAD_NAME}"]
    with subprocess.Popen(command, stderr=subprocess.PIPE, text=True) as recorder:
        assert recorder.stderr is not None and "recording" in recorder.stderr.readline()
        pad.press(ecodes.BTN_SOUTH, True)
        pad.press(ecodes.BTN_SOUTH, False)
        seen = Reader(pad.path)
        pad.press(ecodes.BTN_EAST, True)
        seen.wait_key(ecodes.BTN_EAST, True)
        recorder.send_signal(signal.SIGINT)
        assert recorder.wait(60) == 0
    profile = "nub_shift/demo/saltglass.toml"
    replayed = subprocess.run(
        [sys.executable, "-m", "nub_shift", "replay", path, profile], capture_output=True, text=True, check=True
    )
    keys = [(line["code"], line["down"]) for line in map(json.loads, replayed.stdout.splitlines())]
    # The press was shorter than the shortest key-down time, so the next key may come before its release.
    assert [down for code, down in keys if code == "KEY_SPACE"] == [True, False]
    assert ("KEY_C", True) in keys


def test_latency_jitter_and_rest_can_be_measured() -> None:
    command = [sys.executable, "-m", "nub_shift", "bench", "--quick", "--json", "--part", "kernel"]
    done = subprocess.run(command, capture_output=True, text=True, check=True)
    figures = {row["name"]: row["value"] for row in json.loads(done.stdout)}
    assert 0 < figures["bare loop, event to event, median"] < 1_000_000
    assert 0 < figures["runner, event to event, median"] < 1_000_000
    assert figures["runner's wake-ups a second, pad at rest"] < 5

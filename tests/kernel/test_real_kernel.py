"""From a pad's stick to a key, through a real kernel."""

from __future__ import annotations

import json
import os
import signal
import subprocess
import sys
import time
from collections.abc import Callable
from contextlib import closing
from math import cos, radians, sin
from pathlib import Path

import pytest
from evdev import ecodes

from nub_shift.model.pad.card import PadCard, joined_identity
from nub_shift.pads.kernel.finding import find_pads
from nub_shift.pads.known.cards import identities_of
from nub_shift.protocol.calls import GetState, Introduce, ReloadCards, Rumble, SetLive, WatchPads
from nub_shift.protocol.client import RunnerClient
from nub_shift.protocol.messages import Introducing
from nub_shift.store.card_files import keep_card, parse_card
from tests.kernel.devices import (
    FULL,
    LIMIT_S,
    OLD_NAME,
    PAD_NAME,
    PROFILE,
    OldPad,
    Reader,
    Runner,
    TestMotion,
    TestMotors,
    TestPad,
    TestSurface,
    open_own,
    own_device,
)

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
        # What is held as the pad comes does nothing: it has not moved yet.
        again.press(ecodes.BTN_SOUTH, True)
        again.move((ecodes.ABS_Y, -FULL))
        live.wait_line("is here")
        again.move((ecodes.ABS_Y, 0))
        again.press(ecodes.BTN_SOUTH, False)
        again.press(ecodes.BTN_SOUTH, True)
        keyboard.wait_key(SPACE, True)
        assert not [code for kind, code, _ in keyboard.seen if kind == ecodes.EV_KEY and code == W]
    finally:
        again.unplug()
    keyboard.wait_key(SPACE, False)


def test_two_equal_pads_play_side_by_side_and_keep_their_seats(pad: TestPad, tmp_path: Path) -> None:
    other = TestPad("test/other")
    socket = tmp_path / "r.sock"
    runner = Runner("--seat", f"evdev:{PAD_NAME}", str(PROFILE), "--output", "uinput", "--socket", str(socket))
    try:
        keyboard = open_own("keyboard")
        pad.press(ecodes.BTN_SOUTH, True)
        keyboard.wait_key(SPACE, True)
        other.move((ecodes.ABS_Y, -FULL))
        keyboard.wait_key(W, True)
        pad.unplug()
        keyboard.wait_key(SPACE, False)
        other.unplug()
        keyboard.wait_key(W, False)
        other = TestPad("test/other")  # the one of the second seat is back first
        runner.wait_line("is here")
        client = RunnerClient(socket)
        first, second = client.call(GetState()).seats
        client.close()
        assert (first.pad.key, second.pad.key) == ("", other.path)
        assert runner.end() == 0
    finally:
        other.unplug()


MOTION = """
schema = 4
title = "Turn"
[[layers]]
id = "base"
label = "Base"
[layers.slots]
south = { keys = ["KEY_SPACE"] }
east = { keys = ["KEY_C"] }
motion = { turn = {} }
[feel.motion]
axis = "yaw"
ratio = 1
"""


def written(folder: Path, profile: str) -> Path:
    """The file of a profile."""
    path = folder / "profile.toml"
    path.write_text(profile)
    return path


def test_motion_sensors_are_tied_to_their_pad_without_being_introduced(tmp_path: Path) -> None:
    profile = written(tmp_path, MOTION)
    pad, motion, stranger = TestPad("test/one/input0"), TestMotion("test/one/input1"), TestMotion("test/two/input1")
    runner = Runner("--output", "uinput", profile=profile)
    try:
        listed = subprocess.run([sys.executable, "-m", "nub_shift", "pads"], capture_output=True, text=True, check=True)
        assert "gyro" in listed.stdout and "Anything" not in listed.stdout
        mouse = open_own("mouse")
        stranger.turn(90, 20)
        mouse.drain()
        assert mouse.total(ecodes.REL_X) == 0
        mouse.wait_across(50, lambda: motion.turn(90, 25))
    finally:
        runner.end()
        for device in (pad, motion, stranger):
            device.unplug()


DRAG = """
schema = 4
title = "Drag"
[[layers]]
id = "base"
label = "Base"
[layers.slots]
surface = { drag = { x = 1000, y = 1000 } }
"surface.touch" = { keys = ["KEY_T"] }
"""


def test_a_touch_surface_is_tied_to_its_pad_and_drags_the_pointer(tmp_path: Path) -> None:
    profile = written(tmp_path, DRAG)
    pad, surface, stranger = TestPad("test/one/input0"), TestSurface("test/one/input1"), TestSurface("test/two/input1")
    runner = Runner("--output", "uinput", profile=profile)
    try:
        mouse, keyboard = open_own("mouse"), open_own("keyboard")
        stranger.drag((0, 0), (1900, 1900))
        surface.drag((480, 960), (960, 960), (1440, 480))
        keyboard.wait_key(ecodes.KEY_T, False)
        mouse.wait(lambda _: mouse.total(ecodes.REL_X) == 500 and mouse.total(ecodes.REL_Y) == -250)
    finally:
        runner.end()
        for device in (pad, surface, stranger):
            device.unplug()


def test_a_pad_that_nothing_knows_is_introduced_and_plays(tmp_path: Path, monkeypatch: pytest.MonkeyPatch) -> None:
    monkeypatch.setenv("XDG_DATA_HOME", str(tmp_path / "data"))
    tmp_path.chmod(0o700)
    old = OldPad()
    runner = Runner("--output", "uinput", "--rehearse", "--socket", str(tmp_path / "r.sock"), pad=OLD_NAME)
    client = RunnerClient(tmp_path / "r.sock", LIMIT_S)

    def until(true: Callable[[Introducing | None], bool]) -> Introducing | None:
        """Waits until the introduction is as wanted."""
        while True:
            connected = client.pads_news().connected
            if connected is not None and true(connected.introducing):
                return connected.introducing

    try:
        client.call(WatchPads(hz=100))
        client.call(Introduce(pad=old.path))
        until(lambda course: course is not None and course.requested == "left_stick")
        for angle in range(0, 366, 15):
            old.move(sin(radians(angle)), -cos(radians(angle)))
        old.move(0.0, 0.0)
        for requested, code in (("south", 0x123), ("east", 0x121), ("west", 0x120), ("north", 0x122)):
            until(lambda course, requested=requested: course is not None and course.requested == requested)  # type: ignore[misc]
            old.press(code)
        course = until(lambda course: course is not None and course.requested == "")
        assert course is not None
        keep_card(parse_card(course.card))
        client.call(Introduce())
        client.call(ReloadCards())
        client.call(SetLive(live=True))
        keyboard = open_own("keyboard")
        old.press(0x123)
        keyboard.wait_key(SPACE, False)
        old.move(0.0, -1.0)
        keyboard.wait_key(W, True)
        old.move(0.0, 0.0)
        keyboard.wait_key(W, False)
    finally:
        client.close()
        runner.end()
        old.unplug()


def test_two_devices_that_a_card_joins_play_as_one_and_come_back(
    pad: TestPad, tmp_path: Path, monkeypatch: pytest.MonkeyPatch
) -> None:
    monkeypatch.setenv("XDG_DATA_HOME", str(tmp_path / "data"))
    other, motion = TestPad("test/other/input0"), TestMotion("test/other/input1")
    parts = tuple(identities_of(found.description)[0] for found in find_pads() if found.description is not None)
    keep_card(PadCard(schema=1, identity=joined_identity(parts), name="Two as one", parts=parts, motion=parts[1]))
    runner = Runner("--output", "uinput", profile=written(tmp_path, MOTION), pad="Two as one")
    try:
        keyboard, mouse = open_own("keyboard"), open_own("mouse")
        pad.press(ecodes.BTN_SOUTH, True)
        keyboard.wait_key(SPACE, True)
        other.press(ecodes.BTN_EAST, True)
        keyboard.wait_key(ecodes.KEY_C, True)
        mouse.wait_across(50, lambda: motion.turn(90, 25))
        other.unplug()
        runner.wait_line("was unplugged")
        keyboard.wait_down()
        other = TestPad("test/other/input0")
        runner.wait_line("is here")
        pad.press(ecodes.BTN_SOUTH, False)
        pad.press(ecodes.BTN_SOUTH, True)
        keyboard.wait_down(SPACE)
    finally:
        runner.end()
        for device in (other, motion):
            device.unplug()


def test_a_flood_of_events_is_capped_and_leaves_nothing_down(pad: TestPad, live: Runner) -> None:
    keyboard = open_own("keyboard")
    for number in range(10_000):
        pad.write(ecodes.EV_KEY, ecodes.BTN_SOUTH, number % 2)
        pad.write(ecodes.EV_ABS, ecodes.ABS_Y, -FULL * (number % 3))
        pad.syn()
    pad.press(ecodes.BTN_SOUTH, False)
    pad.move((ecodes.ABS_Y, 0))
    keyboard.wait_down()
    time.sleep(1.0)  # until more may be pressed again
    pad.press(ecodes.BTN_EAST, True)  # what comes after the flood is played
    keyboard.wait_down(ecodes.KEY_C)
    pad.press(ecodes.BTN_EAST, False)
    keyboard.wait_down()
    assert live.process.poll() is None


def test_rubbish_is_left_alone(pad: TestPad, live: Runner) -> None:
    keyboard = open_own("keyboard")
    pad.write(ecodes.EV_KEY, 0x2FE, 1)
    pad.write(ecodes.EV_ABS, ecodes.ABS_Y, -10 * FULL)
    pad.write(ecodes.EV_MSC, ecodes.MSC_SCAN, -1)
    pad.write(ecodes.EV_KEY, ecodes.BTN_SOUTH, 2)  # a repeat without a press
    pad.syn()
    keyboard.wait_key(W, True)  # beyond its extents it is at its end
    pad.move((ecodes.ABS_Y, 0))
    keyboard.wait_key(W, False)
    pad.press(ecodes.BTN_SOUTH, True)
    keyboard.wait_key(SPACE, True)


def test_the_motors_of_a_pad_run_as_they_are_told(tmp_path: Path) -> None:
    motors = TestMotors()
    runner = Runner("--rehearse", "--socket", str(tmp_path / "s"))
    try:
        with closing(RunnerClient(tmp_path / "s", LIMIT_S)) as client:
            client.call(Rumble((60, 20, 40)))
            end = time.monotonic() + LIMIT_S
            while len(motors.ran_ms) < 2:
                assert time.monotonic() < end, motors.ran_ms
                time.sleep(0.02)
        assert motors.ran_ms == [60, 40]
        assert runner.end() == 0
    finally:
        motors.unplug()


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
    keyboard.until(lambda: own_device("keyboard") is None)  # the watcher, which has it open, ends with the runner


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
    assert "fine:    Keys through the kernel" in checked.stdout
    assert f"fine:    Pads: {PAD_NAME}" in checked.stdout


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
    done = subprocess.run(command, capture_output=True, text=True, check=False)
    assert done.stdout, done.stderr
    # On a busy machine a guest is too slow for a thousand moves a second: those figures do not count, and say so.
    figures = {row["name"]: row["value"] for row in json.loads(done.stdout) if not row["unseen"]}
    assert 0 < figures["bare loop, event to event, median"] < 1_000_000
    assert 0 < figures["runner, event to event, median"] < 1_000_000
    assert figures["runner's wake-ups a second, pad at rest"] < 5

"""Every way to end, and what was held: nothing stays down on an X server."""

from __future__ import annotations

import os
import signal
from pathlib import Path

import pytest

from nub_shift.outputs.watcher import leave_groups
from nub_shift.protocol.calls import SetLive, WorkByHand
from tests.runner.processes import RunnerProcess
from tests.xserver import XWindow, x_process

PAD = "simulated:tern"
PROFILE = """
schema = 4
title = "Ends"
[[layers]]
id = "base"
label = "Base"
[layers.slots]
south = { keys = ["KEY_A"] }
east = { keys = ["KEY_B"], manner = "toggle" }
west = { keys = ["KEY_C"], manner = "turbo", rate_hz = 5, duty = 0.9 }
north = { sequence = "long" }
left_shoulder = { keys = ["BTN_RIGHT"] }
"left_stick.up" = { keys = ["KEY_W"] }
right_stick = { ring = "wheel" }
[[sequences]]
id = "long"
label = "Long"
steps = [{ press = ["KEY_D"] }, { wait_ms = 60000 }, { release = ["KEY_D"] }]
[[rings]]
id = "wheel"
label = "Wheel"
confirm = "enter"
entries = [{ keys = ["KEY_E"] }, { keys = ["KEY_F"] }]
"""
# What is held, and by which hand.
HELD: dict[str, dict[str, float]] = {
    "key": {"south": 1.0},
    "toggle": {"east": 1.0},
    "turbo": {"west": 1.0},
    "sequence": {"north": 1.0},
    "mouse button": {"left_shoulder": 1.0},
    "stick key": {"left_stick.y": -1.0},
    "ring": {"right_stick.y": -1.0},
}


@pytest.fixture
def profile(tmp_path: Path) -> Path:
    tmp_path.chmod(0o700)
    path = tmp_path / "ends.toml"
    path.write_text(PROFILE)
    return path


def playing(profile: Path, held: dict[str, float]) -> RunnerProcess:
    runner = RunnerProcess(profile.parent, "--pad", PAD, "--output", "x11", profile=profile, alone=True)
    client = runner.client()
    client.call(WorkByHand(PAD, {}))
    client.call(SetLive(True))
    client.call(WorkByHand(PAD, held))
    client.close()
    return runner


WAYS = [
    *((number, held) for held in HELD for number in (signal.SIGTERM, signal.SIGKILL)),
    *((number, "key") for number in (signal.SIGINT, signal.SIGHUP, signal.SIGQUIT, signal.SIGSEGV)),
]


@pytest.mark.parametrize(("number", "held"), WAYS)
def test_no_end_leaves_anything_down(
    x_window: XWindow, x_server: str, profile: Path, monkeypatch: pytest.MonkeyPatch, number: int, held: str
) -> None:
    monkeypatch.setenv("DISPLAY", x_server)
    runner = playing(profile, HELD[held])
    x_window.until(lambda: bool(x_window.keys_down() or x_window.buttons_down()))
    runner.end(number)
    x_window.until(lambda: not x_window.keys_down() and not x_window.buttons_down())


def test_the_end_of_its_whole_process_group_leaves_nothing_down(
    x_window: XWindow, x_server: str, profile: Path, monkeypatch: pytest.MonkeyPatch
) -> None:
    monkeypatch.setenv("DISPLAY", x_server)
    runner = playing(profile, HELD["key"])
    x_window.until(lambda: bool(x_window.keys_down()))
    os.killpg(runner.process.pid, signal.SIGKILL)
    runner.finish()
    x_window.until(lambda: not x_window.keys_down())


def test_a_stop_for_a_while_lets_go_and_nothing_is_held_after_it(
    x_window: XWindow, x_server: str, profile: Path, monkeypatch: pytest.MonkeyPatch
) -> None:
    monkeypatch.setenv("DISPLAY", x_server)
    runner = playing(profile, {"south": 1.0, "left_stick.y": -1.0})
    x_window.until(lambda: len(x_window.keys_down()) == 2)
    runner.process.send_signal(signal.SIGTSTP)
    x_window.until(lambda: not x_window.keys_down())
    assert os.waitpid(runner.process.pid, os.WUNTRACED)[1] & 0xFF == 0x7F
    runner.process.send_signal(signal.SIGCONT)
    client = runner.client()
    client.call(WorkByHand(PAD, {"south": 1.0}))
    client.call(WorkByHand(PAD, {}))
    client.call(WorkByHand(PAD, {"east": 1.0}))
    x_window.until(lambda: x_window.keys_down() == [56])
    client.close()
    runner.end()
    x_window.until(lambda: not x_window.keys_down())


@pytest.mark.parametrize("held", ["key", "toggle", "turbo", "mouse button", "stick key"])
def test_a_runner_that_hangs_holds_nothing_and_plays_on_afterwards(
    x_window: XWindow, x_server: str, profile: Path, monkeypatch: pytest.MonkeyPatch, held: str
) -> None:
    monkeypatch.setenv("DISPLAY", x_server)
    runner = playing(profile, HELD[held])
    x_window.until(lambda: bool(x_window.keys_down() or x_window.buttons_down()))
    runner.process.send_signal(signal.SIGSTOP)
    x_window.until(lambda: not x_window.keys_down() and not x_window.buttons_down())
    runner.process.send_signal(signal.SIGCONT)
    client = runner.client()
    for values in ({}, {"south": 1.0}, {}, {"left_shoulder": 1.0}):
        client.call(WorkByHand(PAD, values))
    client.close()
    toggled = [56] if held == "toggle" else []  # it is as it was
    x_window.until(lambda: x_window.keys_down() == toggled and x_window.buttons_down())
    runner.end()
    x_window.until(lambda: not x_window.keys_down() and not x_window.buttons_down())


def test_an_x_server_that_hangs_does_not_keep_the_runner_from_ending(
    profile: Path, monkeypatch: pytest.MonkeyPatch
) -> None:
    with x_process() as (name, server):
        monkeypatch.setenv("DISPLAY", name)
        runner = playing(profile, {"south": 1.0, "left_stick.y": -1.0})
        window = XWindow(name)
        window.until(lambda: len(window.keys_down()) == 2)
        server.send_signal(signal.SIGSTOP)
        try:
            assert runner.end()[0] == 0
        finally:
            server.send_signal(signal.SIGCONT)
        window.until(lambda: not window.keys_down())
        window.close()


def test_the_watcher_leaves_the_control_group_that_a_service_manager_ends_as_one(tmp_path: Path) -> None:
    own, groups = tmp_path / "cgroup", tmp_path / "groups"
    user = "user.slice/user-1000.slice/user@1000.service"
    (groups / user).mkdir(parents=True)
    own.write_text(f"0::/{user}/app.slice/run-1.scope\n")
    leave_groups(own, groups)
    assert (groups / user / "nub-shift-watcher/cgroup.procs").read_text() == str(os.getpid())
    own.write_text("0::/system.slice/other.service\n")
    leave_groups(own, groups)  # nobody lets it: nothing is done, and nothing is said

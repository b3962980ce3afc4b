"""The runner as a real process: its socket, its end, and what it prints."""

from __future__ import annotations

import json
import os
import signal
import socket
import stat
import subprocess
import sys
import time
from collections.abc import Iterator
from pathlib import Path

import pytest

from nub_shift.protocol.calls import AssignPad, GetState, LoadProfile, PlugIn, SetLive, Stop, Subscribe
from nub_shift.protocol.client import RunnerError
from nub_shift.protocol.codec import METHOD_NOT_FOUND, PROTOCOL, encode_request
from tests.engine.playing import profile_text
from tests.runner.processes import DEMO_PROFILE, LIMIT_S, RunnerProcess

OTHER = DEMO_PROFILE.with_name("tidefold.toml")


@pytest.fixture
def folder(tmp_path: Path) -> Path:
    tmp_path.chmod(0o700)
    return tmp_path


@pytest.fixture
def runner(folder: Path) -> Iterator[RunnerProcess]:
    made = RunnerProcess(folder, "--pad", "simulated", "--output", "print", "--rehearse")
    yield made
    if made.process.poll() is None:
        made.end()


def test_a_client_sees_the_state_and_the_pad_moving(runner: RunnerProcess) -> None:
    client = runner.client()
    state = client.call(Subscribe(hz=100))
    assert (state.seats[0].title, state.seats[0].pad.name, state.live) == (
        "Saltglass Keeper",
        "Tern two-stick pad",
        False,
    )
    packets = [client.telemetry() for _ in range(5)]
    assert any("left_stick.x" in packet.values for packet in packets)
    assert [packet.t_us for packet in packets] == sorted(packet.t_us for packet in packets)
    client.close()


def test_a_profile_is_replaced_and_a_faulty_one_is_refused_whole(runner: RunnerProcess) -> None:
    client = runner.client()
    assert client.call(LoadProfile(toml=profile_text(""))).seats[0].title == "Test"
    with pytest.raises(RunnerError, match="profile_has_faults") as caught:
        client.call(LoadProfile(toml=profile_text("soth = {}")))
    assert "did you mean 'south'?" in caught.value.problems[0]
    assert client.call(GetState()).seats[0].title == "Test"
    client.close()


def test_wrong_calls_are_answered_and_the_runner_goes_on(runner: RunnerProcess) -> None:
    with socket.socket(socket.AF_UNIX) as raw:
        raw.settimeout(LIMIT_S)
        raw.connect(str(runner.socket))
        with raw.makefile() as lines:
            ready = json.loads(lines.readline())
            assert (ready["method"], ready["params"]["protocol"]) == ("ready", PROTOCOL)
            for method, params, part in (
                ("jump", {}, "no method 'jump'"),
                ("set_live", {}, "missing required field `live`"),
                ("set_live", {"live": 3}, "Expected `bool`"),
                ("subscribe", {"herz": 3}, "unknown field `herz`"),
                ("subscribe", {"seat": 1}, "there is no seat 1, expected 0 to 0"),
            ):
                raw.sendall(encode_request(method, params, 1))
                assert part in json.loads(lines.readline())["error"]["message"]
            raw.sendall(b'rubbish\n{"jsonrpc":"2.0","method":"x","id":5}\n')
            assert json.loads(lines.readline())["error"]["message"] == "not JSON"
            answer = json.loads(lines.readline())
    assert (answer["id"], answer["error"]["code"]) == (5, METHOD_NOT_FOUND)
    client = runner.client()
    assert client.call(GetState()).live is False
    client.close()


def test_the_socket_is_the_users_alone_and_goes_with_the_runner(runner: RunnerProcess) -> None:
    assert stat.S_IMODE(runner.socket.stat().st_mode) & 0o077 == 0
    client = runner.client()
    client.call(Stop())
    client.close()
    assert runner.finish()[0] == 0
    assert not runner.socket.exists()


def test_a_folder_that_others_may_enter_is_refused(folder: Path) -> None:
    folder.chmod(0o755)
    with pytest.raises(AssertionError, match="others may enter this folder"):
        RunnerProcess(folder, "--pad", "simulated", "--output", "print")


@pytest.mark.parametrize("number", [signal.SIGTERM, signal.SIGINT])
def test_a_signal_releases_what_is_down(folder: Path, number: int) -> None:
    runner = RunnerProcess(folder, "--pad", "simulated", "--output", "print")
    client = runner.client()
    client.call(Subscribe(hz=100))
    while "left_stick.up" not in client.telemetry().slots:
        pass
    client.close()
    code, printed = runner.end(number)
    keys = [line for line in map(json.loads, printed.splitlines()) if line["kind"] == "key"]
    assert code == 0
    assert (keys[-1]["code"], keys[-1]["down"]) == ("KEY_W", False)
    assert sum(1 if line["down"] else -1 for line in keys) == 0


def test_it_goes_live_and_back_by_call(runner: RunnerProcess) -> None:
    client = runner.client()
    assert client.call(SetLive(live=True)).live
    assert not client.call(SetLive(live=False)).live
    client.close()


def test_clients_that_hang_up_while_they_are_told_end_nothing(runner: RunnerProcess) -> None:
    toml = DEMO_PROFILE.read_text()
    client = runner.client()
    client.call(PlugIn("plank"))
    client.call(AssignPad("simulated:plank", toml=toml))
    for _ in range(8):
        with socket.socket(socket.AF_UNIX) as raw:
            raw.connect(str(runner.socket))
            raw.sendall(encode_request("subscribe", {"hz": 250, "seat": -1}, 1))
            raw.recv(65536)
            time.sleep(0.05)
            os.kill(runner.process.pid, signal.SIGSTOP)  # it learns that the client has gone as it tells it something
        os.kill(runner.process.pid, signal.SIGCONT)
    assert len(client.call(GetState()).seats) == 2
    client.close()


def test_a_windows_runner_ends_when_the_window_hangs_up(folder: Path) -> None:
    runner = RunnerProcess(folder, "--pad", "simulated", "--output", "print", "--rehearse", "--until-hangup")
    client = runner.client()
    client.call(GetState())
    client.close()
    assert runner.finish()[0] == 0


def test_two_pads_play_two_profiles_on_one_output(folder: Path) -> None:
    arguments = ["--pad", "simulated", "--seat", "simulated:reed", str(OTHER), "--output", "print", "--rehearse"]
    runner = RunnerProcess(folder, *arguments)
    client = runner.client()
    seats = client.call(Subscribe(seat=1)).seats
    assert [(seat.title, seat.pad.name) for seat in seats] == [
        ("Saltglass Keeper", "Tern two-stick pad"),
        ("Tidefold", "Reed mouth pad"),
    ]
    assert "right_stick.x" not in client.telemetry().values
    assert client.call(LoadProfile(toml=profile_text(""), seat=1)).seats[1].title == "Test"
    client.close()
    assert runner.end()[0] == 0


def test_a_recording_plays_once_and_ends(folder: Path) -> None:
    recording = folder / "a.rec"
    lines = ["N: Pad", "B: 01 " + "00 " * 38 + "01"]
    lines += ["E: 0.000000 0001 0130 1", "E: 0.000000 0000 0000 0"]
    lines += ["E: 0.050000 0001 0130 0", "E: 0.050000 0000 0000 0"]
    recording.write_text("\n".join(lines))
    code, printed = RunnerProcess(folder, "--pad", f"recorded:{recording}", "--output", "print").finish()
    assert code == 0
    assert [json.loads(line)["down"] for line in printed.splitlines()] == [True, False]


@pytest.mark.parametrize(
    ("arguments", "part"),
    [
        (["--pad", "simulated:nothing", "--seconds", "1"], 'there is no simulated pad "nothing", expected one of tern'),
        (["--pad", "wheel"], "there is no kind 'wheel' here, expected simulated[:NAME] or evdev[:MATCH]"),
        (["--pad", "recorded:none.rec"], "none.rec: file: cannot be read"),
    ],
)
def test_what_stands_in_the_way_is_said_in_one_line(folder: Path, arguments: list[str], part: str) -> None:
    command = [sys.executable, "-m", "nub_shift", "run", "nub_shift/demo/saltglass.toml", *arguments]
    done = subprocess.run([*command, "--output", "print"], capture_output=True, text=True, timeout=LIMIT_S, check=False)
    assert part in done.stderr
    assert "Traceback" not in done.stderr

"""The runner that stays for the session: it goes on with what it played, whatever ended it."""

from __future__ import annotations

import os
import shutil
import signal
import socket
import subprocess
import sys
from collections.abc import Iterator
from contextlib import closing
from pathlib import Path

import psutil
import pytest
from click.testing import CliRunner

from nub_shift.cli.main import main
from nub_shift.demo.games import demo_profile_text
from nub_shift.model.profile.activation import APP_ID
from nub_shift.protocol.calls import AssignPad, HoldBack, LoadProfile, PlugIn, SetLive, SharePad, Unplug
from nub_shift.protocol.client import RunnerClient
from nub_shift.store.atomic import write_text
from tests.engine.playing import profile_text
from tests.runner.resident import LIMIT_S, Home, until

TEN = "simulated:tern"


@pytest.fixture
def home(tmp_path: Path) -> Iterator[Home]:
    made = Home(tmp_path)
    write_text(made.profiles / "other.toml", profile_text("south = { keys = ['KEY_X'] }"))
    write_text(made.profiles / "mine.toml", demo_profile_text())
    os.utime(made.profiles / "other.toml", (0, 0))
    yield made
    if made.process is not None and made.process.poll() is None:
        made.end()


@pytest.mark.parametrize("number", [signal.SIGKILL, signal.SIGTERM])
def test_it_is_back_with_what_it_had_whatever_ended_it(home: Home, number: int) -> None:
    mine, other = (str(home.profiles / name) for name in ("mine.toml", "other.toml"))
    home.start()
    home.call(
        PlugIn("plank"),
        PlugIn("tern"),
        AssignPad(TEN),
        LoadProfile(Path(mine).read_text(), 0, mine),
        AssignPad("simulated:plank", toml=Path(other).read_text(), file=other),
        SetLive(True),
    )
    played = home.call(AssignPad(TEN, toml=Path(other).read_text(), shares=True, file=other), SharePad(TEN, ("south",)))
    home.await_kept(lambda kept: kept.live and kept.players[-1].controls == ("south",))
    assert home.end(number) == (0 if number == signal.SIGTERM else -number)

    home.start()
    state = home.await_state(lambda state: len(state.seats) == 3 and state.seats[2].pad.controls == ("south",))
    assert state.live and [seat.file for seat in state.seats] == [mine, other, other]
    assert [(seat.title, seat.pad.name) for seat in state.seats] == [
        (seat.title, seat.pad.name) for seat in played.seats
    ]
    assert "south" not in state.seats[0].pad.controls


def test_a_pad_that_was_away_at_the_start_is_waited_for(home: Home) -> None:
    mine = str(home.profiles / "mine.toml")
    home.start()
    home.call(PlugIn("tern"), AssignPad(TEN), LoadProfile(Path(mine).read_text(), 0, mine), Unplug("tern"))
    home.await_kept(lambda kept: kept.players[0].file == mine and not kept.simulated)
    home.end()
    home.start()
    assert home.call(PlugIn("plank")).seats[0].pad.name == ""
    assert home.call(PlugIn("tern")).seats[0].pad.name == "Tern two-stick pad"


def test_a_profile_that_is_spoiled_by_then_makes_room_for_the_newest_and_that_is_said(home: Home) -> None:
    other = home.profiles / "other.toml"
    home.start()
    home.call(LoadProfile(other.read_text(), 0, str(other)))
    home.await_kept(lambda kept: kept.players[0].file == str(other))
    home.end()
    write_text(other, "title = 3")
    said = home.start()
    assert any("the profile 'other' cannot be played" in line for line in said)
    assert home.call().seats[0].title == "Saltglass Keeper"


def test_there_is_one_and_a_second_start_leaves_it_alone(home: Home) -> None:
    home.start()
    again = home.command("resident")
    assert (again.returncode, again.stderr) == (0, "nub-shift: the runner of this session is there already\n")
    assert home.command("session").stdout.splitlines()[1].startswith("plays now: Saltglass Keeper | ")


def test_nothing_goes_out_while_an_editor_is_in_front_even_if_that_dies(home: Home) -> None:
    home.start()
    assert home.call(SetLive(True)).live
    with closing(RunnerClient(home.socket)) as client:
        state = client.call(HoldBack(True))
        assert state.wanted and not state.live
    state = home.call()
    assert state.wanted and state.live


def test_whoever_started_it_hears_that_it_is_ready_and_lives(tmp_path: Path) -> None:
    with socket.socket(socket.AF_UNIX, socket.SOCK_DGRAM) as manager:
        manager.bind(str(tmp_path / "notify"))
        manager.settimeout(LIMIT_S)
        home = Home(tmp_path, NOTIFY_SOCKET=str(tmp_path / "notify"), WATCHDOG_USEC="200000")
        home.start()
        heard = [manager.recv(4096).decode()]
        while heard.count("WATCHDOG=1") < 3:
            heard.append(manager.recv(4096).decode())
        assert heard[0] == "READY=1" and "STATUS=First profile | no pad yet | print, rehearsal" in heard
        home.end()
        while heard[-1] != "STOPPING=1":
            heard.append(manager.recv(4096).decode())


SYSTEMCTL = """#!/bin/sh
echo "$*" >> "$0.log"
case "$*" in *graphical-session.target) echo active;; *"is-active nub-shift.service") echo inactive;; esac
"""


def test_systemd_is_asked_to_start_it_with_the_session_and_not_to_again(
    home: Home, tmp_path: Path, monkeypatch: pytest.MonkeyPatch
) -> None:
    """With a stand-in for the command that talks to systemd; what the unit says is checked by systemd's own tool."""
    tool = tmp_path / "bin" / "systemctl"
    write_text(tool, SYSTEMCTL)
    tool.chmod(0o755)
    for name, value in home.environment.items():
        monkeypatch.setenv(name, value)
    monkeypatch.setenv("PATH", f"{tool.parent}:{os.environ['PATH']}")
    home.start()  # by hand
    on = CliRunner().invoke(main, ["session", "on"])
    assert on.output == "starts with the desktop session (by systemd)\ndoes not play now\n"
    assert home.ended() == 0, "two would quarrel over the pads"
    unit = tmp_path / "config" / "systemd" / "user" / "nub-shift.service"
    requested = (tool.parent / "systemctl.log").read_text().splitlines()
    assert [line for line in requested if "is-active" not in line] == [
        "--user daemon-reload",
        "--user enable nub-shift.service",
        "--user restart nub-shift.service",
    ]
    if (verify := shutil.which("systemd-analyze")) is not None:
        text = unit.read_text()
        command = next(line for line in text.splitlines() if line.startswith("ExecStart"))
        write_text(unit, text.replace(command, 'ExecStart="/bin/true" resident'))
        checked = subprocess.run(
            [verify, "--user", "verify", str(unit)], capture_output=True, text=True, timeout=LIMIT_S, check=False
        )
        assert (checked.returncode, checked.stderr) == (0, "")
    off = CliRunner().invoke(main, ["session", "off"])
    assert off.output == "does not start with the desktop session\ndoes not play now\n"
    assert not unit.exists()
    assert "--user disable --now nub-shift.service" in (tool.parent / "systemctl.log").read_text()


def test_without_systemd_an_autostart_entry_starts_it(
    home: Home, tmp_path: Path, monkeypatch: pytest.MonkeyPatch
) -> None:
    program = tmp_path / "a folder" / "nub-shift"
    write_text(program, '#!/bin/sh\nexec "$PYTHON" -m nub_shift "$@" --output print\n')
    program.chmod(0o755)
    for name, value in {**home.environment, "PYTHON": sys.executable}.items():
        monkeypatch.setenv(name, value)
    monkeypatch.setattr("nub_shift.tasks.session_start._systemd_serves", lambda: False)
    monkeypatch.setattr("sys.argv", [str(program)])
    on = CliRunner().invoke(main, ["session", "on"])
    assert on.output.startswith("starts with the desktop session (by autostart)\nplays now: Saltglass Keeper")
    entry = tmp_path / "config" / "autostart" / f"{APP_ID}.session.desktop"
    assert f'Exec="{program}" "resident" "--again"' in entry.read_text().splitlines()
    killed = home.pid()
    os.kill(killed, signal.SIGKILL)
    until(lambda: home.pid() not in {0, killed})  # its small parent has started it again
    os.kill(psutil.Process(home.pid()).ppid(), signal.SIGTERM)
    until(lambda: home.pid() == 0)  # and ends it as it is ended
    assert CliRunner().invoke(main, ["session", "on"]).output == on.output
    off = CliRunner().invoke(main, ["session", "off"])
    assert off.output == "does not start with the desktop session\ndoes not play now\n"
    assert not entry.exists()
    assert not home.socket.exists()

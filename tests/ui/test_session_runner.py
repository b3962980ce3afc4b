"""The window as a client of the session's runner, which plays whether a window is open or not."""

from __future__ import annotations

import os
import signal
import sys
from collections.abc import Iterator
from contextlib import closing
from pathlib import Path

import pytest
from PyQt6.QtCore import Qt
from pytestqt.qtbot import QtBot

from nub_shift.demo.games import demo_profile_text
from nub_shift.editing.document import Document
from nub_shift.engine.values import Key
from nub_shift.model.profile.activation import Front
from nub_shift.protocol.calls import (
    AssignPad,
    LoadProfile,
    PlayDemo,
    PlugIn,
    ReportFront,
    SetLive,
    Subscribe,
    WorkByHand,
)
from nub_shift.protocol.client import RunnerClient
from nub_shift.protocol.messages import State
from nub_shift.store.atomic import write_text
from nub_shift.store.profile_files import read_profile
from nub_shift.tasks.session_start import stop_resident
from nub_shift.ui.commands import Station
from nub_shift.ui.link import RunnerLink
from nub_shift.ui.look.theme import DAY, Theme
from nub_shift.ui.runner_start import OwnRunner, SessionRunner
from nub_shift.ui.window import Window
from tests.runner.resident import Home
from tests.ui.hands import QTest

LIMIT_MS = 20_000


@pytest.fixture
def home(tmp_path: Path, monkeypatch: pytest.MonkeyPatch) -> Iterator[Home]:
    made = Home(tmp_path)
    for name, value in made.environment.items():
        monkeypatch.setenv(name, value)
    for game in ("saltglass", "tidefold"):
        write_text(made.profiles / f"{game}.toml", demo_profile_text(game))
    path = made.profiles / "saltglass.toml"
    made.start()
    made.call(
        PlugIn("tern"),
        PlayDemo("simulated:tern"),
        AssignPad("simulated:tern"),
        LoadProfile(path.read_text(), 0, str(path)),
        SetLive(True),
    )
    yield made
    stop_resident()
    if made.process is not None:
        made.ended()


def opened(qtbot: QtBot, home: Home, game: str = "saltglass") -> Window:
    """A window of the application, in front."""
    path = home.profiles / f"{game}.toml"
    document = Document(path, read_profile(path))
    link = RunnerLink(SessionRunner())
    link.load(document.text)
    window = Window(Theme(DAY), document, link)
    qtbot.addWidget(window)
    window.show()
    window.activateWindow()
    qtbot.waitUntil(window.isActiveWindow, timeout=LIMIT_MS)
    link.start()
    qtbot.waitUntil(lambda: window.live.state is not None, timeout=LIMIT_MS)
    return window


def test_a_window_edits_what_the_session_plays_and_closing_it_changes_nothing(qtbot: QtBot, home: Home) -> None:
    window = opened(qtbot, home)
    window.tools.follow.click()
    qtbot.waitUntil(window.bar.switch.isChecked, timeout=LIMIT_MS)
    qtbot.waitUntil(lambda: not home.call().live, timeout=LIMIT_MS)  # while it is in front
    cell = window.map.open_slot("left_stick.up", listen=True).grid.cells["base", "left_stick.up"]
    QTest.keyPress(cell, Qt.Key.Key_F9)
    QTest.keyRelease(cell, Qt.Key.Key_F9)
    window.set_live_requested(False)
    qtbot.waitUntil(lambda: not home.call().wanted, timeout=LIMIT_MS)
    window.set_live_requested(True)
    qtbot.waitUntil(lambda: home.call().wanted, timeout=LIMIT_MS)
    window.close()
    state = home.await_state(lambda state: state.live)
    assert state.seats[0].title == "Saltglass Keeper"
    home.await_state(lambda state: "KEY_F9" in state.down)  # as the simulated pad walks on


def test_the_window_follows_when_the_session_plays_another_profile(qtbot: QtBot, home: Home) -> None:
    window = opened(qtbot, home)
    other = home.profiles / "tidefold.toml"
    home.call(LoadProfile(other.read_text(), 0, str(other)))
    qtbot.waitUntil(lambda: "Tidefold" in window.windowTitle(), timeout=LIMIT_MS)
    assert home.call().seats[0].file == str(other)
    window.close()


GAMES = {
    name: f"""schema = 4
title = "{name}"
[[layers]]
id = "base"
label = "Base"
[layers.slots]
"left_stick.up" = {{ keys = ["{key}"] }}
east = {{ keys = ["KEY_T"], manner = "toggle", regain = true }}
[[comes_on.rules]]
window = "{name}"
"""
    for name, key in (("tide", "KEY_F7"), ("dust", "KEY_F8"))
}


# `NUB_SHIFT_LONG` asks for two thousand.
TURNS = 2000 if os.environ.get("NUB_SHIFT_LONG") else 7
# What is down where each window is in front; no rule names the last one.
DOWN = {"dust": ("KEY_F8",), "tide": ("KEY_T", "KEY_F7"), "desk": ()}


def changed(key: Key) -> str:
    """A key that goes down or up, as "+KEY_A"."""
    return f"{'+' if key.down else '-'}{key.code}"


@pytest.mark.parametrize("is_open", [True, False])
def test_each_change_of_game_presses_once_and_brings_toggles_back_whether_a_window_is_open_or_not(
    qtbot: QtBot, home: Home, is_open: bool
) -> None:
    for name, text in GAMES.items():
        write_text(home.profiles / f"{name}.toml", text)
    window = opened(qtbot, home) if is_open else None
    held = {"left_stick.y": -1.0}
    with closing(RunnerClient(home.socket)) as client:
        client.call(WorkByHand("tern", {}))
        home.await_state(lambda state: state.seats[0].slots == () and state.down == ())
        client.call(ReportFront(Front(1, ("tide",))))
        home.await_state(lambda state: state.seats[0].title == "tide")
        client.call(Subscribe(250))
        client.call(WorkByHand("tern", {"east": 1.0}))
        client.call(WorkByHand("tern", held))
        home.await_state(lambda state: state.down == DOWN["tide"])
        went: list[str] = []
        before, changes = "", [f"+{code}" for code in DOWN["tide"]]
        for turn in range(TURNS):
            while len(went) < len(changes):
                went += [changed(out) for out in client.telemetry().outputs if isinstance(out, Key)]
            assert sorted(went) == sorted(changes), (turn, before)
            went.clear()
            before, name = (list(DOWN)[(turn + step) % 3] for step in (1, 2))
            changes = [f"-{code}" for code in DOWN[before]] + [f"+{code}" for code in DOWN[name]]
            client.call(ReportFront(Front(turn + 2, (name,))))
            home.await_state(lambda state, down=set(DOWN[name]): set(state.down) == down)  # type: ignore[misc]
            if name == "desk":
                for values in ({"south": 1.0, "east": 1.0}, {"south": 0.0, **held}):
                    client.call(WorkByHand("tern", values))
                    seen: dict[str, float] = {}
                    while not values.items() <= seen.items():
                        packet = client.telemetry()
                        seen |= packet.values
                        went += [changed(out) for out in packet.outputs if isinstance(out, Key)]
            elif window is not None:
                qtbot.waitUntil(lambda name=name: window.windowTitle().startswith(name), timeout=LIMIT_MS)  # type: ignore[misc]
                qtbot.wait(50)  # it may have something to say to the runner
    if window is not None:
        window.close()


def test_a_window_on_another_profile_has_the_session_play_that(qtbot: QtBot, home: Home) -> None:
    window = opened(qtbot, home, "tidefold")
    qtbot.waitUntil(lambda: home.call().seats[0].file == str(home.profiles / "tidefold.toml"), timeout=LIMIT_MS)
    assert "Tidefold" in window.windowTitle()
    window.close()


def test_a_runner_that_dies_under_the_window_is_back_with_what_it_had(
    qtbot: QtBot, home: Home, monkeypatch: pytest.MonkeyPatch
) -> None:
    monkeypatch.setattr("nub_shift.ui.runner_start.GRACE_MS", 50)
    window = opened(qtbot, home)
    said: list[str] = []
    window._link.message.connect(said.append)
    assert home.process is not None
    home.await_kept(lambda kept: kept.live)
    os.kill(home.process.pid, signal.SIGKILL)
    qtbot.waitUntil(lambda: "the runner is there again" in said, timeout=LIMIT_MS)
    assert said[0].startswith("the runner ended")
    window.close()
    state = home.await_state(lambda state: state.live)
    assert (state.seats[0].title, state.seats[0].pad.name) == ("Saltglass Keeper", "Tern two-stick pad")


def test_play_changes_over_to_the_session_and_back_from_the_window(
    qtbot: QtBot, tmp_path: Path, monkeypatch: pytest.MonkeyPatch
) -> None:
    home = Home(tmp_path)
    for name, value in {**home.environment, "PYTHON": sys.executable}.items():
        monkeypatch.setenv(name, value)
    program = tmp_path / "nub-shift"
    write_text(program, '#!/bin/sh\nexec "$PYTHON" -m nub_shift "$@" --output print\n')
    program.chmod(0o755)
    monkeypatch.setattr("sys.argv", [str(program)])
    monkeypatch.setattr("nub_shift.tasks.session_start._systemd_serves", lambda: False)
    path = home.profiles / "saltglass.toml"
    write_text(path, demo_profile_text())

    def own(profile: Path) -> OwnRunner:
        return OwnRunner(profile, "simulated:tern", "print")

    document = Document(path, read_profile(path))
    window = Window(Theme(DAY), document, RunnerLink(own(path)), own_runner=own)
    qtbot.addWidget(window)
    window.show()
    window._link.start()
    qtbot.waitUntil(lambda: window.live.pad_key == "simulated:tern", timeout=LIMIT_MS)
    window.set_live_requested(True)
    window.show_station(Station.PLAY)
    button = window.play.session.button
    try:
        qtbot.waitUntil(lambda: button.y() > 54)  # it is laid out
        place = button.pos()
        button.click()
        qtbot.waitUntil(lambda: window._link.stays and button.isEnabled(), timeout=LIMIT_MS)
        qtbot.waitUntil(lambda: home.call().wanted, timeout=LIMIT_MS)  # as it was
        state = home.call()
        assert state.seats[0].file == str(path) and button.pos() == place
        states: list[State] = []
        window._link.state_changed.connect(states.append)
        button.click()
        qtbot.waitUntil(lambda: not window._link.stays, timeout=LIMIT_MS)
        qtbot.waitUntil(lambda: bool(states) and states[-1].wanted, timeout=LIMIT_MS)  # as it was again
        assert not home.socket.exists()
    finally:
        window.close()
        stop_resident()

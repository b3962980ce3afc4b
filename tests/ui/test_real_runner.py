"""The window with a runner of its own, and as a real window that a person works on an X server."""

from __future__ import annotations

import os
import signal
import subprocess
import sys
import time
from pathlib import Path

import pytest
from PyQt6.QtCore import Qt
from pytestqt.qtbot import QtBot

from nub_shift.demo.games import demo_profile_text
from nub_shift.editing.document import Document
from nub_shift.engine.values import Key
from nub_shift.model.profile.reactions import Assignment
from nub_shift.protocol.messages import State, Telemetry
from nub_shift.store.atomic import write_text
from nub_shift.store.library import library_folder
from nub_shift.store.profile_files import read_profile
from nub_shift.ui.link import RunnerLink
from nub_shift.ui.look.theme import DAY, Theme
from nub_shift.ui.runner_start import OwnRunner
from nub_shift.ui.window import Window
from tests.ui.hands import QTest

LIMIT_MS = 20_000


@pytest.fixture
def profile(tmp_path: Path) -> Path:
    path = tmp_path / "game.toml"
    write_text(path, demo_profile_text())
    return path


def test_an_edit_reaches_the_runner_while_it_plays(qtbot: QtBot, profile: Path) -> None:
    document = Document(profile, read_profile(profile))
    own = OwnRunner(profile, "simulated:tern", "print")
    link = RunnerLink(own)
    window = Window(Theme(DAY), document, link)
    qtbot.addWidget(window)
    window.tools.follow.click()
    window.show()
    sent: list[str] = []

    def note(packet: Telemetry) -> None:
        sent.extend(output.code for output in packet.outputs if isinstance(output, Key))

    link.telemetry.connect(note)
    link.start()
    qtbot.waitUntil(lambda: window.live.state is not None, timeout=LIMIT_MS)
    cell = window.map.open_slot("left_stick.up", listen=True).grid.cells["base", "left_stick.up"]
    QTest.keyPress(cell, Qt.Key.Key_F9)
    QTest.keyRelease(cell, Qt.Key.Key_F9)
    qtbot.waitUntil(lambda: "KEY_F9" in sent, timeout=LIMIT_MS)
    process = own._process
    window.close()
    assert process.state() == process.ProcessState.NotRunning


def test_a_runner_that_dies_is_started_again(qtbot: QtBot, profile: Path) -> None:
    own = OwnRunner(profile, "simulated:tern", "print")
    link = RunnerLink(own)
    messages: list[str] = []
    link.message.connect(messages.append)
    with qtbot.waitSignal(link.state_changed, timeout=LIMIT_MS):
        link.start()
    link.go(True)
    states: list[State] = []
    link.state_changed.connect(states.append)
    qtbot.waitUntil(lambda: bool(states) and states[-1].live, timeout=LIMIT_MS)
    states.clear()
    own._process.kill()
    qtbot.waitUntil(lambda: bool(states) and states[-1].live, timeout=LIMIT_MS)  # as it was
    assert messages == ["the runner ended (it was killed); starting it again", "the runner is there again"]
    link.end()


def test_a_runner_that_does_not_answer_is_told_and_one_that_never_stays_up_is_given_up(
    qtbot: QtBot, profile: Path, monkeypatch: pytest.MonkeyPatch
) -> None:
    monkeypatch.setattr("nub_shift.ui.link.RESTART_MS", 0)
    own = OwnRunner(profile, "simulated:tern", "print")
    link = RunnerLink(own)
    messages: list[str] = []
    link.message.connect(messages.append)
    with qtbot.waitSignal(link.state_changed, timeout=LIMIT_MS):
        link.start()
    os.kill(own._process.processId(), signal.SIGSTOP)
    qtbot.waitUntil(lambda: messages == ["the runner does not answer"], timeout=LIMIT_MS)
    os.kill(own._process.processId(), signal.SIGCONT)
    qtbot.waitUntil(lambda: messages[-1] == "the runner answers again", timeout=LIMIT_MS)
    own._words = ["--version"]
    own._process.kill()
    qtbot.waitUntil(lambda: "keys go nowhere now" in messages[-1], timeout=LIMIT_MS)
    assert "4 times in a row (it said nothing)" in messages[-1]
    link.end()


def test_a_person_binds_a_key_in_a_real_window(x_server: str, profile: Path) -> None:
    library_folder().mkdir(parents=True)
    environment = {**os.environ, "DISPLAY": x_server, "QT_QPA_PLATFORM": "xcb"}
    # A pad that is not there touches nothing while the person works with mouse and keys.
    profile = profile.rename(library_folder() / profile.name)  # what is elsewhere would be looked at first
    arguments = ["window", str(profile), "--pad", "evdev:none", "--output", "x11", "--seconds", "60"]
    command = [sys.executable, "-m", "nub_shift", *arguments]

    def act(*words: str) -> str:
        done = subprocess.run(
            ["xdotool", *words], env=environment, capture_output=True, text=True, timeout=60, check=True
        )
        return done.stdout.strip()

    with subprocess.Popen(command, env=environment, stderr=subprocess.PIPE, text=True) as process:
        try:
            window = act("search", "--sync", "--onlyvisible", "--name", "Nub Shift").splitlines()[0]
            act("windowmove", window, "0", "0", "windowfocus", "--sync", window)
            before = read_profile(profile)
            act("mousemove", "300", "192", "click", "1")  # the left trigger, in the first lane
            act("key", "F11", "Return")  # it is only looked at, until Enter
            assert read_profile(profile) == before
            end = time.monotonic() + 20
            while read_profile(profile) == before and time.monotonic() < end:
                act("key", "F11")
            bound = read_profile(profile).layers[0].slots["left_trigger.light"]
            assert bound == Assignment(keys=("KEY_F11",))
            act("key", "ctrl+q")
            assert process.wait(30) == 0
        finally:
            process.kill()

"""A session bus that hangs stops neither play nor the menu nor the key that stops everything."""

from __future__ import annotations

import os
import signal
import subprocess
from collections.abc import Iterator
from pathlib import Path

import pytest
from Xlib import X, display
from Xlib.ext import xtest

from nub_shift.protocol.calls import AssignPad, OpenMenu, PlugIn, SetLive, WorkByHand
from nub_shift.store.atomic import write_text
from tests.engine.playing import profile_text
from tests.runner.resident import Home
from tests.xserver import XWindow

PAUSE, MENU = 127, "Nub Shift sign"


@pytest.fixture
def bus(tmp_path: Path) -> Iterator[tuple[str, subprocess.Popen[str]]]:
    """A session bus of its own, and its address."""
    command = ["dbus-daemon", "--session", "--nofork", "--print-address", f"--address=unix:path={tmp_path}/bus"]
    with subprocess.Popen(command, stdout=subprocess.PIPE, text=True) as daemon:
        assert daemon.stdout is not None
        yield daemon.stdout.readline().strip(), daemon
        daemon.send_signal(signal.SIGCONT)
        daemon.terminate()


def panes(window: XWindow) -> int:
    """How many signs can be seen."""
    children = window.display.screen().root.query_tree().children
    return sum(child.get_wm_name() == MENU and child.get_attributes().map_state == X.IsViewable for child in children)


@pytest.mark.parametrize("from_the_start", [True, False])
def test_with_a_bus_that_hangs_keys_menu_and_the_pause_key_go_on(
    tmp_path: Path, x_window: XWindow, x_server: str, bus: tuple[str, subprocess.Popen[str]], from_the_start: bool
) -> None:
    address, daemon = bus
    home = Home(tmp_path, DISPLAY=x_server, DBUS_SESSION_BUS_ADDRESS=address)
    home.environment.pop("QT_QPA_PLATFORM", None)
    write_text(home.profiles / "mine.toml", profile_text('south = { keys = ["KEY_A"] }'))
    if from_the_start:
        os.kill(daemon.pid, signal.SIGSTOP)
    home.start("--output", "x11")
    home.call(PlugIn("tern"), AssignPad("simulated:tern"), WorkByHand("tern", {}), SetLive(True))
    home.await_state(lambda state: state.halt_key == "Pause")
    home.await_state(lambda _: bool(home.call(OpenMenu(True))) and panes(x_window) > 0)
    home.call(OpenMenu(False))
    os.kill(daemon.pid, signal.SIGSTOP)
    for _ in range(30):  # each goes to the tray, too
        home.call(SetLive(False), SetLive(True))
    home.call(WorkByHand("tern", {"south": 1.0}))
    x_window.until(lambda: bool(x_window.keys_down()))
    home.call(WorkByHand("tern", {}), OpenMenu(True))
    x_window.until(lambda: panes(x_window) > 0 and not x_window.keys_down())
    home.call(OpenMenu(False))
    keyboard = display.Display(x_server)
    for kind in (X.KeyPress, X.KeyRelease):
        xtest.fake_input(keyboard, kind, PAUSE)
    keyboard.sync()
    home.await_state(lambda state: state.halted)
    keyboard.close()
    home.end()

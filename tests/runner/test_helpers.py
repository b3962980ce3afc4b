"""The processes that work for a runner, and the display that they need: they hang, end and come back while it plays."""

from __future__ import annotations

import os
import signal
from collections.abc import Iterator
from contextlib import suppress
from pathlib import Path

import psutil
import pytest
from Xlib import X, Xatom, display

from nub_shift.model.profile.activation import Away
from nub_shift.protocol.calls import AssignPad, OpenMenu, PlugIn, ReportAway, SetLive, WorkByHand
from nub_shift.store.atomic import write_text
from tests.engine.playing import profile_text
from tests.runner.resident import Home, until
from tests.xserver import XWindow, x_process

PROFILE = profile_text('south = { keys = ["KEY_A"] }\neast = { keys = ["KEY_B"], manner = "toggle", regain = true }')
KEY_A, KEY_B = 38, 56


@pytest.fixture
def home(tmp_path: Path) -> Iterator[Home]:
    made = Home(tmp_path)
    write_text(made.profiles / "mine.toml", PROFILE)
    yield made
    if made.process is not None and made.process.poll() is None:
        made.end()


def play(home: Home, name: str) -> None:
    """Plays with a made-up pad through that X server."""
    home.environment["DISPLAY"] = name
    home.start("--output", "x11")
    home.call(PlugIn("tern"), AssignPad("simulated:tern"), WorkByHand("tern", {}), SetLive(True))


def helper(home: Home, module: str) -> int:
    """The process of that helper; 0 if there is none."""
    assert home.process is not None
    for child in psutil.Process(home.process.pid).children():
        with suppress(psutil.Error):  # it has ended meanwhile
            if f"nub_shift.cli.{module}" in child.cmdline():
                return child.pid
    return 0


@pytest.mark.parametrize("number", [signal.SIGSTOP, signal.SIGKILL])
@pytest.mark.parametrize("module", ["session_watch", "signs"])
def test_a_helper_that_hangs_or_ends_is_started_again_and_play_goes_on(
    home: Home, x_window: XWindow, x_server: str, module: str, number: int
) -> None:
    play(home, x_server)
    until(lambda: helper(home, module) and home.call().halt_key == "Pause")
    before = helper(home, module)
    if module == "signs":
        home.await_state(lambda _: home.call(OpenMenu(True)).seats[0].slots == ())
    else:
        home.call(ReportAway(Away.LOCKED))  # what it has told last does not outlive it
    os.kill(before, number)
    home.call(WorkByHand("tern", {"home": 1.0}))
    until(lambda: home.call() and helper(home, module) not in {0, before})
    home.await_state(lambda state: state.away is Away.NO)
    home.call(OpenMenu(False), WorkByHand("tern", {}), WorkByHand("tern", {"south": 1.0}))
    x_window.until(lambda: KEY_A in x_window.keys_down())
    root, atom = x_window.display.screen().root, x_window.display.intern_atom("_NET_ACTIVE_WINDOW")
    x_window.window.set_wm_name("After that")
    root.change_property(atom, Xatom.WINDOW, 32, [x_window.window.id], X.PropModeReplace)
    x_window.display.sync()
    home.await_state(lambda state: state.front is not None and state.front.title == "After that")
    home.end()
    x_window.until(lambda: not x_window.keys_down())


# The X library leaves the sockets it tried to the garbage collector.
@pytest.mark.filterwarnings("ignore::pytest.PytestUnraisableExceptionWarning", "ignore::ResourceWarning")
def test_a_display_that_ends_ends_live_at_once_and_all_of_it_is_back_with_the_display(home: Home) -> None:
    with x_process() as (name, server):
        play(home, name)
        until(lambda: helper(home, "session_watch") and helper(home, "signs"))
        home.call(WorkByHand("tern", {"south": 1.0}))
        home.await_state(lambda state: state.down == ("KEY_A",))
        server.kill()
        state = home.await_state(lambda state: not state.live)
        assert state.wanted, "it is to go on"
        home.await_state(lambda state: state.away is Away.NO_DISPLAY)
        home.call(WorkByHand("tern", {}))
    with x_process(name) as (name, server):
        home.await_state(lambda state: state.live and state.away is Away.NO)
        until(lambda: helper(home, "signs"))
        home.call(WorkByHand("tern", {"south": 1.0}))
        with_keys = display.Display(name)
        until(lambda: any(with_keys.query_keymap()))
        with_keys.close()
        home.end()


def test_while_the_screen_is_locked_nothing_is_sent_and_toggles_are_back_afterwards(
    home: Home, x_window: XWindow, x_server: str
) -> None:
    play(home, x_server)
    home.await_state(lambda state: state.halt_key == "Pause")  # the watch of the session has said how things are
    home.call(WorkByHand("tern", {"east": 1.0}), WorkByHand("tern", {"south": 1.0}))
    x_window.until(lambda: x_window.keys_down() == [KEY_A, KEY_B])
    home.call(ReportAway(Away.LOCKED))
    x_window.until(lambda: not x_window.keys_down())
    home.call(OpenMenu(True))
    assert home.call().seats[0].slots == () and not x_window.keys_down()
    home.call(ReportAway(Away.NO))
    x_window.until(lambda: x_window.keys_down() == [KEY_B])  # a button that is held waits for its next press
    home.call(WorkByHand("tern", {}), WorkByHand("tern", {"south": 1.0}))
    x_window.until(lambda: x_window.keys_down() == [KEY_A, KEY_B])

"""The processes that work for a runner die, stop or hang while it holds something: nothing stays down, and it plays on.

`NUB_SHIFT_LONG` asks for the whole table.
"""

from __future__ import annotations

import os
import signal
import time
from collections.abc import Iterator
from contextlib import nullcontext, suppress
from pathlib import Path

import psutil
import pytest

from nub_shift.protocol.calls import AssignPad, LoadProfile, OpenMenu, PlugIn, SetLive, WorkByHand
from nub_shift.protocol.client import RunnerError
from nub_shift.store.atomic import write_text
from tests.runner.resident import Home, until
from tests.trust.test_ways_to_die import PROFILE
from tests.xserver import XWindow

LONG = bool(os.environ.get("NUB_SHIFT_LONG"))
LAYERED = PROFILE.replace("[layers.slots]", '[layers.slots]\nright_shoulder = { layer = "over" }', 1).replace(
    "[[sequences]]", '[[layers]]\nid = "over"\nlabel = "Over"\nslots = { south = { keys = ["KEY_O"] } }\n[[sequences]]'
)
# What the hands do in each state.
STATES: dict[str, tuple[dict[str, float], ...]] = {
    "key": ({"south": 1.0},),
    "toggle": ({"east": 1.0}, {}),
    "turbo": ({"west": 1.0},),
    "ring": ({"right_stick.y": -1.0},),
    "menu": (),
    "layer": ({"right_shoulder": 1.0}, {"right_shoulder": 1.0, "south": 1.0}),
}
HELPERS = ("cli.signs", "cli.session_watch", "runner.profiles.reading", "outputs.x11_watcher")
# A process that is stopped and goes on after three seconds was hung.
WAYS = {"killed": signal.SIGKILL, "stopped": signal.SIGSTOP, "hung": signal.SIGSTOP}
HUNG_S = 3.0
AGAIN_S = 2.0
LIMIT_S = 30.0
SHORT = [("cli.signs", "stopped"), ("runner.profiles.reading", "killed"), ("outputs.x11_watcher", "killed")]
ASKED = [(helper, way) for helper in HELPERS for way in WAYS] if LONG else SHORT


@pytest.fixture
def home(tmp_path: Path, x_server: str) -> Iterator[Home]:
    made = Home(tmp_path, DISPLAY=x_server)
    write_text(made.profiles / "ends.toml", LAYERED)
    made.start("--output", "x11")
    made.call(PlugIn("tern"), AssignPad("simulated:tern"), WorkByHand("tern", {}), SetLive(True))
    yield made
    made.end()


def helper(home: Home, module: str) -> int:
    """The process that runs that module for the runner; 0 if there is none."""
    assert home.process is not None
    for child in psutil.Process(home.process.pid).children():
        with suppress(psutil.Error):  # it has ended meanwhile
            if f"nub_shift.{module}" in child.cmdline() and child.status() != psutil.STATUS_ZOMBIE:
                return child.pid
    return 0


def down(window: XWindow) -> bool:
    """Whether a key or a mouse button is down on the display."""
    return bool(window.keys_down() or window.buttons_down())


def work(home: Home, *values: dict[str, float]) -> None:
    """Moves the hands at the pad."""
    for held in values:
        home.call(WorkByHand("tern", held))


@pytest.mark.parametrize(("module", "way"), ASKED)
def test_a_helper_that_goes_leaves_nothing_down_and_play_goes_on(
    home: Home, x_window: XWindow, module: str, way: str
) -> None:
    home.await_state(lambda state: state.halt_key == "Pause")
    until(lambda: helper(home, "cli.signs"))
    path = home.profiles / "ends.toml"
    for number, (state, holds) in enumerate(STATES.items()):
        if state == "menu":
            home.await_state(lambda _: bool(home.call(OpenMenu(True))) and helper(home, "cli.signs") > 0)
        if state != "menu":
            until_down(home, x_window, *holds)
        until(lambda: helper(home, module) or home.call(LoadProfile(LAYERED, 0, str(path))) is None)
        pid = helper(home, module)
        os.kill(pid, WAYS[way])
        if module == "runner.profiles.reading":  # somebody edits; one that does not answer is given up after its time
            edit = LoadProfile(LAYERED.replace("Ends", f"Ends {number}"), 0, str(path))
            with suppress(RunnerError, TimeoutError) if way != "killed" else nullcontext():
                home.call(edit)
        if way == "hung":
            time.sleep(HUNG_S)
            with suppress(ProcessLookupError):
                os.kill(pid, signal.SIGCONT)
        work(home, {})
        home.await_state(lambda state: state.live)
        if home.call().seats[0].toggles:  # neither by the edit nor by the loss of the display was it ended
            work(home, {"east": 1.0}, {})
        if state == "menu":
            work(home, {"home": 1.0}, {})  # whether the menu could be shown or not, its opener leaves it
            home.call(OpenMenu(False))
        x_window.until(lambda: not down(x_window))
        if module == "runner.profiles.reading":
            home.call(edit)
        until_down(home, x_window, {"left_shoulder": 1.0})
        work(home, {})
        x_window.until(lambda: not down(x_window))


def until_down(home: Home, window: XWindow, *holds: dict[str, float]) -> None:
    """The hands hold something, again where it was let go since a helper was missing."""
    end_s = time.monotonic() + LIMIT_S
    while not down(window):
        assert time.monotonic() < end_s, home.call()
        work(home, {}, *holds)
        with suppress(AssertionError):
            window.until(lambda: down(window), AGAIN_S)


def test_a_watcher_that_ends_is_replaced_before_anything_is_pressed_without_it(home: Home, x_window: XWindow) -> None:
    before = helper(home, "outputs.x11_watcher")
    work(home, {"south": 1.0})
    x_window.until(lambda: down(x_window))
    os.kill(before, signal.SIGKILL)
    x_window.until(lambda: not down(x_window))
    until(lambda: helper(home, "outputs.x11_watcher") not in {0, before} and home.call().live)
    work(home, {}, {"south": 1.0})
    x_window.until(lambda: down(x_window))
    assert home.process is not None
    home.process.kill()
    x_window.until(lambda: not down(x_window))
    home.process.wait()

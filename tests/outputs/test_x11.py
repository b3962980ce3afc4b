"""XTEST into a real window of a real X server."""

from __future__ import annotations

import gc
import os
import select
import signal
import time
from collections.abc import Iterator
from pathlib import Path

import pytest
from Xlib import X

from nub_shift.engine.values import Key, Place, PlaceBack, Pointer, Wheel
from nub_shift.outputs.output import DownKeys, OutputError, WheelClicks
from nub_shift.outputs.x11 import X11Output
from tests.runner.processes import RunnerProcess
from tests.xserver import LIMIT_S, XWindow

W, SPACE = 17 + 8, 57 + 8


@pytest.fixture
def output(x_server: str) -> Iterator[X11Output]:
    made = X11Output(x_server)
    yield made
    made.close()


def test_keys_buttons_and_wheel_arrive_in_a_window(x_window: XWindow, output: X11Output) -> None:
    output.send([Key(0, "KEY_W", True), Key(0, "BTN_LEFT", True)])
    output.send([Key(0, "BTN_LEFT", False), Key(0, "KEY_W", False), Wheel(0, 0, 120), Wheel(0, 0, -120)])
    x_window.wait(
        (X.KeyPress, W),
        (X.ButtonPress, 1),
        (X.ButtonRelease, 1),
        (X.KeyRelease, W),
        (X.ButtonPress, 4),
        (X.ButtonPress, 5),
    )


def test_the_pointer_moves_by_counts(x_window: XWindow, output: X11Output) -> None:
    x, y = x_window.pointer()
    output.send([Pointer(0, 30, -20), Pointer(0, -10, 0)])
    end = time.monotonic() + LIMIT_S
    while x_window.pointer() != (x + 20, y - 20) and time.monotonic() < end:
        pass
    assert x_window.pointer() == (x + 20, y - 20)


def test_the_pointer_is_placed_and_goes_back_to_where_it_was(x_window: XWindow, output: X11Output) -> None:
    screen = x_window.display.screen()
    output.send([Place(0, 0.25, 1.0)])
    x_window.until(
        lambda: x_window.pointer() == (round(0.25 * (screen.width_in_pixels - 1)), screen.height_in_pixels - 1)
    )
    output.send([Pointer(1, 7, -20)])
    x_window.until(lambda: x_window.pointer()[1] == screen.height_in_pixels - 21)
    before = x_window.pointer()
    output.send([Place(2, 0.5, 0.5)])
    x_window.until(lambda: x_window.pointer() != before)
    output.send([PlaceBack(3)])
    x_window.until(lambda: x_window.pointer() == before)
    output.send([PlaceBack(4), Pointer(5, 1, 0)])
    x_window.until(lambda: x_window.pointer() == (before[0] + 1, before[1]))


def test_closing_releases_what_is_down(x_window: XWindow, x_server: str) -> None:
    output = X11Output(x_server)
    output.send([Key(0, "KEY_SPACE", True)])
    output.close()
    output.close()
    x_window.wait((X.KeyPress, SPACE), (X.KeyRelease, SPACE))
    assert x_window.keys_down() == []


@pytest.mark.parametrize("number", [signal.SIGKILL, signal.SIGTERM])
def test_no_death_of_the_runner_leaves_a_key_down(
    x_window: XWindow, x_server: str, tmp_path: Path, monkeypatch: pytest.MonkeyPatch, number: int
) -> None:
    tmp_path.chmod(0o700)
    monkeypatch.setenv("DISPLAY", x_server)
    runner = RunnerProcess(tmp_path, "--pad", "simulated", "--output", "x11")
    x_window.wait((X.KeyPress, W))
    code, _ = runner.end(number)
    x_window.wait((X.KeyPress, W), (X.KeyRelease, W))
    assert code == (-number if number == signal.SIGKILL else 0)
    assert x_window.keys_down() == []


def test_a_watcher_that_is_slow_to_answer_many_quick_presses_is_no_watcher_that_hangs(
    x_server: str, monkeypatch: pytest.MonkeyPatch
) -> None:
    output, now_s = X11Output(x_server), time.monotonic()
    monkeypatch.setattr("nub_shift.outputs.watcher.time.monotonic", lambda: now_s)
    pid = output._watcher._process.pid
    os.kill(pid, signal.SIGSTOP)
    for _ in range(130):  # two seconds of a quick turbo
        now_s += 0.015
        output.beat()
    os.kill(pid, signal.SIGCONT)
    select.select([output._watcher._answers], [], [], LIMIT_S)
    now_s += 3600  # nothing was pressed for an hour
    output.beat()
    os.kill(pid, signal.SIGSTOP)
    with pytest.raises(OutputError, match="watcher_gone"):
        for _ in range(12):
            now_s += 0.5
            output.beat()
    output.close()


def test_where_other_programs_hear_nothing_of_the_x_server_it_is_not_simply_live(
    x_server: str, tmp_path: Path, monkeypatch: pytest.MonkeyPatch
) -> None:
    tmp_path.chmod(0o700)
    monkeypatch.setenv("DISPLAY", x_server)
    monkeypatch.setenv("WAYLAND_DISPLAY", "wayland-7")
    runner = RunnerProcess(tmp_path, "--pad", "simulated", "--output", "x11")
    code, _ = runner.end()
    assert code == 0 and "x11, live, but only in programs that use X11" in runner.said[-2]


# The X library leaves the sockets it tried to the garbage collector.
@pytest.mark.filterwarnings("ignore::pytest.PytestUnraisableExceptionWarning", "ignore::ResourceWarning")
def test_no_display_is_said_plainly() -> None:
    with pytest.raises(OutputError, match="no_x_server"):
        X11Output(":250")
    gc.collect()


def test_what_is_down_is_known_whatever_the_engine_believes() -> None:
    keys = DownKeys()
    keys.note([Key(0, "KEY_A", True), Key(0, "KEY_B", True), Key(0, "KEY_A", False), Key(0, "KEY_C", True)])
    assert keys.releases(9) == [Key(9, "KEY_C", False), Key(9, "KEY_B", False)]


def test_parts_of_a_wheel_click_add_up_to_whole_ones() -> None:
    clicks = WheelClicks()
    assert [clicks.take(1, amount) for amount in (60, 60, -30, -90, -120, 250)] == [0, 1, 0, -1, -1, 2]

"""Cost of a session's runner, and the delay of a profile after its window."""

from __future__ import annotations

import os
import select
import signal
import subprocess
import tempfile
import time
from collections.abc import Callable, Iterator
from contextlib import closing, contextmanager
from pathlib import Path
from statistics import median

from Xlib import X, Xatom, display

from nub_shift.bench.figures import Figure
from nub_shift.bench.processes import resident_mb_of
from nub_shift.demo.games import GAMES, demo_profile_text
from nub_shift.model.messages import Code
from nub_shift.own_process import PROGRAM, own_command
from nub_shift.protocol.calls import AssignPad, GetState, PlugIn, SetLive, WorkByHand
from nub_shift.protocol.client import RunnerClient
from nub_shift.store.atomic import write_text

_LIMIT_S = 20.0
_SOME_FRAMES_S = 0.05
_PAD = "simulated:tern"
_CHANGE = "from the window's change to its profile"


def session_figures(quick: bool) -> list[Figure]:
    """Returns the delay of profiles that follow the window in front, on our own X server, and the runner's memory.

    Load at rest is measured with a pad of a real kernel (`bench.kernel.latency`), since a simulated pad reports all the
    time.
    """
    with tempfile.TemporaryDirectory(prefix="nub-shift-bench-") as name, x_server() as server:
        folder = Path(name)
        if not server:
            return [Figure(_CHANGE, 0.0, "ms", 100.0, unseen="there is no Xvfb here")]
        environment = home_of(folder, server)
        titles = [_with_rule(folder, game) for game in GAMES[:2]]
        command = own_command(PROGRAM, "resident", "--output", "print")
        with subprocess.Popen(
            command, env=environment, stdout=subprocess.DEVNULL, stderr=subprocess.PIPE, text=True
        ) as runner:
            assert runner.stderr is not None
            while "ready:" not in (line := runner.stderr.readline()):
                if not line:
                    return [Figure(_CHANGE, 0.0, "ms", 100.0, unseen="the runner was never ready")]
            try:
                with closing(RunnerClient(folder / "run" / "nub-shift" / "resident.sock")) as client:
                    for call in (PlugIn("tern"), AssignPad(_PAD), SetLive(True)):
                        client.call(call)
                    client.call(WorkByHand(_PAD, {}))
                    changes = _changes(client, server, titles, 6 if quick else 40)
                    return [
                        *changes,
                        Figure("session's runner: resident memory", resident_mb_of(runner.pid), "MB", 32.0),
                    ]
            finally:
                runner.send_signal(signal.SIGTERM)


def _changes(client: RunnerClient, server: str, titles: list[str], rounds: int) -> list[Figure]:
    """Brings windows to the front in turn, as a window manager does."""
    taken_ms = []
    held = ""
    with closing(display.Display(server)) as connection:
        root = connection.screen().root
        active = connection.intern_atom("_NET_ACTIVE_WINDOW")
        windows = [root.create_window(0, 0, 10, 10, 0, X.CopyFromParent) for _ in titles]
        for window, game in zip(windows, GAMES, strict=False):
            window.set_wm_class(game, game)
        connection.sync()
        for number in range(rounds):
            client.call(WorkByHand(_PAD, {"left_stick.click": 1.0}))  # makes every change visible
            if not wait_until(lambda: bool(client.call(GetState()).down)):
                held = "no key was down to be held over"
            wanted = titles[number % 2]
            start = time.perf_counter()
            root.change_property(active, Xatom.WINDOW, 32, [windows[number % 2].id], X.PropModeReplace)
            connection.sync()
            while (said := client.said().message).code is not Code.PLAYING or said.values["title"] != wanted:
                pass
            taken_ms.append((time.perf_counter() - start) * 1000)
            down = client.call(GetState()).down
            held = f"held over: {', '.join(down)}" if down else held
            client.call(WorkByHand(_PAD, {}))
            time.sleep(_SOME_FRAMES_S)
    taken_ms = taken_ms[2:]  # without the first time of each, which reads the files
    return [
        Figure(f"{_CHANGE}, median", median(taken_ms), "ms", 100.0, unseen=held),
        Figure(f"{_CHANGE}, the longest", max(taken_ms), "ms", 100.0, unseen=held),
    ]


def home_of(folder: Path, server: str = "") -> dict[str, str]:
    """Returns the environment of a person with separate folders, and the given X server."""
    (folder / "run").mkdir(mode=0o700)
    names = {"STATE": "state", "DATA": "data", "CONFIG": "config", "CACHE": "cache"}
    folders = {f"XDG_{name}_HOME": str(folder / path) for name, path in names.items()}
    return {**os.environ, **folders, "XDG_RUNTIME_DIR": str(folder / "run"), "DISPLAY": server}


def _with_rule(folder: Path, game: str) -> str:
    """Writes a demo profile with a rule for its own window; returns its title."""
    text = demo_profile_text(game) + f'\n[[comes_on.rules]]\nwindow = "{game}"\n'
    write_text(folder / "data" / "nub-shift" / "profiles" / f"{game}.toml", text)
    return next(line.split('"')[1] for line in text.splitlines() if line.startswith("title"))


def wait_until(wanted: Callable[[], bool]) -> bool:
    """Waits for a condition; returns whether it became true."""
    end = time.monotonic() + _LIMIT_S
    while not wanted():
        if time.monotonic() > end:
            return False
    return True


@contextmanager
def x_server() -> Iterator[str]:
    """Runs an Xvfb; yields its display, empty if that is not installed."""
    read_end, write_end = os.pipe()
    command = ["Xvfb", "-displayfd", str(write_end), "-screen", "0", "640x480x24", "-nolisten", "tcp", "-noreset"]
    try:
        server = subprocess.Popen(command, pass_fds=[write_end], stderr=subprocess.DEVNULL)
    except FileNotFoundError:
        yield ""
        return
    finally:
        os.close(write_end)
    try:
        came = select.select([read_end], [], [], _LIMIT_S)[0]
        yield ":" + os.read(read_end, 16).decode().strip() if came else ""
    finally:
        os.close(read_end)
        server.terminate()
        server.wait(_LIMIT_S)


@contextmanager
def session_bus() -> Iterator[str]:
    """Runs a D-Bus daemon; yields its address, empty if that is not installed."""
    try:
        bus = subprocess.Popen(
            ["dbus-daemon", "--session", "--nofork", "--print-address"],
            stdout=subprocess.PIPE,
            stderr=subprocess.DEVNULL,
            text=True,
        )
    except FileNotFoundError:
        yield ""
        return
    try:
        assert bus.stdout is not None
        came = select.select([bus.stdout], [], [], _LIMIT_S)[0]
        yield bus.stdout.readline().strip() if came else ""
    finally:
        bus.terminate()
        bus.wait(_LIMIT_S)

"""Delay of signs, and the cost of the process that shows them, on our own X server."""

from __future__ import annotations

import signal
import subprocess
import tempfile
import time
from contextlib import closing, suppress
from functools import partial
from pathlib import Path
from statistics import median

from Xlib import X, display

from nub_shift.bench.figures import Figure
from nub_shift.bench.processes import cpu_s, resident_mb_of
from nub_shift.bench.session import home_of, session_bus, wait_until, x_server
from nub_shift.demo.games import demo_profile_text
from nub_shift.own_process import PROGRAM, own_command
from nub_shift.protocol.calls import AssignPad, LoadProfile, PlugIn, SetLive, WorkByHand
from nub_shift.protocol.client import RunnerClient
from nub_shift.store.atomic import write_text

_LIMIT_S = 20.0
_PAD = "simulated:reed"
_WIDTH, _HEIGHT = 640, 480
_SEEN = "a sign is seen after the press"
# The middle of the screen, where rings and signs appear.
_RING = (0, _HEIGHT // 2 - 30, _WIDTH, 60)
_SIGNS = (_WIDTH // 2 - 80, _HEIGHT - 44, 160, 1)
_STEPS_HZ = 125


def signs_figures(quick: bool) -> list[Figure]:
    """Returns the figures of a simulated pad that opens a ring and moves in it, read from the server's screen."""
    made = tempfile.TemporaryDirectory(prefix="nub-shift-bench-")
    with made as name, x_server() as server, session_bus() as bus:
        folder = Path(name)
        if not server:
            return [Figure(_SEEN, 0.0, "ms", 50.0, unseen="there is no Xvfb here")]
        text = demo_profile_text("tidefold") + "\n[signs]\nlasts_ms = 300\n"
        file = folder / "data" / "nub-shift" / "profiles" / "tidefold.toml"
        write_text(file, text)
        environment = {name: value for name, value in home_of(folder, server).items() if name != "QT_QPA_PLATFORM"}
        # Adds a tray icon, which a session has.
        environment["DBUS_SESSION_BUS_ADDRESS"] = bus
        command = own_command(PROGRAM, "resident", "--output", "print")
        with subprocess.Popen(
            command, env=environment, stdout=subprocess.DEVNULL, stderr=subprocess.PIPE, text=True
        ) as runner:
            assert runner.stderr is not None
            try:
                while "ready:" not in (line := runner.stderr.readline()):
                    if not line:
                        return [Figure(_SEEN, 0.0, "ms", 50.0, unseen="the runner was never ready")]
                path = folder / "run" / "nub-shift" / "resident.sock"
                with closing(RunnerClient(path)) as client, closing(display.Display(server)) as connection:
                    for call in (PlugIn("reed"), AssignPad(_PAD), LoadProfile(text, 0, str(file)), SetLive(True)):
                        client.call(call)
                    return _figures(client, _Eye(connection), runner.pid, bool(bus), quick)
            finally:
                runner.send_signal(signal.SIGTERM)


class _Eye:
    """Reads the screen."""

    def __init__(self, connection: display.Display) -> None:
        self._root = connection.screen().root

    def look(self, part: tuple[int, int, int, int]) -> bytes:
        """Returns the pixels of a part, given by left, top, width and height."""
        return bytes(self._root.get_image(*part, X.ZPixmap, 0xFFFFFFFF).data)

    def sees(self, part: tuple[int, int, int, int], anything: bool) -> bool:
        """Returns whether a part of the bare, dark screen shows anything, or nothing."""
        return any(self.look(part)) is anything


def _figures(client: RunnerClient, eye: _Eye, runner: int, tray: bool, quick: bool) -> list[Figure]:
    client.call(WorkByHand(_PAD, {}))
    if not wait_until(partial(eye.sees, _SIGNS, True)):  # the sign of the profile comes first
        return [Figure(_SEEN, 0.0, "ms", 50.0, unseen="nothing was ever seen")]
    wait_until(partial(eye.sees, _SIGNS, False))
    (shows,) = [pid for pid in _children(runner) if "signs" in Path(f"/proc/{pid}/cmdline").read_text()]
    seen_ms: list[float] = []
    gone_ms: list[float] = []
    never = ""
    for _ in range(5 if quick else 30):
        for held, found in ({"slider_1": -1.0}, seen_ms), ({}, gone_ms):
            start = time.perf_counter()
            client.call(WorkByHand(_PAD, held))
            if not wait_until(partial(eye.sees, _RING, bool(held))):
                never = "a ring was not seen as it was opened and closed"
            found.append((time.perf_counter() - start) * 1000)
            time.sleep(0.02)
    pictures, load = _in_ring(client, eye, shows, 2.0 if quick else 6.0)
    wait_until(partial(eye.sees, _SIGNS, False))
    time.sleep(1.0)
    before = _woken(shows)
    seconds = 2.0 if quick else 10.0
    time.sleep(seconds)
    memory_mb = resident_mb_of(shows)
    return [
        Figure(f"{_SEEN}, median", median(seen_ms), "ms", 50.0, unseen=never),
        Figure(f"{_SEEN}, the longest", max(seen_ms), "ms", 50.0, unseen=never),
        Figure("a ring is gone after it is closed, the longest", max(gone_ms), "ms", 50.0, unseen=never),
        Figure("pictures of an open ring a second", pictures, "a second", 55.0, True),
        Figure("load of signs with an open ring", load * 100, "% of a core", 15.0),
        Figure("signs and tray, nothing shown: wake-ups a second", (_woken(shows) - before) / seconds, "", 0.0),
        Figure(
            "signs and tray: resident memory", memory_mb, "MB", 60.0, unseen="" if tray else "there is no D-Bus here"
        ),
    ]


def _in_ring(client: RunnerClient, eye: _Eye, shows: int, seconds: float) -> tuple[float, float]:
    """Returns the pictures a second of an open ring with a moving stick, and their processor time."""
    client.call(WorkByHand(_PAD, {"slider_1": -1.0}))
    wait_until(partial(eye.sees, _RING, True))
    busy_s, start = cpu_s(shows), time.perf_counter()
    pictures = 0
    before = b""
    step = 0
    while (now := time.perf_counter() - start) < seconds:
        if now * _STEPS_HZ > step:
            step += 1
            there = 0.35 + 0.4 * (step % 23) / 23  # where its curve is steep, and back at once
            client.call(WorkByHand(_PAD, {"slider_1": -1.0, "left_stick.x": there}))
        time.sleep(0.002)  # leaves time to the server
        picture = eye.look(_RING)
        pictures += picture != before
        before = picture
    taken = time.perf_counter() - start
    load = (cpu_s(shows) - busy_s) / taken
    client.call(WorkByHand(_PAD, {}))
    return pictures / taken, load


def _children(pid: int) -> list[int]:
    found = []
    for folder in Path("/proc").glob("[0-9]*"):
        with suppress(OSError):
            if int((folder / "stat").read_text().rpartition(")")[2].split()[1]) == pid:
                found.append(int(folder.name))
    return found


def _woken(pid: int) -> int:
    """Returns the number of wake-ups of all threads of a process."""
    count = 0
    for thread in Path(f"/proc/{pid}/task").iterdir():
        for line in (thread / "status").read_text().splitlines():
            if line.startswith("voluntary_ctxt_switches:"):
                count += int(line.split()[1])
    return count

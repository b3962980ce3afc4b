"""A small process that outlives the runner and releases what it left pressed on an X11 server.

It is forked before the runner opens anything, is told of every press and release through a pipe, and acts when the
pipe closes: that is how the kernel tells of any death, SIGKILL included. Its own connection to the server is open then.
It leaves the runner's process group, its session and, where that may be done, its control group: whoever ends all of
those does not end the watcher too.
"""

from __future__ import annotations

import contextlib
import os
import re
import select
import signal
import time
from pathlib import Path
from typing import Any, Final

from Xlib import X, display, error
from Xlib.ext import xtest

# For how long a server that may hang is waited for.
HANGS_S: Final = 0.5

Fake = tuple[bool, int]
_DOWN = 1
_BUTTON = 2


class Watcher:
    """The runner's end of the pipe."""

    def __init__(self, display_name: str | None) -> None:
        read_end, self._write_end = os.pipe2(os.O_CLOEXEC)
        self._pid = os.fork()
        if self._pid == 0:
            _watch(read_end, display_name)  # never returns
        os.close(read_end)

    def pressed(self, fake: Fake) -> None:
        """To be called before the press is sent."""
        self._tell(fake, _DOWN)

    def released(self, fake: Fake) -> None:
        """To be called after the release was sent."""
        self._tell(fake, 0)

    def close(self) -> None:
        """Ends the watcher, which releases what is still pressed, and waits for it unless the server hangs."""
        os.close(self._write_end)
        end_s = time.monotonic() + HANGS_S
        while os.waitpid(self._pid, os.WNOHANG) == (0, 0) and time.monotonic() < end_s:
            time.sleep(0.001)

    def _tell(self, fake: Fake, flags: int) -> None:
        is_button, number = fake
        with contextlib.suppress(BrokenPipeError):
            os.write(self._write_end, bytes((flags | (_BUTTON if is_button else 0), number)))


def _watch(read_end: int, display_name: str | None) -> None:
    """The watcher's whole life. It leaves through `os._exit`, so that nothing of the runner runs twice."""
    try:
        os.setsid()  # a signal to the runner's group must not reach the watcher
        stand_apart(Path("/proc/self/cgroup"), Path("/sys/fs/cgroup"))
        for ignored in (signal.SIGINT, signal.SIGTERM, signal.SIGHUP):
            signal.signal(ignored, signal.SIG_IGN)
        _close_others(read_end)
        server = _connected(display_name)
        down, server = _listen(read_end, server)
        if down:
            _release(down, server or _connected(display_name))
    finally:
        os._exit(0)


def _close_others(keep: int) -> None:
    """Closes all inherited descriptors but the pipe.

    Kept open, the runner's sockets and devices would outlive it, and a reader of its output would wait for ever.
    """
    os.closerange(0, keep)
    os.closerange(keep + 1, 4096)


def stand_apart(own: Path, groups: Path) -> None:
    """Moves this process into a control group of its own, where the user's service manager lets its user do so.

    `own` tells the present group as the kernel does in /proc/self/cgroup; `groups` is where groups are mounted.
    """
    with contextlib.suppress(OSError):
        line = next((line for line in own.read_text("ascii").splitlines() if line.startswith("0::")), "")
        within = re.match(r"0::(/.*/user@\d+\.service)/", line)
        if within is not None:
            apart = groups / within[1].lstrip("/") / "nub-shift-watcher"
            apart.mkdir(exist_ok=True)
            (apart / "cgroup.procs").write_text(str(os.getpid()), "ascii")


def _connected(display_name: str | None) -> Any:
    """A connection to the server, or None."""
    try:
        return display.Display(display_name)
    except (error.DisplayError, OSError):
        return None


def _listen(read_end: int, server: Any) -> tuple[dict[Fake, None], Any]:
    """What is down when the runner has gone, and the connection if it still stands."""
    down: dict[Fake, None] = {}
    rest = b""
    while True:
        readable = select.select([read_end] if server is None else [read_end, server], [], [])[0]
        if server in readable:
            server = _drained(server)
        if read_end not in readable:
            continue
        data = os.read(read_end, 4096)
        if not data:
            return down, server
        data = rest + data
        whole = len(data) // 2 * 2
        rest = data[whole:]
        for flags, number in zip(data[:whole:2], data[1:whole:2], strict=True):
            fake = (bool(flags & _BUTTON), number)
            if flags & _DOWN:
                down[fake] = None
            else:
                down.pop(fake, None)


def _drained(server: Any) -> Any:
    """The connection after what the server says to everybody was read; None if it has gone."""
    try:
        while server.pending_events():
            server.next_event()
    except (error.ConnectionClosedError, OSError):
        return None
    return server


def _release(down: dict[Fake, None], server: Any) -> None:
    if server is None:
        return  # the server has gone and took the keys with it
    for is_button, number in reversed(down):
        xtest.fake_input(server, X.ButtonRelease if is_button else X.KeyRelease, number)
    server.sync()
    server.close()

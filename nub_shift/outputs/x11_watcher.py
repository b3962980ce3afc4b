"""A small process that outlives the runner and releases what it left pressed on an X11 server.

It is told of every press and release through a pipe, and acts when the pipe closes: that is how the kernel tells of any
death, SIGKILL included. Its own connection to the server is open then. It is started anew and not forked: a fork of a
process in which other threads are at work inherits their locks, and may wait for them for ever. It leaves the runner's
process group, its session and, where that may be done, its control group: whoever ends all of those does not end the
watcher too.
"""

from __future__ import annotations

import contextlib
import os
import re
import select
import signal
import subprocess
import sys
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
        name = [display_name] if display_name is not None else []
        nowhere = subprocess.DEVNULL
        self._process = subprocess.Popen(
            [sys.executable, "-m", "nub_shift.outputs.x11_watcher", *name],
            stdin=subprocess.PIPE,
            stdout=nowhere,
            stderr=nowhere,
            bufsize=0,
            start_new_session=True,  # a signal to the runner's group must not reach the watcher
        )
        assert self._process.stdin is not None
        self._pipe = self._process.stdin

    def pressed(self, fake: Fake) -> None:
        """To be called before the press is sent."""
        self._tell(fake, _DOWN)

    def released(self, fake: Fake) -> None:
        """To be called after the release was sent."""
        self._tell(fake, 0)

    def close(self) -> None:
        """Ends the watcher, which releases what is still pressed, and waits for it unless the server hangs."""
        self._pipe.close()
        with contextlib.suppress(subprocess.TimeoutExpired):
            self._process.wait(HANGS_S)

    def _tell(self, fake: Fake, flags: int) -> None:
        is_button, number = fake
        with contextlib.suppress(BrokenPipeError):
            self._pipe.write(bytes((flags | (_BUTTON if is_button else 0), number)))


def main() -> None:
    """The watcher's whole life."""
    for ignored in (signal.SIGINT, signal.SIGTERM, signal.SIGHUP):
        signal.signal(ignored, signal.SIG_IGN)
    stand_apart(Path("/proc/self/cgroup"), Path("/sys/fs/cgroup"))
    display_name = sys.argv[1] if len(sys.argv) > 1 else None
    down, server = _listen(sys.stdin.fileno(), _connected(display_name))
    if down:
        _release(down, server or _connected(display_name))


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


if __name__ == "__main__":
    main()

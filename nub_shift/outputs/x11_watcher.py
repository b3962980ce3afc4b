"""Releases the keys of a dead or hanging runner on an X11 server, which keeps synthetic keys down when their client
dies.

Its own connection is open before anything is pressed. The process is started and not forked: a fork of a process with
threads inherits their locks, and may wait for them forever.
"""

from __future__ import annotations

import sys
from typing import Any

from Xlib import X, display, error
from Xlib.ext import xtest

from nub_shift.outputs.watcher import BEAT, BUTTON, DOWN, begin, report_ready, watch

Fake = tuple[bool, int]


class _X11Watcher:
    """Keys that are down on the server, and the connection to release them; None once the server has gone."""

    def __init__(self, server: Any) -> None:
        self.server = server
        self.down: dict[Fake, None] = {}

    def come(self, flags: int, number: int) -> None:
        if flags & BEAT:
            return
        fake = (bool(flags & BUTTON), number)
        if flags & DOWN:
            self.down[fake] = None
        else:
            self.down.pop(fake, None)

    def drain(self) -> None:
        """Reads the server's messages, and detects its end."""
        try:
            while self.server.pending_events():
                self.server.next_event()
        except (error.ConnectionClosedError, OSError):
            self.server = None

    def release(self) -> None:
        down, self.down = self.down, {}
        if self.server is None or not down:
            return  # the server has gone, and with it the pressed keys
        try:
            for is_button, number in reversed(down):
                xtest.fake_input(self.server, X.ButtonRelease if is_button else X.KeyRelease, number)
            self.server.sync()
        except (error.ConnectionClosedError, OSError):
            self.server = None


def main() -> None:
    """Runs the watcher."""
    begin()
    try:
        server = display.Display(sys.argv[1] if len(sys.argv) > 1 else None)
    except (error.DisplayError, error.ConnectionClosedError, OSError) as problem:
        sys.exit(str(problem))  # nothing can be pressed without a server either
    watcher = _X11Watcher(server)
    report_ready()
    watch(
        watcher.come,
        lambda: bool(watcher.down),
        watcher.release,
        lambda: watcher.server.fileno() if watcher.server is not None else None,
        watcher.drain,
    )


if __name__ == "__main__":
    main()

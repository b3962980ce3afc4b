"""A small process that outlives the runner and releases what it left pressed on an X11 server.

It is forked before the runner opens anything, is told of every press and release through a pipe, and acts when the
pipe closes: that is how the kernel tells of any death, SIGKILL included.
"""

from __future__ import annotations

import contextlib
import os
import signal

from Xlib import X, display, error
from Xlib.ext import xtest

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
        """Ends the watcher, which releases what is still pressed, and waits for it."""
        os.close(self._write_end)
        os.waitpid(self._pid, 0)

    def _tell(self, fake: Fake, flags: int) -> None:
        is_button, number = fake
        with contextlib.suppress(BrokenPipeError):
            os.write(self._write_end, bytes((flags | (_BUTTON if is_button else 0), number)))


def _watch(read_end: int, display_name: str | None) -> None:
    """The watcher's whole life. It leaves through `os._exit`, so that nothing of the runner runs twice."""
    try:
        os.setsid()  # a signal to the runner's group must not reach the watcher
        for ignored in (signal.SIGINT, signal.SIGTERM, signal.SIGHUP):
            signal.signal(ignored, signal.SIG_IGN)
        _close_others(read_end)
        down = _listen(read_end)
        if down:
            _release(down, display_name)
    finally:
        os._exit(0)


def _close_others(keep: int) -> None:
    """Closes all inherited descriptors but the pipe.

    Kept open, the runner's sockets and devices would outlive it, and a reader of its output would wait for ever.
    """
    os.closerange(0, keep)
    os.closerange(keep + 1, 4096)


def _listen(read_end: int) -> dict[Fake, None]:
    down: dict[Fake, None] = {}
    rest = b""
    while data := os.read(read_end, 4096):
        data = rest + data
        whole = len(data) // 2 * 2
        rest = data[whole:]
        for flags, number in zip(data[:whole:2], data[1:whole:2], strict=True):
            fake = (bool(flags & _BUTTON), number)
            if flags & _DOWN:
                down[fake] = None
            else:
                down.pop(fake, None)
    return down


def _release(down: dict[Fake, None], display_name: str | None) -> None:
    try:
        server = display.Display(display_name)
    except (error.DisplayError, OSError):
        return  # the server has gone and took the keys with it
    for is_button, number in reversed(down):
        xtest.fake_input(server, X.ButtonRelease if is_button else X.KeyRelease, number)
    server.sync()
    server.close()

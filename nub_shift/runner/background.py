"""Background threads for work that may be slow or hang, such as imports and requests to a server."""

from __future__ import annotations

import logging
import os
import sys
from collections import deque
from collections.abc import Callable
from contextlib import suppress
from threading import Thread
from typing import Final, TypeVar

from nub_shift.runner.watch import Watch

log = logging.getLogger("nub_shift.runner")

# Longest time that a thread keeps the interpreter lock from the loop.
SWITCH_S: Final = 0.0005

T = TypeVar("T")


class BackgroundWork:
    """Runs work in threads and passes the results to the loop. Work that hangs is abandoned without delaying others."""

    def __init__(self, watch: Watch) -> None:
        self._watch = watch
        self._done: deque[Callable[[], None]] = deque()
        self._wake, self._woken = os.pipe2(os.O_CLOEXEC | os.O_NONBLOCK)[::-1]
        watch.read(self._woken, self._go_on)
        sys.setswitchinterval(SWITCH_S)

    def run(self, work: Callable[[], T], done: Callable[[T], None]) -> None:
        """Runs `work` in a thread, then `done` with the result in the loop; failed work is only logged."""

        def doing() -> None:
            try:
                result = work()
            except Exception:
                log.exception("beside play")
                return
            self._done.append(lambda: done(result))
            with suppress(OSError):  # closed meanwhile: the result is not needed
                os.write(self._wake, b"x")

        Thread(target=doing, daemon=True).start()

    def close(self) -> None:
        """Drops the results of unfinished work."""
        self._watch.forget(self._woken)
        wake, self._wake = self._wake, -1  # unfinished work must not write to a descriptor that reuses the number
        os.close(wake)
        os.close(self._woken)

    def _go_on(self) -> None:
        os.read(self._woken, 64)
        while self._done:
            try:
                self._done.popleft()()
            except Exception:  # an unexpected fault with one result costs this result, and play continues
                log.exception("after work beside play")

"""What may take long or hang, done beside play in a thread: imports, and questions to a server that may not answer."""

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

# How long a thread may keep the interpreter from whoever plays.
SWITCH_S: Final = 0.0005

T = TypeVar("T")


class Beside:
    """Has the loop go on with what came of each piece of work. Work that hangs is left behind, and holds nobody up."""

    def __init__(self, watch: Watch) -> None:
        self._watch = watch
        self._done: deque[Callable[[], None]] = deque()
        self._wake, self._woken = os.pipe2(os.O_CLOEXEC | os.O_NONBLOCK)[::-1]
        watch.read(self._woken, self._go_on)
        sys.setswitchinterval(SWITCH_S)

    def run(self, work: Callable[[], T], done: Callable[[T], None]) -> None:
        """Does `work` in a thread and calls `done` with its result in the loop; work that fails is logged, no more."""

        def doing() -> None:
            try:
                result = work()
            except Exception:
                log.exception("beside play")
                return
            self._done.append(lambda: done(result))
            with suppress(OSError):  # it is closed: nobody waits any more
                os.write(self._wake, b"x")

        Thread(target=doing, daemon=True).start()

    def close(self) -> None:
        """Nothing that is not done yet comes of anything."""
        self._watch.forget(self._woken)
        wake, self._wake = self._wake, -1  # work that ends later must not write to whoever has that number next
        os.close(wake)
        os.close(self._woken)

    def _go_on(self) -> None:
        os.read(self._woken, 64)
        while self._done:
            try:
                self._done.popleft()()
            except Exception:  # a fault of ours with one result costs that result, and play goes on
                log.exception("after work beside play")

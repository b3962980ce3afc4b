"""Trying something again until it works, with a growing wait."""

from __future__ import annotations

import asyncio
from collections.abc import Callable
from typing import Final

FIRST_S: Final = 0.5
LONGEST_S: Final = 30.0


class Again:
    """Calls `attempt` until it returns that it worked."""

    def __init__(self, loop: asyncio.AbstractEventLoop, attempt: Callable[[], bool]) -> None:
        self._loop = loop
        self._attempt = attempt
        self._wait_s = FIRST_S
        self._timer: asyncio.TimerHandle | None = None

    def begin(self, at_once: bool = True) -> None:
        """Tries at once, or after the first wait."""
        self.end()
        self._wait_s = FIRST_S
        if at_once:
            self._try()
        else:
            self._timer = self._loop.call_later(self._wait_s, self._try)

    def end(self) -> None:
        """Tries no more."""
        if self._timer is not None:
            self._timer.cancel()
            self._timer = None

    def _try(self) -> None:
        self._timer = None
        if not self._attempt():
            self._timer = self._loop.call_later(self._wait_s, self._try)
            self._wait_s = min(2 * self._wait_s, LONGEST_S)

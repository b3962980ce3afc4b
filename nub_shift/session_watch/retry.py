"""Retries with a growing wait."""

from __future__ import annotations

import asyncio
from collections.abc import Callable
from typing import Final

FIRST_S: Final = 0.5
LONGEST_S: Final = 30.0


class Retry:
    """Calls `attempt` until it returns True."""

    def __init__(
        self,
        loop: asyncio.AbstractEventLoop,
        attempt: Callable[[], bool],
        prepare: Callable[[], object] | None = None,
    ) -> None:
        """`prepare` may be slow: it is called in a thread before each delayed attempt."""
        self._loop = loop
        self._attempt = attempt
        self._prepare = prepare
        self._wait_s = FIRST_S
        self._timer: asyncio.TimerHandle | None = None
        self._prepared: asyncio.Future[object] | None = None

    def begin(self, at_once: bool = True) -> None:
        """Starts at once, or after the first wait."""
        self.end()
        self._wait_s = FIRST_S
        if at_once:
            self._try()
        else:
            self._timer = self._loop.call_later(self._wait_s, self._on_time)

    def end(self) -> None:
        """Ends the retries."""
        if self._timer is not None:
            self._timer.cancel()
            self._timer = None
        if self._prepared is not None:
            self._prepared.cancel()
            self._prepared = None

    def _on_time(self) -> None:
        self._timer = None
        if self._prepare is None:
            self._try()
        else:
            self._prepared = self._loop.run_in_executor(None, self._prepare)
            self._prepared.add_done_callback(self._on_prepared)

    def _on_prepared(self, prepared: asyncio.Future[object]) -> None:
        if not prepared.cancelled():
            self._prepared = None
            self._try()

    def _try(self) -> None:
        if not self._attempt():
            self._timer = self._loop.call_later(self._wait_s, self._on_time)
            self._wait_s = min(2 * self._wait_s, LONGEST_S)

"""Watch of the keyboard layout by an X server."""

from __future__ import annotations

import asyncio
import os
from collections.abc import Callable

from nub_shift.keyboard.layout_watch import LayoutWatch
from nub_shift.session_watch.retry import Retry


class KeyboardWatch:
    """Watches the session's X server; after its end, the next one."""

    def __init__(self, loop: asyncio.AbstractEventLoop, notify: Callable[[], None]) -> None:
        self._loop = loop
        self._notify = notify
        self._again = Retry(loop, self._connect)
        self._watch: LayoutWatch | None = None
        self._was_there = False

    def begin(self) -> None:
        """Begins to watch, in a session with an X server."""
        if os.environ.get("DISPLAY"):
            self._again.begin()

    def end(self) -> None:
        """Ends the watch."""
        self._again.end()
        if self._watch is not None:
            self._loop.remove_reader(self._watch.fileno())
            self._watch.close()
            self._watch = None

    def _connect(self) -> bool:
        self._watch = LayoutWatch.connect()
        if self._watch is None:
            return False
        self._loop.add_reader(self._watch.fileno(), self._on_news)
        if self._was_there:
            self._notify()  # another server may have another layout
        self._was_there = True
        return True

    def _on_news(self) -> None:
        try:
            if self._watch is not None and self._watch.came():
                self._notify()
        except OSError:
            self.end()
            self._again.begin(at_once=False)

"""Writing of files in the background, so that a slow disk does not block the window."""

from __future__ import annotations

from collections import deque
from collections.abc import Callable
from concurrent.futures import ThreadPoolExecutor
from typing import TypeVar

from PyQt6.QtCore import QObject, pyqtSignal

T = TypeVar("T")


class WritingThread(QObject):
    """Runs work in order in a thread, with callbacks in the window's thread.

    Unexpected failures are handled like other unexpected faults.
    """

    _news = pyqtSignal()

    def __init__(self, parent: QObject | None = None) -> None:
        super().__init__(parent)
        self._thread = ThreadPoolExecutor(1, "writing")
        self._done: deque[Callable[[], None]] = deque()
        self._news.connect(self._notify)  # delivered in the window's thread

    def run(self, work: Callable[[], T], done: Callable[[T], None]) -> None:
        """Runs `work` after all earlier work, then `done` with its result in the window's thread."""
        future = self._thread.submit(work)

        def on_done(_: object) -> None:
            self._done.append(lambda: done(future.result()))
            self._news.emit()

        future.add_done_callback(on_done)

    def finish(self) -> None:
        """Waits until all work and callbacks are done."""
        while True:
            # Callbacks are queued before the next piece of work begins, so after this one all are queued.
            self._thread.submit(lambda: None).result()
            if not self._done:
                return
            self._notify()

    def close(self) -> None:
        """Finishes the queued work, and accepts no more."""
        self.finish()
        self._thread.shutdown()

    def _notify(self) -> None:
        while self._done:
            self._done.popleft()()

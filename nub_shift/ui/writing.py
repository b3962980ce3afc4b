"""Writes files beside the window, so that a slow disk never holds it up."""

from __future__ import annotations

from collections import deque
from collections.abc import Callable
from concurrent.futures import ThreadPoolExecutor
from typing import TypeVar

from PyQt6.QtCore import QObject, pyqtSignal

T = TypeVar("T")


class WritingThread(QObject):
    """Does one piece of work after another in a thread of its own; what came of each is told in the window's thread.

    Work that fails unforeseen is told as any fault of ours is.
    """

    _news = pyqtSignal()

    def __init__(self, parent: QObject | None = None) -> None:
        super().__init__(parent)
        self._thread = ThreadPoolExecutor(1, "writing")
        self._done: deque[Callable[[], None]] = deque()
        self._news.connect(self._tell)  # a signal from another thread waits for the window's

    def run(self, work: Callable[[], T], done: Callable[[T], None]) -> None:
        """Does `work` after all that came before, and then calls `done` with its result in the window's thread."""
        future = self._thread.submit(work)

        def on_done(_: object) -> None:
            self._done.append(lambda: done(future.result()))
            self._news.emit()

        future.add_done_callback(on_done)

    def finish(self) -> None:
        """Waits until all is done, and told."""
        while True:
            # Callbacks run before the next piece of work begins, so by its end all before it is there to be told.
            self._thread.submit(lambda: None).result()
            if not self._done:
                return
            self._tell()

    def close(self) -> None:
        """Does what is left, and no more after that."""
        self.finish()
        self._thread.shutdown()

    def _tell(self) -> None:
        while self._done:
            self._done.popleft()()

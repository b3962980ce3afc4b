"""Tells the runner of the window in front, and of the keyboard layout: that takes libraries that it does without."""

from __future__ import annotations

from collections.abc import Callable

from PyQt6.QtCore import QObject

from nub_shift.front.windows import Windows, connect
from nub_shift.keyboard.layout_watch import LayoutWatch
from nub_shift.model.comes_on import Front
from nub_shift.ui.listening import Listening


class FrontWatch(QObject):
    """Listens to whatever tells of windows in this session."""

    def __init__(self, tell: Callable[[Front], None]) -> None:
        super().__init__()
        self._tell = tell
        self._told: Front | None = None
        self._listening: Listening[Windows] = Listening(self)
        self._listening.news.connect(self._on_news)

    def begin(self) -> None:
        """Tells from now on."""
        windows = connect()
        if windows is None:
            return
        try:
            windows.follow()
            self._look(windows)
        except OSError:
            return
        self._listening.begin(windows)

    def end(self) -> None:
        """Tells no more."""
        self._listening.end()

    def _on_news(self) -> None:
        windows = self._listening.connection
        if windows is None:
            return
        try:
            while windows.came():  # what comes while we ask waits in the library, and wakes nobody
                self._look(windows)
        except OSError:  # the session is over
            self.end()

    def _look(self, windows: Windows) -> None:
        front = windows.look(windows.in_front())
        if front != self._told:
            self._told = front
            self._tell(front)


class KeyboardWatch(QObject):
    """Hears of another keyboard layout."""

    def __init__(self, tell: Callable[[], None]) -> None:
        super().__init__()
        self._tell = tell
        self._listening: Listening[LayoutWatch] = Listening(self)
        self._listening.news.connect(self._on_news)

    def begin(self) -> None:
        """Tells from now on, where an X server does."""
        watch = LayoutWatch.connect()
        if watch is not None:
            self._listening.begin(watch)

    def end(self) -> None:
        """Tells no more."""
        self._listening.end()

    def _on_news(self) -> None:
        watch = self._listening.connection
        try:
            if watch is not None and watch.came():
                self._tell()
        except OSError:  # the session is over
            self.end()

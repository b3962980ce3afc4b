"""Windows of the session, listed without blocking the interface."""

from __future__ import annotations

import os
from threading import Thread

from PyQt6.QtCore import QObject, pyqtSignal

from nub_shift.front.connecting import connect
from nub_shift.front.windows import Windows, is_wayland
from nub_shift.model.profile.activation import Front
from nub_shift.ui.connection_notifier import ConnectionNotifier


class SessionWindows(QObject):
    """Lists windows on request, and waits for the next one in front; windows of this program are left out.

    Attributes:
        is_available: whether this session reports windows.

    Signals:
        listed(list[Front]): open windows.
        came(Front): awaited window.
    """

    listed = pyqtSignal(object)
    came = pyqtSignal(object)

    def __init__(self, parent: QObject | None = None) -> None:
        super().__init__(parent)
        self.is_available = is_wayland() or bool(os.environ.get("DISPLAY"))
        self._listing = False
        self._waiting: ConnectionNotifier[Windows] = ConnectionNotifier(self)
        self._waiting.news.connect(self._on_news)
        self.listed.connect(self._on_listed)

    def list(self) -> None:
        """Starts listing; `listed` follows."""
        if self.is_available and not self._listing:
            self._listing = True
            Thread(target=self._ask, daemon=True).start()

    def await_next(self) -> bool:
        """Waits for the next window in front; returns whether the session reports windows."""
        self.stop()
        windows = connect() if self.is_available else None
        if windows is None:
            return False
        try:
            windows.follow()
            windows.in_front()
        except OSError:
            return False
        self._waiting.begin(windows)
        self._on_news()  # events read during queries are queued in the library, and wake no poll
        return True

    def stop(self) -> None:
        """Ends the wait."""
        self._waiting.end()

    def _ask(self) -> None:
        found: list[Front] = []
        try:
            windows = connect()
            if windows is not None:
                found = [front for front in windows.all() if not front.is_ours]
                windows.close()
        except OSError:
            pass  # the server has gone
        self.listed.emit(found)

    def _on_listed(self) -> None:
        self._listing = False

    def _on_news(self) -> None:
        windows = self._waiting.connection
        if windows is None:
            return
        try:
            while windows.came():
                front = windows.look(windows.in_front())
                if front.window and not front.is_ours:
                    self.stop()
                    self.came.emit(front)
                    return
        except OSError:
            self.stop()

"""The windows of the session, as an X server tells of them, without the interface waiting for it."""

from __future__ import annotations

import os
from threading import Thread
from typing import TYPE_CHECKING

from PyQt6.QtCore import QObject, pyqtSignal

from nub_shift.model.comes_on import Front
from nub_shift.ui.listening import Listening

if TYPE_CHECKING:
    from nub_shift.front.x11 import X11Windows


class SessionWindows(QObject):
    """Lists them when asked, and waits for the next one that comes to the front; our own are left out.

    Attributes:
        told: whether this session tells of windows at all.

    Signals:
        listed(list[Front]): the windows that are open.
        came(Front): the one that was waited for.
    """

    listed = pyqtSignal(object)
    came = pyqtSignal(object)

    def __init__(self, parent: QObject | None = None) -> None:
        super().__init__(parent)
        self.told = bool(os.environ.get("DISPLAY"))
        self._listing = False
        self._waiting: Listening[X11Windows] = Listening(self)
        self._waiting.news.connect(self._on_news)
        self.listed.connect(self._on_listed)

    def list(self) -> None:
        """Has them listed; `listed` comes soon."""
        if self.told and not self._listing:
            self._listing = True
            Thread(target=self._ask, daemon=True).start()

    def await_next(self) -> bool:
        """Waits for the next window that comes to the front; returns whether anybody tells."""
        from nub_shift.front.x11 import X11Windows

        self.stop()
        windows = X11Windows.connect() if self.told else None
        if windows is None:
            return False
        try:
            windows.follow()
            windows.in_front()
        except OSError:
            return False
        self._waiting.begin(windows)
        return True

    def stop(self) -> None:
        """Waits no more."""
        self._waiting.end()

    def _ask(self) -> None:
        from nub_shift.front.x11 import X11Windows

        found: list[Front] = []
        try:
            windows = X11Windows.connect()
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

"""Motion of the person's own mouse, whatever window is in front, as reported by an X server."""

from __future__ import annotations

import os
from typing import TYPE_CHECKING

from PyQt6.QtCore import QObject, pyqtSignal

from nub_shift.ui.connection_notifier import ConnectionNotifier

if TYPE_CHECKING:
    from Xlib.display import Display


class MouseCounts(QObject):
    """Reports the motion of all mice; silent without an X server, or if the server does not get the motion.

    Signals:
        moved(float): counts to the right.
    """

    moved = pyqtSignal(float)

    def __init__(self, parent: QObject | None = None) -> None:
        super().__init__(parent)
        self._listening: ConnectionNotifier[Display] = ConnectionNotifier(self)
        self._listening.news.connect(self._on_news)

    def start(self) -> bool:
        """Starts; returns whether there is a server."""
        if self._listening.connection is not None or not os.environ.get("DISPLAY"):
            return self._listening.connection is not None
        from Xlib import display, error

        from nub_shift.front.raw_input import RAW_MOTION, listen

        try:
            connection = display.Display()
            if not listen(connection, RAW_MOTION):
                connection.close()
                return False
        except (error.DisplayError, error.ConnectionClosedError, OSError):
            return False
        self._listening.begin(connection)
        return True

    def stop(self) -> None:
        """Stops."""
        self._listening.end()

    def _on_news(self) -> None:
        from Xlib import error

        from nub_shift.front.raw_input import counts_across

        connection = self._listening.connection
        if connection is None:
            return
        counts = 0.0
        try:
            while connection.pending_events():
                counts += counts_across(connection.next_event())
        except (error.ConnectionClosedError, OSError):
            self.stop()
        if counts:
            self.moved.emit(counts)

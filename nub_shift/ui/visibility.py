"""Visibility of the window: a minimised, hidden or covered window is not painted."""

from __future__ import annotations

from typing import TYPE_CHECKING

from PyQt6.QtCore import QEvent, QObject, QSocketNotifier, pyqtSignal
from PyQt6.QtGui import QGuiApplication
from PyQt6.QtWidgets import QWidget
from PyQt6.sip import isdeleted, voidptr

if TYPE_CHECKING:
    from Xlib.display import Display

_TELLING = {QEvent.Type.Show, QEvent.Type.Hide, QEvent.Type.WindowStateChange, QEvent.Type.Expose}


class Seen(QObject):
    """Watches one window. An X server reports covered windows too, unless a compositor hides that.

    Signals:
        changed(bool): whether the window is visible.
    """

    changed = pyqtSignal(bool)

    def __init__(self, window: QWidget) -> None:
        super().__init__(window)
        self._window = window
        self._seen = True
        self._covered = False
        self._notifier: QSocketNotifier | None = None
        self._connection: Display | None = None
        window.installEventFilter(self)

    def eventFilter(self, _watched: QObject | None, event: QEvent | None) -> bool:
        if event is not None and event.type() in _TELLING and not isdeleted(self._window):
            if event.type() == QEvent.Type.Show:
                self._watch_handle()
            self._follow()
        return False

    def _follow(self) -> None:
        handle = self._window.windowHandle()
        exposed = handle is None or handle.isExposed()
        seen = self._window.isVisible() and not self._window.isMinimized() and exposed and not self._covered
        if seen is not self._seen:
            self._seen = seen
            self.changed.emit(seen)

    def _watch_handle(self) -> None:
        """Watches the native window, which exists now."""
        handle = self._window.windowHandle()
        if handle is not None:
            handle.installEventFilter(self)  # receives expose events; repeated installation has no effect
        if handle is None or self._connection is not None or QGuiApplication.platformName() != "xcb":
            return
        from Xlib import X, display, error

        try:
            self._connection = display.Display()
            on_screen = self._connection.create_resource_object("window", int(self._window.winId()))
            on_screen.change_attributes(event_mask=X.VisibilityChangeMask)
            self._connection.flush()
        except (error.DisplayError, error.ConnectionClosedError, OSError):
            return
        notifier = QSocketNotifier(voidptr(self._connection.fileno()), QSocketNotifier.Type.Read, self)
        notifier.activated.connect(self._on_news)
        self._notifier = notifier

    def _on_news(self) -> None:
        from Xlib import X, error

        connection = self._connection
        if connection is None:
            return
        try:
            while connection.pending_events():
                event = connection.next_event()
                if event.type == X.VisibilityNotify:
                    self._covered = event.state == X.VisibilityFullyObscured
        except (error.ConnectionClosedError, OSError):
            if self._notifier is not None:
                self._notifier.setEnabled(False)
            self._covered = False
        self._follow()

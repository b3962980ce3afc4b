"""Keeps outputs from the system while a window of this process is in front."""

from __future__ import annotations

from collections.abc import Callable

from PyQt6.QtCore import QEvent, QObject
from PyQt6.QtGui import QGuiApplication
from PyQt6.QtWidgets import QApplication, QWidget

from nub_shift.ui.frame.live import Live

_WATCHED = (
    QEvent.Type.WindowBlocked,
    QEvent.Type.WindowUnblocked,
    QEvent.Type.Enter,
    QEvent.Type.Leave,
    QEvent.Type.ActivationChange,
)


class HoldBack(QObject):
    """Holds outputs back while any window of this process has the keyboard, or a dialog is open.

    A dialog may belong to the desktop and not to this process: keys would go into its file name. Clicks of a demo,
    which no hand aims, are kept from this window too.
    """

    def __init__(self, window: QWidget, live: Live, hold_back: Callable[[bool], None]) -> None:
        """`hold_back` receives whether outputs are held back."""
        super().__init__(window)
        self._window = window
        self._live = live
        self._hold_back = hold_back
        self._has_dialog = self._performs = False
        window.installEventFilter(self)
        live.state_changed.connect(self._on_state)
        application = QApplication.instance()
        if isinstance(application, QGuiApplication):
            application.focusWindowChanged.connect(self.follow)

    def follow(self) -> None:
        """Updates whether outputs are held back."""
        clicks_here = self._live.is_automatic and self._window.underMouse()
        self._hold_back(self._has_dialog or clicks_here or QApplication.activeWindow() is not None)

    def eventFilter(self, watched: QObject | None, event: QEvent | None) -> bool:
        if event is not None and event.type() in _WATCHED:
            if event.type() in (QEvent.Type.WindowBlocked, QEvent.Type.WindowUnblocked):
                self._has_dialog = event.type() == QEvent.Type.WindowBlocked
            self.follow()
        return super().eventFilter(watched, event)

    def _on_state(self) -> None:
        if self._live.is_automatic is not self._performs:
            self._performs = self._live.is_automatic
            self.follow()

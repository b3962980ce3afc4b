"""Deflection for assistive tools, invisible."""

from __future__ import annotations

from PyQt6.QtCore import Qt, QTimer
from PyQt6.QtGui import QHideEvent, QShowEvent
from PyQt6.QtWidgets import QProgressBar, QWidget

# Time without a change beyond noise, in percent, after which a value is announced.
_RESTS_MS, _NOISE = 400, 2


class Level(QProgressBar):
    """A value from -100 to 100 percent, without visible area, clicks or focus."""

    def __init__(self, name: str, parent: QWidget) -> None:
        super().__init__(parent)
        self.setAccessibleName(name)
        self.setRange(-100, 100)
        self.setValue(0)
        self.setGeometry(0, 0, 1, 1)
        self.setAttribute(Qt.WidgetAttribute.WA_TransparentForMouseEvents)
        self.setUpdatesEnabled(False)  # the owner paints the value
        self.lower()
        self._level = 0
        self._rests = QTimer(self)
        self._rests.setSingleShot(True)
        self._rests.setInterval(_RESTS_MS)
        self._rests.timeout.connect(self._on_rest)

    def show_level(self, value: float) -> None:
        """Sets the value, from -1 to 1; announced once constant, and not as a stream."""
        level = round(value * 100)
        if abs(level - self._level) > _NOISE or (level == 0 and self._level):
            self._level = level
            if self.isVisible():
                self._rests.start()

    def showEvent(self, event: QShowEvent | None) -> None:
        super().showEvent(event)
        self.setValue(self._level)

    def hideEvent(self, event: QHideEvent | None) -> None:
        self._rests.stop()  # nobody reads the value, and the widget may be about to be deleted
        super().hideEvent(event)

    def _on_rest(self) -> None:
        self.setValue(self._level)

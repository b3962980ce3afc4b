"""How far something is deflected, for assistive tools: they read it, nobody sees it."""

from __future__ import annotations

from PyQt6.QtCore import Qt, QTimer
from PyQt6.QtGui import QHideEvent, QShowEvent
from PyQt6.QtWidgets import QProgressBar, QWidget

# After so long without a change that is more than noise, in percent, a value stays.
_RESTS_MS, _NOISE = 400, 2


class Level(QProgressBar):
    """From -100 to 100 percent; it takes no room that is drawn on, no clicks and no focus."""

    def __init__(self, name: str, parent: QWidget) -> None:
        super().__init__(parent)
        self.setAccessibleName(name)
        self.setRange(-100, 100)
        self.setValue(0)
        self.setGeometry(0, 0, 1, 1)
        self.setAttribute(Qt.WidgetAttribute.WA_TransparentForMouseEvents)
        self.setUpdatesEnabled(False)  # whoever draws the picture draws what it says
        self.lower()
        self._level = 0
        self._rests = QTimer(self)
        self._rests.setSingleShot(True)
        self._rests.setInterval(_RESTS_MS)
        self._rests.timeout.connect(self._on_rest)

    def show_level(self, value: float) -> None:
        """Takes another value, from -1 to 1; it is read out once it stays, and not as a stream while it changes."""
        level = round(value * 100)
        if abs(level - self._level) > _NOISE or (level == 0 and self._level):
            self._level = level
            if self.isVisible():
                self._rests.start()

    def showEvent(self, event: QShowEvent | None) -> None:
        super().showEvent(event)
        self.setValue(self._level)

    def hideEvent(self, event: QHideEvent | None) -> None:
        self._rests.stop()  # nobody reads it, and it may be about to go
        super().hideEvent(event)

    def _on_rest(self) -> None:
        self.setValue(self._level)

"""How far something is deflected, for assistive tools: they read it, nobody sees it."""

from __future__ import annotations

from PyQt6.QtCore import Qt, QTimer
from PyQt6.QtWidgets import QProgressBar, QWidget

# After so long without a change a value stays.
_RESTS_MS = 500


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
        self._rests.timeout.connect(lambda: self.setValue(self._level))

    def show_level(self, value: float) -> None:
        """Takes another value, from -1 to 1; it is read out once it stays, and not as a stream while it changes."""
        level = round(value * 100)
        if level != self._level:
            self._level = level
            self._rests.start()

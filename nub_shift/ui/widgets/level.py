"""How far something is deflected, for assistive tools: they read it, nobody sees it."""

from __future__ import annotations

from PyQt6.QtCore import Qt
from PyQt6.QtWidgets import QProgressBar, QWidget


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

    def show_level(self, value: float) -> None:
        """Says another value, from -1 to 1."""
        self.setValue(round(value * 100))

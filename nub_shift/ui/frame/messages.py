"""The line in which the person is told things. Assistive tools read what comes there by themselves."""

from __future__ import annotations

from PyQt6.QtCore import Qt, QTimer
from PyQt6.QtGui import QFontMetricsF, QPainter, QPaintEvent
from PyQt6.QtWidgets import QSizePolicy, QStatusBar, QWidget

from nub_shift.ui.look.theme import Theme
from nub_shift.ui.widgets.plain import set_tip


class Messages(QStatusBar):
    """What does not fit is cut short, and its tip says all of it.

    What is only announced is for assistive tools: everybody else sees it where it happens.
    """

    def __init__(self, theme: Theme, parent: QWidget | None = None) -> None:
        super().__init__(parent)
        self.theme = theme
        self._said = ""
        self._lines: list[str] = []
        self._turn = QTimer(self)
        self._turn.setSingleShot(True)
        self._turn.timeout.connect(self._on_turn)
        self.setSizeGripEnabled(False)
        self.setSizePolicy(QSizePolicy.Policy.Ignored, QSizePolicy.Policy.Preferred)

    def say(self, text: str) -> None:
        """Shows another line, or none."""
        self._said = text
        set_tip(self, text)
        self.announce(text)
        self.update()

    def announce(self, text: str) -> None:
        """Has assistive tools read a line that is not shown; what comes at once with another is read with it."""
        self._lines = [*self._lines, text] if text else []
        self.showMessage(". ".join(self._lines))
        self._turn.start()

    def _on_turn(self) -> None:
        self._lines.clear()

    def paintEvent(self, _event: QPaintEvent | None) -> None:
        painter = QPainter(self)
        painter.setFont(self.theme.font(0.92))
        painter.setPen(self.theme.colour("ink"))
        room = self.rect().adjusted(4, 0, -4, 0)
        elided = QFontMetricsF(painter.font()).elidedText(self._said, Qt.TextElideMode.ElideRight, room.width())
        painter.drawText(room, Qt.AlignmentFlag.AlignVCenter, elided)

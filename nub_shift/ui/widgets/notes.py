"""Field for a few lines of free text."""

from __future__ import annotations

from PyQt6.QtCore import pyqtSignal
from PyQt6.QtGui import QFocusEvent
from PyQt6.QtWidgets import QPlainTextEdit, QWidget

from nub_shift.translation import tr

MAX_LENGTH = 4000


class Notes(QPlainTextEdit):
    """Saves when the focus leaves. Tab leaves the field.

    Signals:
        written(str): changed text.
    """

    written = pyqtSignal(str)

    def __init__(self, parent: QWidget | None = None) -> None:
        super().__init__(parent)
        self._shown = ""
        self.setTabChangesFocus(True)
        self.setPlaceholderText(tr("Notes"))
        self.setAccessibleName(tr("Notes on the chosen profile"))

    def show_text(self, text: str) -> None:
        """Shows the saved text, unless the person is writing."""
        self._shown = text
        if not self.hasFocus() and self.toPlainText() != text:
            self.setPlainText(text)

    def focusOutEvent(self, event: QFocusEvent | None) -> None:
        super().focusOutEvent(event)
        text = self.toPlainText()[:MAX_LENGTH]
        if text != self._shown:
            self._shown = text
            self.written.emit(text)

"""Labels and tooltips for foreign text, shown literally: Qt interprets anything like markup otherwise."""

from __future__ import annotations

from html import escape
from typing import Protocol

from PyQt6.QtCore import Qt
from PyQt6.QtGui import QFontMetricsF, QPainter, QPaintEvent
from PyQt6.QtWidgets import QLabel, QSizePolicy, QWidget


class PlainLabel(QLabel):
    """A label with literal text."""

    def __init__(self, text: str = "", parent: QWidget | None = None) -> None:
        super().__init__(parent)
        self.setTextFormat(Qt.TextFormat.PlainText)
        self.setText(text)


class ElidedLabel(PlainLabel):
    """A one-line label that takes the remaining room; a text too long is cut, with the whole in the tooltip."""

    def __init__(self, text: str = "", parent: QWidget | None = None) -> None:
        super().__init__(text, parent)
        self.setSizePolicy(QSizePolicy.Policy.Ignored, QSizePolicy.Policy.Preferred)

    def paintEvent(self, _event: QPaintEvent | None) -> None:
        text = self.fontMetrics().elidedText(self.text(), Qt.TextElideMode.ElideRight, self.width())
        set_tooltip(self, "" if text == self.text() else self.text())
        painter = QPainter(self)
        painter.setPen(self.palette().color(self.foregroundRole()))
        painter.drawText(self.rect(), self.alignment(), text)


class FittedLabel(PlainLabel):
    """A label of constant width; a text too long is cut, with the whole in the tooltip."""

    def __init__(self, width: int, parent: QWidget | None = None) -> None:
        super().__init__("", parent)
        self.setFixedWidth(width)

    def show_text(self, text: str) -> None:
        """Shows another text."""
        self.setText(QFontMetricsF(self.font()).elidedText(text, Qt.TextElideMode.ElideRight, self.width() - 2))
        self.setAccessibleName(text)
        set_tooltip(self, text)


class HasTooltip(Protocol):
    """A widget, an action, or an item of a list."""

    def setToolTip(self, toolTip: str | None, /) -> None:  # noqa: N803 - Qt's own name
        """Sets the tooltip, as in Qt."""


def set_tooltip(target: HasTooltip, text: str) -> None:
    """Sets a tooltip with literal text."""
    if "<" in text or "&" in text:
        text = f"<qt>{escape(text).replace(chr(10), '<br>')}</qt>"
    target.setToolTip(text)

"""A row of two halves that becomes two rows where there is no room for it, as with a large font."""

from __future__ import annotations

from PyQt6.QtCore import QSize
from PyQt6.QtGui import QResizeEvent
from PyQt6.QtWidgets import QBoxLayout, QHBoxLayout, QWidget


class WrappingRow(QWidget):
    """Two halves side by side, or one below the other.

    Attributes:
    head, tail: where widgets are added; the tail stands at the right, or below.
    """

    def __init__(self, spacing: int, parent: QWidget | None = None) -> None:
        super().__init__(parent)
        self.head = QHBoxLayout()
        self.tail = QHBoxLayout()
        self._box = QBoxLayout(QBoxLayout.Direction.LeftToRight, self)
        self._box.setContentsMargins(0, 0, 0, 0)
        for half in (self.head, self.tail):
            half.setSpacing(spacing)
        self._box.setSpacing(spacing)
        self._box.addLayout(self.head, 1)
        self._box.addLayout(self.tail)

    def resizeEvent(self, event: QResizeEvent | None) -> None:
        super().resizeEvent(event)
        needed = self.head.minimumSize().width() + self.tail.minimumSize().width() + self._box.spacing()
        fits = self.width() >= needed
        way = QBoxLayout.Direction.LeftToRight if fits else QBoxLayout.Direction.TopToBottom
        if way is not self._box.direction():
            self._box.setDirection(way)
            self.updateGeometry()

    def minimumSizeHint(self) -> QSize:
        halves = self.head.minimumSize(), self.tail.minimumSize()
        return QSize(max(half.width() for half in halves), self._box.minimumSize().height())

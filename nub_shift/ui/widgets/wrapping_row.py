"""Row of parts that becomes a column in a narrow place, as with a large font."""

from __future__ import annotations

from PyQt6.QtCore import QEvent, QSize
from PyQt6.QtGui import QResizeEvent
from PyQt6.QtWidgets import QBoxLayout, QHBoxLayout, QLayoutItem, QWidget

from nub_shift.ui.widgets.flow import Flow


class Turning(QWidget):
    """A row that becomes a column.

    Attributes:
        box: layout of the parts.
    """

    def __init__(self, spacing: int, parent: QWidget | None = None) -> None:
        super().__init__(parent)
        self.box = QBoxLayout(QBoxLayout.Direction.LeftToRight, self)
        self.box.setContentsMargins(0, 0, 0, 0)
        self.box.setSpacing(spacing)

    def _items(self) -> list[QLayoutItem]:
        items = (self.box.itemAt(index) for index in range(self.box.count()))
        return [item for item in items if item is not None]

    def resizeEvent(self, event: QResizeEvent | None) -> None:
        super().resizeEvent(event)
        self._turn()

    def event(self, event: QEvent | None) -> bool:
        """Adapts to parts that become wider or visible."""
        if event is not None and event.type() == QEvent.Type.LayoutRequest:
            self._turn()
        return super().event(event)

    def _turn(self) -> None:
        # A wrapping part wraps only if a line of its own is too short for it.
        parts = self._items()
        widths = [(part.sizeHint() if part.hasHeightForWidth() else part.minimumSize()).width() for part in parts]
        margins = self.contentsMargins()
        fits = self.width() - margins.left() - margins.right() >= sum(widths) + self.box.spacing() * (len(widths) - 1)
        way = QBoxLayout.Direction.LeftToRight if fits else QBoxLayout.Direction.TopToBottom
        if way is not self.box.direction():
            self.box.setDirection(way)
            self.updateGeometry()

    def minimumSizeHint(self) -> QSize:
        return QSize(
            max((item.minimumSize().width() for item in self._items()), default=0), self.box.minimumSize().height()
        )


class WrappingRow(Turning):
    """Two halves, each a row.

    Attributes:
        head, tail: layouts of the halves; the tail stands at the right, or below, in as many lines as needed.
    """

    def __init__(self, spacing: int, parent: QWidget | None = None) -> None:
        super().__init__(spacing, parent)
        self.head = QHBoxLayout()
        self.head.setSpacing(spacing)
        self.tail = Flow(spacing, grows=True)
        self.tail.is_centred = True
        self.box.addLayout(self.head, 1)
        self.box.addLayout(self.tail)

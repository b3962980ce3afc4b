"""Layout of a row that wraps into further lines."""

from __future__ import annotations

from PyQt6.QtCore import QPoint, QRect, QSize, Qt
from PyQt6.QtWidgets import QLayout, QLayoutItem, QWidget


class Flow(QLayout):
    """Places widgets one after the other like words of a text; hidden ones take no room.

    Attributes:
        grows: takes the height of its lines; otherwise the container provides it.
        is_centred: whether its lines are centred vertically.
    """

    def __init__(self, spacing: int, parent: QWidget | None = None, grows: bool = False) -> None:
        super().__init__(parent)
        self._items: list[QLayoutItem] = []
        self._gap = spacing
        self.grows = grows
        self.is_centred = False
        self.setContentsMargins(0, 0, 0, 0)

    def addItem(self, item: QLayoutItem | None) -> None:
        if item is not None:
            self._items.append(item)

    def count(self) -> int:
        return len(self._items)

    def itemAt(self, index: int) -> QLayoutItem | None:
        return self._items[index] if 0 <= index < len(self._items) else None

    def takeAt(self, index: int) -> QLayoutItem | None:
        return self._items.pop(index) if 0 <= index < len(self._items) else None

    def expandingDirections(self) -> Qt.Orientation:
        return Qt.Orientation(0)

    def hasHeightForWidth(self) -> bool:
        return self.grows

    def heightForWidth(self, width: int) -> int:
        return self._place(QRect(0, 0, width, 0), move=False)

    def setGeometry(self, rect: QRect) -> None:
        super().setGeometry(rect)
        if self.is_centred:
            rect = rect.adjusted(0, max(0, rect.height() - self.heightForWidth(rect.width())) // 2, 0, 0)
        self._place(rect, move=True)

    def sizeHint(self) -> QSize:
        """Returns the size of a single line."""
        sizes = [item.sizeHint() for item in self._items if not item.isEmpty()]
        width = sum(size.width() for size in sizes) + self._gap * max(0, len(sizes) - 1)
        return QSize(width, max((size.height() for size in sizes), default=0))

    def minimumSize(self) -> QSize:
        sizes = [item.minimumSize() for item in self._items if not item.isEmpty()]
        return QSize(*(max((part(size) for size in sizes), default=0) for part in (QSize.width, QSize.height)))

    def _place(self, rect: QRect, move: bool) -> int:
        """Places the items, if `move`; returns the needed height. An expanding widget takes the rest of its line."""
        y = rect.y()
        for line in self._lines(rect.width()):
            height = max(size.height() for _, size in line)
            x = rect.x()
            for item, size in line:
                if move:
                    item.setGeometry(QRect(QPoint(x, y + (height - size.height()) // 2), size))
                x += size.width() + self._gap
            y += height + self._gap
        return max(0, y - self._gap - rect.y())

    def _lines(self, width: int) -> list[list[tuple[QLayoutItem, QSize]]]:
        """Returns the visible items by line, with their sizes."""
        lines: list[list[tuple[QLayoutItem, QSize]]] = []
        shown = [item for item in self._items if not item.isEmpty()]
        x = 0
        for at, item in enumerate(shown):
            size = item.sizeHint()
            taken = min(size.width(), width)
            if not lines or x + taken > width:
                lines.append([])
                x = 0
            if item.expandingDirections() & Qt.Orientation.Horizontal and at == len(shown) - 1:
                taken = width - x
            wraps = taken < size.width() and item.hasHeightForWidth()
            lines[-1].append((item, QSize(taken, item.heightForWidth(taken) if wraps else size.height())))
            x += taken + self._gap
        return lines

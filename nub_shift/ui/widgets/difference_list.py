"""List of differences from the open profile; a click copies one over."""

from __future__ import annotations

from PyQt6.QtCore import QModelIndex, QRectF, QSize, Qt, pyqtSignal
from PyQt6.QtGui import QFontMetricsF, QKeyEvent, QMouseEvent, QPainter, QPen
from PyQt6.QtWidgets import (
    QAbstractItemView,
    QListWidget,
    QListWidgetItem,
    QStyledItemDelegate,
    QStyleOptionViewItem,
    QWidget,
)

from nub_shift.editing.compare.differences import Difference
from nub_shift.translation import tr
from nub_shift.ui.look import drawing
from nub_shift.ui.look.theme import Theme

_FOUND = Qt.ItemDataRole.UserRole
TAKE = tr("Copy over")


class DifferenceList(QListWidget):
    """A click on a row's right end copies it, as does Enter.

    Signals:
        taken(Difference): difference to copy.
    """

    taken = pyqtSignal(object)

    def __init__(self, theme: Theme, parent: QWidget | None = None) -> None:
        super().__init__(parent)
        self.setAccessibleName(tr("What differs"))
        self.setObjectName("plain")
        self.setFrameShape(QListWidget.Shape.NoFrame)
        self.setVerticalScrollMode(QAbstractItemView.ScrollMode.ScrollPerPixel)
        self.setMouseTracking(True)
        self.painter = _RowPainter(theme, self)
        self.setItemDelegate(self.painter)

    def show_differences(self, found: list[Difference]) -> None:
        """Shows these differences under their headings."""
        row = self.currentRow()
        self.clear()
        head = ""
        for difference in found:
            if difference.head != head:
                head = difference.head
                self._add(head, None)
            self._add(difference.text, difference)
        if not found:
            self._add(tr("Nothing differs"), None)
        self.setCurrentRow(min(row, self.count() - 1))

    def keyPressEvent(self, event: QKeyEvent | None) -> None:
        item = self.currentItem()
        if event is not None and event.key() in (Qt.Key.Key_Return, Qt.Key.Key_Enter) and item is not None:
            self._take(item)
            return
        super().keyPressEvent(event)

    def mouseReleaseEvent(self, event: QMouseEvent | None) -> None:
        super().mouseReleaseEvent(event)
        item = self.itemAt(event.pos()) if event is not None else None
        if event is not None and item is not None:
            rect = QRectF(self.visualItemRect(item))
            if self.painter.button(rect).contains(event.position()):
                self._take(item)

    def _add(self, text: str, difference: Difference | None) -> None:
        item = QListWidgetItem(text)
        item.setData(_FOUND, difference)
        if difference is None:
            item.setFlags(Qt.ItemFlag.ItemIsEnabled)
        else:
            item.setData(
                Qt.ItemDataRole.AccessibleTextRole,
                tr("{head}: {words}. Enter copies it over.", head=difference.head, words=text),
            )
        self.addItem(item)

    def _take(self, item: QListWidgetItem) -> None:
        found = item.data(_FOUND)
        if isinstance(found, Difference):
            self.taken.emit(found)


class _RowPainter(QStyledItemDelegate):
    """Paints a heading, or a row with its button."""

    def __init__(self, theme: Theme, parent: QWidget) -> None:
        super().__init__(parent)
        self.theme = theme

    def sizeHint(self, _option: QStyleOptionViewItem, _index: QModelIndex) -> QSize:
        return QSize(self.theme.px(200), self.theme.px(29))

    def button(self, rect: QRectF) -> QRectF:
        """Returns the area of a row's button."""
        words = self.theme.text_width(TAKE, 0.92)
        width = words + self.theme.px(18)
        return QRectF(rect.right() - width, rect.y(), width, rect.height()).adjusted(0, 2, -4, -2)

    def paint(self, painter: QPainter | None, option: QStyleOptionViewItem, index: QModelIndex) -> None:
        if painter is None:
            return
        theme, rect = self.theme, QRectF(option.rect)
        painter.save()
        painter.setRenderHint(QPainter.RenderHint.Antialiasing)
        if index.data(_FOUND) is None:
            painter.setFont(theme.font(1.0, bold=True))
            painter.setPen(theme.colour("ink"))
            painter.drawText(rect.adjusted(theme.px(4), 0, 0, 0), Qt.AlignmentFlag.AlignVCenter, index.data())
        else:
            self._paint_row(painter, option, rect, index.data())
        painter.restore()

    def _paint_row(self, painter: QPainter, option: QStyleOptionViewItem, rect: QRectF, text: str) -> None:
        theme = self.theme
        button = self.button(rect)
        drawing.draw_row_ground(painter, theme, rect, option.state)
        painter.setPen(QPen(theme.colour("line"), 1))
        painter.drawLine(button.topLeft(), button.topRight())
        painter.drawLine(button.bottomLeft(), button.bottomRight())
        painter.setFont(theme.font(0.92))
        painter.setPen(theme.colour("ink"))
        painter.drawText(button, Qt.AlignmentFlag.AlignCenter, TAKE)
        painter.setFont(theme.font())
        room = QRectF(rect.x() + theme.px(18), rect.y(), button.x() - rect.x() - theme.px(26), rect.height())
        fitted = QFontMetricsF(painter.font()).elidedText(text, Qt.TextElideMode.ElideRight, room.width())
        painter.drawText(room, Qt.AlignmentFlag.AlignVCenter, fitted)

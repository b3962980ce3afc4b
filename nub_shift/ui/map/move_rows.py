"""Rows of the move list: each move with its keycaps and the layers that start it."""

from __future__ import annotations

from PyQt6.QtCore import QModelIndex, QPointF, QRectF, QSize, Qt, QTimer, pyqtSignal
from PyQt6.QtGui import QDropEvent, QFontMetricsF, QKeyEvent, QKeySequence, QPainter, QPen
from PyQt6.QtWidgets import (
    QAbstractItemView,
    QApplication,
    QListWidget,
    QListWidgetItem,
    QStyle,
    QStyledItemDelegate,
    QStyleOptionViewItem,
    QWidget,
)

from nub_shift.editing.words.slot_views import LayerMark, input_caps
from nub_shift.keyboard.layout import Layout, LayoutSource
from nub_shift.model.profile.profile import Move
from nub_shift.translation import tr
from nub_shift.ui.look import drawing
from nub_shift.ui.look.theme import Theme

# Data of each row: the move, the marks of its layers, and whether the move is linked with the selected one.
MOVE = Qt.ItemDataRole.UserRole
COVERED = Qt.ItemDataRole.UserRole + 1
LINKED = Qt.ItemDataRole.UserRole + 2
_PLATED = QStyle.StateFlag.State_MouseOver | QStyle.StateFlag.State_HasFocus | QStyle.StateFlag.State_Selected


class MoveRows(QListWidget):
    """The rows. Moves can be dragged within the list, or onto a control; groups by their headings.

    Signals:
        pasted(str): a pasted text.
        group_dropped(str, QListWidgetItem): group, and the row on which it was dropped.
    """

    entered_on = pyqtSignal(QListWidgetItem)
    deleted = pyqtSignal()
    renaming = pyqtSignal()
    pasted = pyqtSignal(str)
    dropped = pyqtSignal()
    group_dropped = pyqtSignal(str, QListWidgetItem)

    def __init__(self, theme: Theme, layout: LayoutSource) -> None:
        super().__init__()
        self.setAccessibleName(tr("Moves of the game"))
        self.setItemDelegate(_MovePainter(theme, layout, self))
        self.setFrameShape(QListWidget.Shape.NoFrame)
        self.setSelectionMode(QAbstractItemView.SelectionMode.ExtendedSelection)
        self.setVerticalScrollMode(QAbstractItemView.ScrollMode.ScrollPerPixel)
        self.setHorizontalScrollBarPolicy(Qt.ScrollBarPolicy.ScrollBarAlwaysOff)
        self.setMouseTracking(True)
        self.setDragDropMode(QAbstractItemView.DragDropMode.InternalMove)
        viewport = self.viewport()
        if viewport is not None:
            viewport.setAutoFillBackground(False)

    def keyPressEvent(self, event: QKeyEvent | None) -> None:
        item = self.currentItem()
        if event is not None and event.key() in (Qt.Key.Key_Return, Qt.Key.Key_Enter) and item is not None:
            self.entered_on.emit(item)
            return
        if event is not None and event.key() == Qt.Key.Key_Delete:
            self.deleted.emit()
            return
        if event is not None and event.key() == Qt.Key.Key_F2:
            self.renaming.emit()
            return
        clipboard = QApplication.clipboard()
        if event is not None and clipboard is not None and event.matches(QKeySequence.StandardKey.Paste):
            self.pasted.emit(clipboard.text())
            return
        super().keyPressEvent(event)

    @property
    def dragged_move(self) -> str:
        """Id of the dragged move, or empty."""
        item = self.currentItem()
        move = item.data(MOVE) if item is not None else None
        return move.id if isinstance(move, Move) else ""

    def dropEvent(self, event: QDropEvent | None) -> None:
        heading, target = self.currentItem(), self.itemAt(event.position().toPoint()) if event is not None else None
        if event is not None and heading is not None and not self.dragged_move:
            event.setDropAction(Qt.DropAction.IgnoreAction)  # the edit updates the list
            event.accept()
            if target is not None:
                self.group_dropped.emit(heading.text(), target)
            return
        super().dropEvent(event)
        QTimer.singleShot(0, self.dropped.emit)  # the list has its new order after the event


class _MovePainter(QStyledItemDelegate):
    """Paints a row: a socket (filled in the hues of its layers, or open), label, keycaps."""

    def __init__(self, theme: Theme, layout: LayoutSource, parent: QWidget) -> None:
        super().__init__(parent)
        self.theme = theme
        self._layout = layout

    def sizeHint(self, _option: QStyleOptionViewItem, index: QModelIndex) -> QSize:
        return QSize(self.theme.px(200), self.theme.px(28 if index.data(MOVE) is not None else 26))

    def paint(self, painter: QPainter | None, option: QStyleOptionViewItem, index: QModelIndex) -> None:
        if painter is None:
            return
        theme = self.theme
        painter.save()
        painter.setRenderHint(QPainter.RenderHint.Antialiasing)
        rect = QRectF(option.rect)
        move = index.data(MOVE)
        if not isinstance(move, Move):
            painter.setFont(theme.font(0.85))
            painter.setPen(theme.colour("muted"))
            painter.drawText(rect.adjusted(0, theme.px(8), 0, 0), Qt.AlignmentFlag.AlignVCenter, index.data())
        else:
            self._paint_move(painter, option, rect, move, index.data(COVERED))
            if index.data(LINKED):
                self._paint_link(painter, rect)
        painter.restore()

    def _paint_move(
        self, painter: QPainter, option: QStyleOptionViewItem, rect: QRectF, move: Move, layers: list[LayerMark]
    ) -> None:
        theme = self.theme
        drawing.draw_row_ground(painter, theme, rect, option.state)
        x = rect.x() + theme.px(13)  # beside the bar of a selected row
        self._paint_sockets(painter, QPointF(x, rect.center().y()), layers)
        caps = move_caps(move, self._layout())
        widths = [drawing.cap_width(theme, cap) for cap in caps]
        used = min(sum(widths) + theme.px(3) * max(0, len(widths) - 1), rect.width() / 2)  # texts may be long
        cap_x = rect.right() - used - theme.px(6)
        at = QPointF(cap_x, rect.center().y() - theme.px(12))
        drawing.draw_caps(painter, theme, at, caps, used + 2, ghost=bool(layers))
        painter.setFont(theme.font(1.0, bold=not layers))
        painter.setPen(theme.colour("muted" if layers else "ink"))
        room = QRectF(x + theme.px(12), rect.y(), cap_x - x - theme.px(16), rect.height())
        fitted = QFontMetricsF(painter.font()).elidedText(move.label, Qt.TextElideMode.ElideRight, room.width())
        painter.drawText(room, Qt.AlignmentFlag.AlignVCenter, fitted)

    def _paint_link(self, painter: QPainter, rect: QRectF) -> None:
        """Paints a bracket at the left: the move is linked with the selected one."""
        theme = self.theme
        painter.setPen(QPen(theme.colour("game"), 2))
        x, top, bottom = rect.x() + theme.px(1), rect.y() + theme.px(5), rect.bottom() - theme.px(5)
        painter.drawLine(QPointF(x, top), QPointF(x, bottom))
        for y in (top, bottom):
            painter.drawLine(QPointF(x, y), QPointF(x + theme.px(4), y))

    def _paint_sockets(self, painter: QPainter, centre: QPointF, layers: list[LayerMark]) -> None:
        """Paints an open socket, or the letters of the move's layers in their hues; a dot stands for more."""
        theme = self.theme
        if not layers:
            painter.setPen(QPen(theme.colour("game"), 1.8))
            painter.setBrush(Qt.BrushStyle.NoBrush)
            painter.drawEllipse(centre, theme.px(5), theme.px(5))
            return
        painter.setFont(theme.font(0.78, bold=True))
        room = QRectF(centre.x() - theme.px(8), centre.y() - theme.px(8), theme.px(9), theme.px(16))
        for index, mark in enumerate(layers[:2]):
            painter.setPen(theme.hue(mark.hue))
            letter = mark.letter if index == 0 or len(layers) == 2 else "…"
            painter.drawText(room.translated(index * theme.px(9), 0), Qt.AlignmentFlag.AlignCenter, letter)


def move_caps(move: Move, layout: Layout) -> tuple[str, ...]:
    """Returns the keycaps of a move's input."""
    if move.look:
        return (tr("Mouse"),)
    return input_caps(move.sent, layout)

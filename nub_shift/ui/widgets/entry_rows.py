"""Painting of list rows with one line or two, and an optional colour mark."""

from __future__ import annotations

from PyQt6.QtCore import QModelIndex, QPointF, QRectF, QSize, Qt
from PyQt6.QtGui import QFontMetricsF, QPainter
from PyQt6.QtWidgets import QStyle, QStyledItemDelegate, QStyleOptionViewItem, QWidget

from nub_shift.ui.look.drawing import draw_row_ground, draw_swatch
from nub_shift.ui.look.theme import Theme

# Data of an item: its colour, or empty; a row without this data reserves no room for one.
COLOUR = Qt.ItemDataRole.UserRole + 1


class EntryPainter(QStyledItemDelegate):
    """Paints rows; the selected one on a raised sheet with a bar at its left."""

    def __init__(self, theme: Theme, parent: QWidget) -> None:
        super().__init__(parent)
        self.theme = theme

    def sizeHint(self, _option: QStyleOptionViewItem, index: QModelIndex) -> QSize:
        return QSize(self.theme.px(200), self.theme.px(44 if "\n" in str(index.data()) else 25))

    def paint(self, painter: QPainter | None, option: QStyleOptionViewItem, index: QModelIndex) -> None:
        if painter is None:
            return
        theme = self.theme
        painter.save()
        painter.setRenderHint(QPainter.RenderHint.Antialiasing)
        rect = QRectF(option.rect).adjusted(1, 1, -1, -1)
        chosen = bool(option.state & QStyle.StateFlag.State_Selected)
        draw_row_ground(painter, theme, QRectF(option.rect), option.state)
        x = rect.x() + theme.px(10)
        colour = index.data(COLOUR)
        if colour is not None:
            draw_swatch(painter, theme, QPointF(x + theme.px(6), rect.center().y()), colour, 6)
            x += theme.px(22)
        head, _, below = str(index.data()).partition("\n")
        room = QRectF(x, rect.y() + theme.px(3), rect.right() - x - theme.px(4), theme.px(20))
        for text, role, factor, bold in ((head, "ink", 1.0, chosen), (below, "muted", 0.85, False)):
            painter.setFont(theme.font(factor, bold=bold))
            painter.setPen(theme.colour(role))
            fitted = QFontMetricsF(painter.font()).elidedText(text, Qt.TextElideMode.ElideRight, room.width())
            painter.drawText(room, Qt.AlignmentFlag.AlignVCenter, fitted)
            room.translate(0, theme.px(18))
        painter.restore()

"""A small picture of a setting: less of it beside more of it."""

from __future__ import annotations

from math import cos, radians, sin

from PyQt6.QtCore import QPointF, QRectF, QSize, Qt
from PyQt6.QtGui import QPainter, QPaintEvent, QPen, QPolygonF
from PyQt6.QtWidgets import QWidget

from nub_shift.editing.words.feel_help import Drawn
from nub_shift.ui.look.theme import Theme

_STEPS = 24
# Amounts drawn for less and for more, from 0 to 1.
_LESS, _MORE = 0.2, 0.8


class MoreLess(QWidget):
    """Two tiles, with less on the left."""

    def __init__(self, theme: Theme, drawn: Drawn, parent: QWidget | None = None) -> None:
        super().__init__(parent)
        self.theme = theme
        self._drawn = drawn
        self.setFixedSize(self.sizeHint())

    def sizeHint(self) -> QSize:
        return QSize(self.theme.px(66), self.theme.px(30))

    def paintEvent(self, _event: QPaintEvent | None) -> None:
        if self._drawn is Drawn.NOTHING:
            return
        painter = QPainter(self)
        painter.setRenderHint(QPainter.RenderHint.Antialiasing)
        side = self.theme.px(28)
        for amount, left in ((_LESS, 1.0), (_MORE, self.width() - side - 1.0)):
            tile = QRectF(left, 1, side, side)
            painter.setPen(QPen(self.theme.colour("line"), 1))
            painter.setBrush(self.theme.colour("raised"))
            painter.drawRect(tile)
            painter.setPen(QPen(self.theme.colour("game"), 1.6))
            painter.setBrush(Qt.BrushStyle.NoBrush)
            self._draw(painter, tile.adjusted(3, 3, -3, -3), amount)

    def _draw(self, painter: QPainter, tile: QRectF, amount: float) -> None:
        middle, reach = tile.center(), tile.width() / 2
        match self._drawn:
            case Drawn.RING:
                painter.drawEllipse(middle, reach * amount, reach * amount)
                self._rim(painter, middle, reach)
            case Drawn.TURNED:
                self._rim(painter, middle, reach)
                painter.drawLine(middle, middle + _on_circle(70 * (amount - 0.2), reach))
            case Drawn.WEDGE:
                self._rim(painter, middle, reach)
                for side in (-1, 1):
                    painter.drawLine(middle, middle + _on_circle(45 + side * 35 * amount, reach))
            case Drawn.SQUARE:
                painter.drawRoundedRect(tile, reach * (1 - amount), reach * (1 - amount))
            case Drawn.LEVEL:
                level = tile.bottom() - tile.height() * amount
                painter.drawLine(QPointF(tile.left(), level), QPointF(tile.right(), level))
            case _:
                steps = [step / _STEPS for step in range(_STEPS + 1)]
                curve = [(x, self._height(x, amount)) for x in steps]
                places = [QPointF(tile.x() + x * tile.width(), tile.bottom() - y * tile.height()) for x, y in curve]
                painter.drawPolyline(QPolygonF(places))

    def _rim(self, painter: QPainter, middle: QPointF, reach: float) -> None:
        pen = painter.pen()
        painter.setPen(QPen(self.theme.colour("pad"), 1))
        painter.drawEllipse(middle, reach, reach)
        painter.setPen(pen)

    def _height(self, x: float, amount: float) -> float:
        """Returns the drawn curve at x."""
        match self._drawn:
            case Drawn.STARTS_LATE:
                start = 0.6 * amount
                return max(0.0, (x - start) / (1.0 - start))
            case Drawn.FULL_EARLY:
                return min(1.0, x / (1.0 - 0.6 * amount))
            case Drawn.STARTS_HIGH:
                return 0.6 * amount + (1.0 - 0.6 * amount) * x
            case Drawn.BENDS:
                return float(x ** (0.6 + 2.4 * amount))
            case Drawn.TIME:
                return min(1.0, max(0.0, x - 0.15) / (0.05 + 0.7 * amount))
            case _:
                return x * amount


def _on_circle(ray_degrees: float, reach: float) -> QPointF:
    """Returns a point of the circle; rays run clockwise from up."""
    return QPointF(reach * sin(radians(ray_degrees)), -reach * cos(radians(ray_degrees)))

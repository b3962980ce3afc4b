"""A fading trail, kept as a picture: only new parts are drawn, so that sixty pictures a second cost little."""

from __future__ import annotations

from collections.abc import Sequence

from PyQt6.QtCore import QPointF, QRectF, Qt
from PyQt6.QtGui import QColor, QPainter, QPen, QPixmap, QPolygonF
from PyQt6.QtWidgets import QWidget

# Opacity left by each fading, of 255: nearly invisible after twenty.
_LEFT = 216


class Trail:
    """A trail in the coordinates of a widget."""

    def __init__(self, widget: QWidget) -> None:
        self._widget = widget
        self._picture = QPixmap()
        self._last: QPointF | None = None
        self._empty = True

    def forget(self) -> None:
        """Clears the trail."""
        self._picture = QPixmap()
        self._last = None
        self._empty = True

    def follow(self, places: Sequence[QPointF], pen: QPen) -> QRectF:
        """Continues the trail through these positions; returns the changed area."""
        way = [self._last, *places] if self._last is not None else list(places)
        self._last = way[-1]
        bounds = QPolygonF(way).boundingRect()
        if bounds.width() + bounds.height() < 0.5:
            return bounds
        painter = QPainter(self._resized())
        painter.setRenderHint(QPainter.RenderHint.Antialiasing)
        painter.setPen(pen)
        painter.drawPolyline(QPolygonF(way))
        painter.end()
        self._empty = False
        return bounds

    def fade(self) -> bool:
        """Fades the trail; returns whether anything is visible."""
        if self._empty:
            return False
        painter = QPainter(self._resized())
        painter.setCompositionMode(QPainter.CompositionMode.CompositionMode_DestinationIn)
        painter.fillRect(self._widget.rect(), QColor(0, 0, 0, _LEFT))
        painter.end()
        return True

    def paint(self, painter: QPainter) -> None:
        """Paints it."""
        if not self._empty:
            painter.drawPixmap(0, 0, self._picture)

    def _resized(self) -> QPixmap:
        """Returns the picture, in the present size of the widget."""
        ratio = self._widget.devicePixelRatioF()
        if self._picture.size() != self._widget.size() * ratio:
            self._picture = QPixmap(self._widget.size() * ratio)
            self._picture.setDevicePixelRatio(ratio)
            self._picture.fill(Qt.GlobalColor.transparent)
        return self._picture

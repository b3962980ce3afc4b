"""Cached still part of a moving picture."""

from __future__ import annotations

from collections.abc import Callable

from PyQt6.QtCore import Qt
from PyQt6.QtGui import QPainter, QPixmap
from PyQt6.QtWidgets import QWidget


class CachedPart:
    """Caches a picture in the size of a widget."""

    def __init__(self, widget: QWidget, draw: Callable[[QPainter], None]) -> None:
        self._widget = widget
        self._draw = draw
        self._picture = QPixmap()
        self._shown: object = None

    def paint(self, painter: QPainter, shown: object) -> None:
        """Paints the part; `shown` is its input besides the size."""
        widget = self._widget
        ratio = widget.devicePixelRatioF()
        now = (shown, widget.size(), ratio)
        if now != self._shown:
            self._shown = now
            self._picture = QPixmap(widget.size() * ratio)
            self._picture.setDevicePixelRatio(ratio)
            self._picture.fill(Qt.GlobalColor.transparent)
            drawing = QPainter(self._picture)
            drawing.setRenderHint(QPainter.RenderHint.Antialiasing)
            self._draw(drawing)
            drawing.end()
        painter.drawPixmap(0, 0, self._picture)

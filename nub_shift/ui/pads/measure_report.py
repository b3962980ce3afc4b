"""Measurements of a stick as two pictures: its rest, enlarged, and its range by angle."""

from __future__ import annotations

from collections.abc import Sequence
from math import cos, hypot, radians, sin

from PyQt6.QtCore import QPointF, QRectF, QSize, Qt
from PyQt6.QtGui import QPainter, QPaintEvent, QPen, QPolygonF
from PyQt6.QtWidgets import QSizePolicy, QWidget

from nub_shift.model.pad.measures import StickRest, StickRim
from nub_shift.translation import tr
from nub_shift.ui.look.drawing import fitted
from nub_shift.ui.look.theme import Theme

_LENS = 68
_ZOOMS = (20, 12, 8, 5, 3, 2, 1)


class StickReport(QWidget):
    """Pictures of one stick, with earlier values drawn thin beneath the present ones."""

    def __init__(self, theme: Theme, label: str, parent: QWidget | None = None) -> None:
        super().__init__(parent)
        self.theme = theme
        self._label = label
        self._rest: StickRest | None = None
        self._rim: StickRim | None = None
        self._rest_before: StickRest | None = None
        self._rim_before: StickRim | None = None
        self._points: Sequence[tuple[float, float]] = ()
        self._going = ""
        self.setSizePolicy(QSizePolicy.Policy.Fixed, QSizePolicy.Policy.Fixed)

    def show_values(
        self,
        rest: StickRest | None,
        rim: StickRim | None,
        rest_before: StickRest | None,
        rim_before: StickRim | None,
    ) -> None:
        """Shows the last measurements, and those before."""
        self._rest, self._rim = rest, rim
        self._rest_before, self._rim_before = rest_before, rim_before
        words = []
        if rest is not None:
            words.append(
                tr(
                    "rests {off:.3f} off the middle; suggested dead zone {dead_zone:g}",
                    off=hypot(rest.x, rest.y),
                    dead_zone=rest.dead_zone,
                )
            )
        if rim is not None:
            words.append(tr("range {least:.2f} to {most:.2f}", least=min(rim.reach), most=max(rim.reach)))
        self.setAccessibleName(f"{self._label}: {'; '.join(words) or tr('not measured yet')}")
        self.update()

    def show_points(self, points: Sequence[tuple[float, float]], going: str) -> None:
        """Shows positions during a measurement, at `rest` or along the `rim`; empty when it is over."""
        self._points, self._going = points, going
        self.update()

    def minimumSizeHint(self) -> QSize:
        return self.sizeHint()

    def sizeHint(self) -> QSize:
        return QSize(self.theme.px(2 * _LENS + 16), self.theme.px(_LENS + 24))

    def paintEvent(self, _event: QPaintEvent | None) -> None:
        painter = QPainter(self)
        painter.setRenderHint(QPainter.RenderHint.Antialiasing)
        theme = self.theme
        size = theme.px(_LENS)
        rest = QRectF(theme.px(4), theme.px(18), size, size)
        rim = rest.translated(size + theme.px(8), 0)
        zoom = self._zoom()
        for rect, title in ((rest, tr("Rest, {zoom} × enlarged", zoom=zoom)), (rim, tr("Range"))):
            painter.setFont(theme.font(0.78))
            painter.setPen(theme.colour("muted"))
            painter.drawText(
                QRectF(rect.x(), 0, size, theme.px(16)), Qt.AlignmentFlag.AlignHCenter, fitted(painter, title, size)
            )
            painter.setPen(QPen(theme.colour("line"), 1.2))
            painter.setBrush(theme.colour("raised"))
            painter.drawEllipse(rect)
            centre = rect.center()
            painter.drawLine(centre - QPointF(size / 2, 0), centre + QPointF(size / 2, 0))
            painter.drawLine(centre - QPointF(0, size / 2), centre + QPointF(0, size / 2))
        self._paint_rest(painter, rest, zoom)
        self._paint_rim(painter, rim)

    def _zoom(self) -> int:
        """Returns the magnification with which the suggested dead zone fills most of the glass."""
        widest = max((rest.dead_zone for rest in (self._rest, self._rest_before) if rest is not None), default=0.1)
        return next(zoom for zoom in _ZOOMS if zoom * widest <= 0.92 or zoom == 1)

    def _paint_rest(self, painter: QPainter, rect: QRectF, zoom: int) -> None:
        theme = self.theme
        scale = rect.width() / 2 * zoom
        painter.save()
        painter.setClipRect(rect)
        if self._rest_before is not None:
            before = rect.center() + QPointF(self._rest_before.x, self._rest_before.y) * scale
            painter.setPen(QPen(theme.colour("muted"), 1, Qt.PenStyle.DotLine))
            painter.setBrush(Qt.BrushStyle.NoBrush)
            painter.drawEllipse(before, self._rest_before.spread * scale, self._rest_before.spread * scale)
        if self._rest is not None:
            zone = self._rest.dead_zone * scale
            painter.setPen(QPen(theme.colour("ink"), 1.4, Qt.PenStyle.DashLine))
            painter.setBrush(Qt.BrushStyle.NoBrush)
            painter.drawEllipse(rect.center(), zone, zone)
            middle = rect.center() + QPointF(self._rest.x, self._rest.y) * scale
            spread = max(self._rest.spread * scale, theme.px(3))
            painter.setPen(QPen(theme.colour("pad"), 1.6))
            painter.setBrush(theme.colour("pad", 70))
            painter.drawEllipse(middle, spread, spread)
            painter.drawLine(rect.center(), middle)
        if self._going == "rest":
            self._paint_points(painter, rect, scale)
        painter.restore()

    def _paint_rim(self, painter: QPainter, rect: QRectF) -> None:
        theme = self.theme
        if self._rim_before is not None:
            painter.setPen(QPen(theme.colour("muted"), 1, Qt.PenStyle.DotLine))
            painter.setBrush(Qt.BrushStyle.NoBrush)
            painter.drawPolygon(_outline(rect, self._rim_before.reach))
        if self._rim is not None:
            painter.setPen(QPen(theme.colour("pad"), 1.6))
            painter.setBrush(theme.colour("pad", 60))
            painter.drawPolygon(_outline(rect, self._rim.reach))
            inner = rect.width() / 2 * (1 - self._rim.edge_zone)
            painter.setPen(QPen(theme.colour("ink"), 1.4, Qt.PenStyle.DashLine))
            painter.setBrush(Qt.BrushStyle.NoBrush)
            painter.drawEllipse(rect.center(), inner, inner)
        if self._going == "rim":
            self._paint_points(painter, rect, rect.width() / 2)

    def _paint_points(self, painter: QPainter, rect: QRectF, scale: float) -> None:
        painter.setPen(QPen(self.theme.colour("pad"), 2))
        for x, y in self._points[-1500:]:
            painter.drawPoint(rect.center() + QPointF(x, y) * scale)


def _outline(rect: QRectF, reach: Sequence[float]) -> QPolygonF:
    """Returns the measured rim, clockwise from up."""
    step = 360.0 / len(reach)
    corners = []
    for index, radius in enumerate(reach):
        angle = radians(index * step)
        corners.append(rect.center() + QPointF(sin(angle), -cos(angle)) * (radius * rect.width() / 2))
    return QPolygonF(corners)

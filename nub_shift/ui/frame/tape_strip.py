"""Moving part of the tape as a picture, which is scrolled; only its newest part is drawn again."""

from __future__ import annotations

from bisect import bisect_left
from collections import deque
from collections.abc import Iterator, Sequence
from itertools import takewhile

from PyQt6.QtCore import QPointF, QRectF, QSize, Qt
from PyQt6.QtGui import QPainter, QPen, QPixmap, QPolygonF

from nub_shift.editing.preview.tape_track import SPAN_US, TRACED, TapeBar, TapeTrack
from nub_shift.model.controls import CONTROL_BY_NAME, Kind
from nub_shift.translation import tr
from nub_shift.ui.look.theme import Theme

# Length of the newest part, which may still change: packets come late, and bars grow.
FRESH_US = 300_000
# Pause after which drawing everything is faster.
PAUSE_US = 1_500_000
POINTER = tr("Pointer")

Rows = Sequence[tuple[str, QRectF]]
PadRows = Sequence[tuple[tuple[int, str], QRectF]]  # by seat and control


class TapeStrip:
    """Rows of the tape without their labels, over its span.

    Attributes:
        whole: number of complete redraws.
    """

    def __init__(self, theme: Theme, track: TapeTrack) -> None:
        self.whole = 0
        self._theme = theme
        self._track = track
        self._picture = QPixmap()
        self._shown: object = None
        self._drawn_us = 0.0

    def picture(self, size: QSize, ratio: float, pad: PadRows, game: Rows, now_us: int) -> QPixmap:
        """Returns the present picture, with `ratio` device pixels per pixel; the rows lie within it."""
        shown = (size, ratio, self._theme.look, [name for name, _ in pad], [name for name, _ in game])
        per_us = size.width() * ratio / SPAN_US
        ahead_us = now_us - self._drawn_us
        if shown != self._shown or not 0 <= ahead_us < PAUSE_US:
            self.whole += 1
            self._shown = shown
            self._picture = QPixmap(size * ratio)
            self._picture.setDevicePixelRatio(ratio)
            self._picture.fill(Qt.GlobalColor.transparent)  # transparent over the still parts
            self._drawn_us = now_us
            self._draw(pad, game, 0.0)
            return self._picture
        shift = int(ahead_us * per_us)
        if shift:
            self._picture.scroll(-shift, 0, self._picture.rect())
            self._drawn_us += shift / per_us
        fresh = FRESH_US * per_us + shift
        self._draw(pad, game, max(0.0, size.width() - fresh / ratio))
        return self._picture

    def _draw(self, pad: PadRows, game: Rows, from_x: float) -> None:
        """Draws everything to the right of a position."""
        picture = self._picture
        width, height = picture.width() / picture.devicePixelRatio(), picture.height() / picture.devicePixelRatio()
        since_us = self._drawn_us - (width - from_x) / width * SPAN_US
        painter = QPainter(picture)
        room = QRectF(from_x, 0, width - from_x, height)
        painter.setClipRect(room)
        painter.setCompositionMode(QPainter.CompositionMode.CompositionMode_Source)
        painter.fillRect(room, Qt.GlobalColor.transparent)
        painter.setCompositionMode(QPainter.CompositionMode.CompositionMode_SourceOver)
        for (seat, name), row in pad:
            control = CONTROL_BY_NAME[name]
            if control.kind in TRACED:
                for channel in control.channels:
                    if (seat, channel) in self._track.traces:
                        self._draw_trace(painter, row, seat, channel, control.kind, since_us)
            bars = (bar for bar in self._track.pad_bars if bar.seat == seat and bar.name in control.channels)
            self._draw_bars(painter, row, bars, "pad", since_us)
        for name, row in game:
            if name == POINTER:
                self._draw_pointer(painter, row, self._track.pointer, since_us)
                continue
            self._draw_bars(painter, row, (bar for bar in self._track.game_bars if bar.name == name), "game", since_us)
            colour = self._theme.colour("game")
            for mark in self._track.marks:
                if mark.name == name and mark.t_us >= since_us:
                    x = self._x(row, mark.t_us)
                    painter.fillRect(QRectF(x, row.y() + 1, self._theme.px(3), row.height() - 2), colour)
        painter.end()

    def _x(self, row: QRectF, t_us: float) -> float:
        return row.right() - (self._drawn_us - t_us) / SPAN_US * row.width()

    def _draw_bars(self, painter: QPainter, row: QRectF, bars: Iterator[TapeBar], role: str, since_us: float) -> None:
        colour = self._theme.colour(role)
        for bar in bars:
            end_us = bar.end_us if bar.end_us is not None else self._drawn_us
            if end_us >= since_us:
                start, end = self._x(row, bar.start_us), self._x(row, end_us)
                painter.fillRect(QRectF(start, row.y() + 2, max(end - start, 2.0), row.height() - 4), colour)

    def _draw_trace(self, painter: QPainter, row: QRectF, seat: int, channel: str, kind: Kind, since_us: float) -> None:
        scale = 1 / 180 if kind is Kind.MOTION else 1.0
        middle = row.center().y() if kind is not Kind.TRIGGER else row.bottom() - 1
        reach = (row.height() / 2 - 1) if kind is not Kind.TRIGGER else -(row.height() - 3)
        points = list(self._track.traces[seat, channel])
        first = max(0, bisect_left(points, (since_us, -1e9)) - 1)  # includes the point before the picture
        line = QPolygonF(
            [
                QPointF(self._x(row, t_us), middle + max(-1.0, min(value * scale, 1.0)) * reach)
                for t_us, value in points[first:]
            ]
        )
        if first == 0:
            line.prepend(QPointF(row.x(), line[0].y()))
        line.append(QPointF(row.right(), line[line.size() - 1].y()))
        strong = channel.endswith(("x", "trigger", "1", "2"))
        painter.setPen(QPen(self._theme.colour("pad", 255 if strong else 150), 1.3))
        painter.drawPolyline(line)

    def _draw_pointer(
        self, painter: QPainter, row: QRectF, points: deque[tuple[int, int, int]], since_us: float
    ) -> None:
        """Draws pointer motion as spikes, with the speed as their length."""
        painter.setPen(QPen(self._theme.colour("game"), 1.4))
        middle = row.center().y()
        for t_us, dx, dy in takewhile(lambda point: point[0] >= since_us, reversed(points)):
            x = self._x(row, t_us)
            size = min(1.0, (dx * dx + dy * dy) ** 0.5 / 24) * row.height() / 2
            painter.drawLine(QPointF(x, middle - size), QPointF(x, middle + size))

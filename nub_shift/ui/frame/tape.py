"""The tape: what the pad did and what the game got, scrolling at the foot of the window."""

from __future__ import annotations

from collections import deque

from PyQt6.QtCore import QPointF, QRectF, QSize, Qt, QTimer
from PyQt6.QtGui import QPainter, QPaintEvent, QPen, QPolygonF
from PyQt6.QtWidgets import QSizePolicy, QWidget

from nub_shift.editing.preview.tape_track import SPAN_US, TRACED, TapeBar, TapeTrack
from nub_shift.keyboard.keys import KEY_BY_CODE
from nub_shift.keyboard.layout import LayoutSource
from nub_shift.model.controls import CONTROL_BY_NAME, Kind
from nub_shift.model.labels import control_title
from nub_shift.protocol.clock import monotonic_us
from nub_shift.protocol.messages import Telemetry
from nub_shift.ui.look.theme import Theme

FRAME_MS = 40
_MAX_ROWS = 6


class Tape(QWidget):
    """Two bands on one time axis, the present at the right edge. It stands still when nothing moves."""

    def __init__(self, theme: Theme, layout: LayoutSource, parent: QWidget | None = None) -> None:
        super().__init__(parent)
        self.theme = theme
        self._layout = layout
        self.track = TapeTrack()
        self.live = False
        self.printed: dict[str, str] = {}
        self._timer = QTimer(self)
        self._timer.setInterval(FRAME_MS)
        self._timer.timeout.connect(self._on_tick)
        self.setSizePolicy(QSizePolicy.Policy.Expanding, QSizePolicy.Policy.Maximum)
        self.setAccessibleName("Tape: what the pad did and what the game got in the last seconds")

    def take(self, packet: Telemetry) -> None:
        """Adds a packet."""
        self.track.take(packet)
        if not self._timer.isActive() and monotonic_us() - self.track.last_us < SPAN_US:
            self._timer.start()

    def sizeHint(self) -> QSize:
        return QSize(400, self.theme.px(172))

    def minimumSizeHint(self) -> QSize:
        return QSize(400, self.theme.px(96))

    def _on_tick(self) -> None:
        if monotonic_us() - self.track.last_us > SPAN_US:
            self._timer.stop()
        if self.isVisible():
            self.update()

    def paintEvent(self, _event: QPaintEvent | None) -> None:
        painter = QPainter(self)
        theme = self.theme
        now_us = monotonic_us()
        rect = QRectF(self.rect())
        painter.fillRect(rect, theme.colour("raised"))
        painter.setPen(QPen(theme.colour("ink"), 1))
        painter.drawLine(rect.topLeft(), rect.topRight())
        gutter = theme.px(118)
        area = rect.adjusted(gutter, theme.px(4), -theme.px(14), -theme.px(16))
        self._paint_seconds(painter, area)
        middle = area.y() + area.height() / 2
        pad_band = QRectF(area.x(), area.y(), area.width(), area.height() / 2 - 2)
        game_band = QRectF(area.x(), middle + 2, area.width(), area.height() / 2 - 2)
        self._paint_pad(painter, pad_band, now_us)
        painter.setPen(QPen(theme.colour("line"), 1))
        painter.drawLine(QPointF(theme.px(8), middle), QPointF(rect.right(), middle))
        self._paint_game(painter, game_band, now_us)

    def _x(self, area: QRectF, t_us: int, now_us: int) -> float:
        return max(area.x(), area.right() - (now_us - t_us) / SPAN_US * area.width())

    def _paint_seconds(self, painter: QPainter, area: QRectF) -> None:
        theme = self.theme
        painter.setFont(theme.font(0.78))
        for seconds in range(9):
            x = area.right() - seconds / (SPAN_US / 1e6) * area.width()
            painter.setPen(QPen(theme.colour("grid"), 1))
            painter.drawLine(QPointF(x, area.y()), QPointF(x, area.bottom()))
            painter.setPen(theme.colour("muted"))
            text = "now" if seconds == 0 else f"{seconds} s"
            spot = QRectF(x - 30, area.bottom() + 1, 42 if seconds == 0 else 60, theme.px(14))
            flags = Qt.AlignmentFlag.AlignRight if seconds == 0 else Qt.AlignmentFlag.AlignHCenter
            painter.drawText(spot, flags, text)

    def _paint_pad(self, painter: QPainter, band: QRectF, now_us: int) -> None:
        names = self.track.active_controls(now_us)
        self._paint_title(painter, band, "Pad", "pad", bool(names))
        for name, row in _rows(names, band, self.theme.px(12)):
            control = CONTROL_BY_NAME[name]
            self._label(painter, row, control_title(name, self.printed), "pad")
            if control.kind in TRACED:
                for channel in control.channels:
                    if channel in self.track.traces:
                        self._paint_trace(painter, row, channel, control.kind, now_us)
            bars = [bar for bar in self.track.pad_bars if bar.name in control.channels]
            self._paint_bars(painter, row, band, bars, "pad", now_us)

    def _paint_game(self, painter: QPainter, band: QRectF, now_us: int) -> None:
        keys = self.track.active_keys(now_us)
        moving = bool(self.track.pointer) and now_us - self.track.pointer[-1][0] < SPAN_US
        title = "Game" if self.live else "Game, rehearsed"
        self._paint_title(painter, band, title, "game", bool(keys or moving))
        names = (["Pointer"] if moving else []) + keys
        for name, row in _rows(names, band, self.theme.px(12)):
            if name == "Pointer":
                self._label(painter, row, name, "game")
                self._paint_pointer(painter, row, self.track.pointer, now_us)
                continue
            label = self._layout().label(name) if name in KEY_BY_CODE else name
            self._label(painter, row, label, "game")
            bars = [bar for bar in self.track.game_bars if bar.name == name]
            self._paint_bars(painter, row, band, bars, "game", now_us)
            for mark in self.track.marks:
                if mark.name == name:
                    x = self._x(band, mark.t_us, now_us)
                    painter.fillRect(
                        QRectF(x, row.y() + 1, self.theme.px(3), row.height() - 2), self.theme.colour("game")
                    )

    def _paint_title(self, painter: QPainter, band: QRectF, text: str, role: str, busy: bool) -> None:
        if busy:
            return
        painter.setFont(self.theme.font(0.92))
        painter.setPen(self.theme.colour(role))
        painter.drawText(QRectF(self.theme.px(12), band.y(), 400, band.height()), Qt.AlignmentFlag.AlignVCenter, text)

    def _label(self, painter: QPainter, row: QRectF, text: str, role: str) -> None:
        painter.setFont(self.theme.font(0.8))
        painter.setPen(self.theme.colour(role))
        room = QRectF(self.theme.px(12), row.y(), row.x() - self.theme.px(16), row.height())
        painter.drawText(room, Qt.AlignmentFlag.AlignVCenter, text)

    def _paint_bars(
        self, painter: QPainter, row: QRectF, band: QRectF, bars: list[TapeBar], role: str, now_us: int
    ) -> None:
        colour = self.theme.colour(role)
        for bar in bars:
            start = self._x(band, bar.start_us, now_us)
            end = self._x(band, bar.end_us if bar.end_us is not None else now_us, now_us)
            if end > band.x():
                painter.fillRect(QRectF(start, row.y() + 2, max(end - start, 2.0), row.height() - 4), colour)

    def _paint_trace(self, painter: QPainter, row: QRectF, channel: str, kind: Kind, now_us: int) -> None:
        scale = 1 / 180 if kind is Kind.MOTION else 1.0
        middle = row.center().y() if kind is not Kind.TRIGGER else row.bottom() - 1
        reach = (row.height() / 2 - 1) if kind is not Kind.TRIGGER else -(row.height() - 3)
        left, right, per_us = row.x(), row.right(), row.width() / SPAN_US
        line = QPolygonF(
            [
                QPointF(
                    max(left, right - (now_us - t_us) * per_us), middle + max(-1.0, min(value * scale, 1.0)) * reach
                )
                for t_us, value in self.track.traces[channel]
            ]
        )
        line.append(QPointF(right, line[line.size() - 1].y()))
        painter.setPen(
            QPen(self.theme.colour("pad", 255 if channel.endswith(("x", "trigger", "1", "2")) else 150), 1.3)
        )
        painter.drawPolyline(line)

    def _paint_pointer(self, painter: QPainter, row: QRectF, points: deque[tuple[int, int, int]], now_us: int) -> None:
        """Pointer motion as spikes to the right (up) or left (down) and across."""
        painter.setPen(QPen(self.theme.colour("game"), 1.4))
        middle = row.center().y()
        for t_us, dx, dy in points:
            x = self._x(row, t_us, now_us)
            size = min(1.0, (dx * dx + dy * dy) ** 0.5 / 24) * row.height() / 2
            painter.drawLine(QPointF(x, middle - size), QPointF(x, middle + size))


def _rows(names: list[str], band: QRectF, least: float) -> list[tuple[str, QRectF]]:
    """A row for each of the last names, all of equal height, which is not below `least`."""
    most = max(1, min(_MAX_ROWS, int(band.height() / least)))
    shown = names[-most:]
    height = band.height() / max(min(4, most), len(shown))
    return [(name, QRectF(band.x(), band.y() + i * height, band.width(), height)) for i, name in enumerate(shown)]

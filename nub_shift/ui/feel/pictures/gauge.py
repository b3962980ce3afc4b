"""A trigger, a slider or a sensor: the last pulls as a curve over time, with the thresholds of stages as lines."""

from __future__ import annotations

from collections import deque
from collections.abc import Callable, Sequence
from dataclasses import replace
from itertools import pairwise

from PyQt6.QtCore import QPointF, QRectF, QSize, Qt
from PyQt6.QtGui import QFontMetricsF, QPainter, QPaintEvent, QPen, QPolygonF
from PyQt6.QtWidgets import QWidget

from nub_shift.editing.feel.stage_lines import StageLine
from nub_shift.model.controls import CONTROL_BY_NAME, Kind
from nub_shift.translation import number_text, tr
from nub_shift.ui.feel.pictures.picture import KnobPicture
from nub_shift.ui.look.theme import Theme
from nub_shift.ui.widgets.level import Level
from nub_shift.ui.widgets.still import CachedPart

SPAN_US = 6_000_000


class Gauge(KnobPicture[StageLine]):
    """The picture of one control that is pulled."""

    def __init__(self, theme: Theme, clock: Callable[[], int], parent: QWidget | None = None) -> None:
        """`clock` returns the time in microseconds."""
        super().__init__(theme, parent)
        self._clock = clock
        self._below: list[StageLine] = []
        self._both = False  # whether it has two sides of rest
        self._value = 0.0
        self._pulls: deque[tuple[int, float]] = deque()
        self._still = CachedPart(self, self._draw_still)
        self._level = Level(tr("Pull"), self)

    def show_lines(self, control: str, lines: list[StageLine], below: Sequence[StageLine] = ()) -> None:
        """Shows the stages of a control, and faintly those without the layer's changes."""
        now = {line.label: line.value for line in lines}
        self._below = [line for line in below if line.value != now[line.label]]
        self._both = CONTROL_BY_NAME[control].kind is Kind.SLIDER
        self.setAccessibleName(tr("{label}: stages", label=CONTROL_BY_NAME[control].label))
        self.show_numbers(lines)

    def follow(self, value: float) -> None:
        """Marks the present pull."""
        if value != self._value:
            now_us = self._clock()
            if not self._pulls or now_us - self._pulls[-1][0] > 100_000:
                self._pulls.append((now_us - 20_000, self._value))  # constant until just now
            self._value = value
            self._pulls.append((now_us, value))
            while self._pulls[0][0] < now_us - SPAN_US:
                self._pulls.popleft()
            self._level.show_level(value)
            self.update()

    def forget(self) -> None:
        """Forgets the pulls, for another control."""
        self._pulls.clear()
        self._value = 0.0

    def sizeHint(self) -> QSize:
        return QSize(self.theme.px(420), self.theme.px(360))

    def minimumSizeHint(self) -> QSize:
        return QSize(self.theme.px(240), self.theme.px(180))

    @property
    def _lines(self) -> list[StageLine]:
        """Lines of the stages, with a dragged line at its dragged place."""
        label, value = (self.dragged[0].label, self.dragged[1]) if self.dragged is not None else ("", 0.0)
        return [replace(line, value=value) if line.label == label else line for line in self.numbers.values()]

    @property
    def _area(self) -> QRectF:
        px = self.theme.px
        return QRectF(self.rect()).adjusted(px(10), px(14), -px(130), -px(24))

    def _y(self, pull: float) -> float:
        area = self._area
        return area.center().y() - pull * area.height() / 2 if self._both else area.bottom() - pull * area.height()

    def value_at(self, number: StageLine, place: QPointF) -> float:
        return (self._y(0.0) - place.y()) / (self._area.height() / (2 if self._both else 1)) * number.side

    def lay_out(self) -> None:
        right = self._area.right()
        for at, line in enumerate(self._lines):
            knob = self.knobs[line.label]
            knob.show_number(line.label, "", line.value, line.low, line.high)
            # Thresholds of a stage may lie close to one another.
            knob.lie_at(QPointF(right - self.theme.px(14 if at % 2 else 40), self._y(line.value * line.side)))
        self.update()

    def paintEvent(self, _event: QPaintEvent | None) -> None:
        painter = QPainter(self)
        painter.setRenderHint(QPainter.RenderHint.Antialiasing)
        self._still.paint(painter, (self._lines, self._below, self._both, self.theme.look, self.focused_label))
        theme, area, now_us = self.theme, self._area, self._clock()
        points = [QPointF(self._x(t_us, now_us), self._y(pull)) for t_us, pull in self._pulls]
        points.append(QPointF(area.right(), self._y(self._value)))
        painter.setClipRect(area)
        painter.setPen(QPen(theme.colour("pad"), 2))
        painter.drawPolyline(QPolygonF(points))
        painter.setBrush(theme.colour("game"))
        painter.setPen(Qt.PenStyle.NoPen)
        for t_us, line in self._crossings():
            spot = QPointF(self._x(t_us, now_us), self._y(line.value * line.side))
            painter.drawEllipse(spot, theme.px(4), theme.px(4))

    def _x(self, t_us: int, now_us: int) -> float:
        area = self._area
        return area.right() - (now_us - t_us) / SPAN_US * area.width()

    def _crossings(self) -> list[tuple[int, StageLine]]:
        """Returns the moments at which pulls crossed the begin of a stage."""
        begins = [line for line in self._lines if line.path[1] == "on"]
        return [
            (t_us, line)
            for (_, before), (t_us, pull) in pairwise(self._pulls)
            for line in begins
            if before * line.side < line.value <= pull * line.side
        ]

    def _draw_still(self, painter: QPainter) -> None:
        """Draws the background, the lines and their labels."""
        theme, area = self.theme, self._area
        painter.setPen(QPen(theme.colour("line"), 1))
        painter.setBrush(theme.colour("raised"))
        painter.drawRect(area)
        if self._both:
            painter.drawLine(QPointF(area.x(), self._y(0.0)), QPointF(area.right(), self._y(0.0)))
        painter.setPen(QPen(theme.colour("muted", 150), 3))
        for line in self._below:
            y = self._y(line.value * line.side)
            painter.drawLine(QPointF(area.x(), y), QPointF(area.right(), y))
        focused_label = self.focused_label
        for line in self._lines:
            y = self._y(line.value * line.side)
            begins = line.path[1] == "on"
            style = Qt.PenStyle.SolidLine if begins else Qt.PenStyle.DotLine
            painter.setPen(QPen(theme.colour("game" if begins else "ink"), 1.4, style))
            painter.drawLine(QPointF(area.x(), y), QPointF(area.right(), y))
            strong = line.label == focused_label
            painter.setFont(theme.font(0.85, bold=strong))
            painter.setPen(theme.colour("ink" if strong else "muted"))
            text = f"{line.label} {number_text(line.value)}"
            height = QFontMetricsF(painter.font()).height()
            row = QRectF(area.right() + theme.px(6), y - height / 2, theme.px(124), height)
            painter.drawText(row, Qt.AlignmentFlag.AlignVCenter, text)
        painter.setFont(theme.font(0.85))
        painter.setPen(theme.colour("muted"))
        foot = QRectF(area.x(), area.bottom(), area.width(), self.height() - area.bottom())
        painter.drawText(
            foot, Qt.AlignmentFlag.AlignCenter, tr("The last {seconds} seconds", seconds=SPAN_US // 1000000)
        )

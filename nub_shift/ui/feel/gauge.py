"""A trigger, a slider or a sensor: the last pulls as a curve over time, and the lines where stages begin and end."""

from __future__ import annotations

from collections import deque
from collections.abc import Callable, Sequence
from dataclasses import replace
from itertools import pairwise

from PyQt6.QtCore import QPointF, QRectF, QSize, Qt, pyqtSignal
from PyQt6.QtGui import QFontMetricsF, QPainter, QPaintEvent, QPen, QPolygonF, QResizeEvent
from PyQt6.QtWidgets import QSizePolicy, QWidget

from nub_shift.editing.stage_lines import StageLine
from nub_shift.model.controls import CONTROL_BY_NAME, Kind
from nub_shift.ui.feel.knob import Knob, knobs_for
from nub_shift.ui.look.theme import Theme
from nub_shift.ui.widgets.level import Level
from nub_shift.ui.widgets.still import StillPart

SPAN_US = 6_000_000
_STEP = 0.01


class Gauge(QWidget):
    """The picture of one control that is pulled.

    Attributes:
        knobs: by the label of their line.

    Signals:
        previewed(StageLine, float): a line is being dragged, and would be there.
        chosen(StageLine, float): a line is to lie elsewhere.
    """

    previewed = pyqtSignal(object, float)
    chosen = pyqtSignal(object, float)

    def __init__(self, theme: Theme, clock: Callable[[], int], parent: QWidget | None = None) -> None:
        """`clock` says what time it is, in microseconds."""
        super().__init__(parent)
        self.theme = theme
        self.knobs: dict[str, Knob] = {}
        self._clock = clock
        self._lines: dict[str, StageLine] = {}
        self._below: list[StageLine] = []
        self._dragged = ""
        self._both = False  # it has two sides of rest
        self._value = 0.0
        self._pulls: deque[tuple[int, float]] = deque()
        self._still = StillPart(self, self._draw_still)
        self._level = Level("Pull", self)
        self.setSizePolicy(QSizePolicy.Policy.Expanding, QSizePolicy.Policy.Expanding)

    def show_lines(self, control: str, lines: list[StageLine], below: Sequence[StageLine] = ()) -> None:
        """Shows the stages of a control, and faintly where those lie that the layer changes."""
        now = {line.label: line.value for line in lines}
        self._below = [line for line in below if line.value != now[line.label]]
        self._both = CONTROL_BY_NAME[control].kind is Kind.SLIDER
        self.setAccessibleName(f"{CONTROL_BY_NAME[control].label}: its stages")
        self.knobs = knobs_for(
            {line.label: _STEP for line in lines},
            self.knobs,
            self,
            self.theme,
            dragged=self._on_dragged,
            let_go=self._on_let_go,
            stepped=self._on_stepped,
        )
        self._lines = {line.label: line for line in lines}
        self._dragged = ""
        self._lay_out()

    def follow(self, value: float) -> None:
        """It is pulled so far."""
        if value != self._value:
            now_us = self._clock()
            if not self._pulls or now_us - self._pulls[-1][0] > 100_000:
                self._pulls.append((now_us - 20_000, self._value))  # it stayed there until just now
            self._value = value
            self._pulls.append((now_us, value))
            while self._pulls[0][0] < now_us - SPAN_US:
                self._pulls.popleft()
            self._level.show_level(value)
            self.update()

    def forget(self) -> None:
        """Another control: its pulls begin anew."""
        self._pulls.clear()
        self._value = 0.0

    def sizeHint(self) -> QSize:
        return QSize(self.theme.px(420), self.theme.px(360))

    def minimumSizeHint(self) -> QSize:
        return QSize(self.theme.px(240), self.theme.px(180))

    def resizeEvent(self, event: QResizeEvent | None) -> None:
        super().resizeEvent(event)
        self._lay_out()

    @property
    def _area(self) -> QRectF:
        px = self.theme.px
        return QRectF(self.rect()).adjusted(px(10), px(14), -px(130), -px(24))

    def _y(self, pull: float) -> float:
        area = self._area
        return area.center().y() - pull * area.height() / 2 if self._both else area.bottom() - pull * area.height()

    def _on_dragged(self, label: str, place: QPointF) -> None:
        line, area = self._lines[label], self._area
        pull = (self._y(0.0) - place.y()) / (area.height() / (2 if self._both else 1)) * line.side
        self._lines[label] = replace(line, value=line.held(pull))
        self._dragged = label
        self._lay_out()
        self.previewed.emit(line, self._lines[label].value)

    def _on_let_go(self) -> None:
        label, self._dragged = self._dragged, ""
        if label:
            self._choose(label, self._lines[label].value)

    def _on_stepped(self, label: str, steps: int) -> None:
        self._choose(label, steps * _STEP)

    def _choose(self, label: str, value: float) -> None:
        self.chosen.emit(self._lines[label], value)

    def _lay_out(self) -> None:
        right = self._area.right()
        for at, (label, line) in enumerate(self._lines.items()):
            knob = self.knobs[label]
            knob.show_number(label, "", line.value, line.low, line.high)
            # Where a stage begins and where it ends may lie close to one another.
            knob.lie_at(QPointF(right - self.theme.px(14 if at % 2 else 40), self._y(line.value * line.side)))
        self.update()

    def paintEvent(self, _event: QPaintEvent | None) -> None:
        painter = QPainter(self)
        painter.setRenderHint(QPainter.RenderHint.Antialiasing)
        focused = next((label for label, knob in self.knobs.items() if knob.hasFocus()), "")
        self._still.paint(
            painter, (list(self._lines.values()), self._below, self._both, self.theme.look, focused, self._dragged)
        )
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
        """When stages began: a pull went over where they do."""
        begins = [line for line in self._lines.values() if line.path[1] == "on"]
        return [
            (t_us, line)
            for (_, before), (t_us, pull) in pairwise(self._pulls)
            for line in begins
            if before * line.side < line.value <= pull * line.side
        ]

    def _draw_still(self, painter: QPainter) -> None:
        """The ground, the lines and their words."""
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
        for label, line in self._lines.items():
            y = self._y(line.value * line.side)
            begins = line.path[1] == "on"
            style = Qt.PenStyle.SolidLine if begins else Qt.PenStyle.DotLine
            painter.setPen(QPen(theme.colour("game" if begins else "ink"), 1.4, style))
            painter.drawLine(QPointF(area.x(), y), QPointF(area.right(), y))
            strong = self.knobs[label].hasFocus() or label == self._dragged
            painter.setFont(theme.font(0.85, bold=strong))
            painter.setPen(theme.colour("ink" if strong else "muted"))
            text = f"{label} {line.value:g}"
            height = QFontMetricsF(painter.font()).height()
            row = QRectF(area.right() + theme.px(6), y - height / 2, theme.px(124), height)
            painter.drawText(row, Qt.AlignmentFlag.AlignVCenter, text)
        painter.setFont(theme.font(0.85))
        painter.setPen(theme.colour("muted"))
        foot = QRectF(area.x(), area.bottom(), area.width(), self.height() - area.bottom())
        painter.drawText(foot, Qt.AlignmentFlag.AlignCenter, f"The last {SPAN_US // 1_000_000} seconds")

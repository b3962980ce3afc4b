"""How far out comes what: the response of a stick as a curve, with its power and its start to be dragged."""

from __future__ import annotations

from math import log

from msgspec.structs import replace
from PyQt6.QtCore import QPointF, QRectF, QSize, Qt, pyqtSignal
from PyQt6.QtGui import QPainter, QPaintEvent, QPen, QPolygonF, QResizeEvent
from PyQt6.QtWidgets import QSizePolicy, QWidget

from nub_shift.analysis.shaping import response
from nub_shift.model.feel import StickFeel
from nub_shift.ui.feel.knob import knobs_for
from nub_shift.ui.look.theme import Theme
from nub_shift.ui.widgets.still import StillPart

_STEPS = 121
POWER, START = "power", "anti_dead_zone"
_NAMES = {POWER: "Curve power", START: "Anti-dead zone"}
_LIMITS = {POWER: (0.2, 5.0), START: (0.0, 0.5)}
_STEP = {POWER: 0.05, START: 0.01}


class Curve(QWidget):
    """Across how far the stick is pushed, upwards how far it comes out; a dot where the hand is.

    Attributes:
        knobs: by what they set.

    Signals:
        previewed(str, float): a number is being dragged, and would be that.
        chosen(str, float): a number of the feel is to be another.
    """

    previewed = pyqtSignal(str, float)
    chosen = pyqtSignal(str, float)

    def __init__(self, theme: Theme, parent: QWidget | None = None) -> None:
        super().__init__(parent)
        self.theme = theme
        self._feel = StickFeel()
        self._dragged: tuple[str, float] | None = None
        self._full = ""  # what all the way out is
        self._pushed = 0.0
        self._points: tuple[list[float], list[float]] = ([], [])
        self._still = StillPart(self, self._draw_still)
        self.knobs = knobs_for(
            _STEP,
            {},
            self,
            self.theme,
            dragged=self._on_dragged,
            let_go=self._on_let_go,
            stepped=self._on_stepped,
        )
        self.setSizePolicy(QSizePolicy.Policy.Expanding, QSizePolicy.Policy.Preferred)
        self.setAccessibleName("Response curve")

    def show_feel(self, feel: StickFeel, full: str) -> None:
        """Shows a feel; `full` says what comes at the rim, as "1500 counts a second"."""
        self._feel, self._full, self._dragged = feel, full, None
        self._lay_out()

    def follow(self, pushed: float) -> None:
        """The stick is pushed so far."""
        if abs(pushed - self._pushed) > 0.002:
            both = [self._at(min(part, 1.0), 0.0).x() for part in (self._pushed, pushed)]
            self._pushed = pushed
            edge = self.theme.px(7)
            strip = QRectF(min(both) - edge, 0, max(both) - min(both) + 2 * edge, self.height())
            self.update(strip.toAlignedRect())

    def sizeHint(self) -> QSize:
        return QSize(self.theme.px(300), self.theme.px(230))

    def minimumSizeHint(self) -> QSize:
        return QSize(self.theme.px(200), self.theme.px(150))

    def resizeEvent(self, event: QResizeEvent | None) -> None:
        super().resizeEvent(event)
        self._lay_out()

    @property
    def _shown(self) -> StickFeel:
        return replace(self._feel, **dict([self._dragged])) if self._dragged is not None else self._feel

    @property
    def _area(self) -> QRectF:
        px = self.theme.px
        return QRectF(self.rect()).adjusted(px(12), px(22), -px(12), -px(20))

    def _bend_at(self, feel: StickFeel) -> float:
        """How far the stick is pushed where half of what shapes it is used."""
        return feel.dead_zone + (1.0 - feel.edge_zone - feel.dead_zone) / 2

    def _lay_out(self) -> None:
        feel = self._shown
        pushed, out = response(feel, _STEPS)
        self._points = (pushed.tolist(), out.tolist())
        places = {
            POWER: (self._bend_at(feel), feel.anti_dead_zone + (1.0 - feel.anti_dead_zone) * 0.5**feel.power),
            START: (feel.dead_zone, feel.anti_dead_zone),
        }
        for name, knob in self.knobs.items():
            knob.setVisible(name == START or not feel.points)  # a curve through points has no power
            knob.show_number(_NAMES[name], "", getattr(feel, name), *_LIMITS[name])
            knob.lie_at(self._at(*places[name]))
        self.update()

    def _at(self, pushed: float, out: float) -> QPointF:
        area = self._area
        return QPointF(area.x() + pushed * area.width(), area.bottom() - out * area.height())

    def _on_dragged(self, name: str, place: QPointF) -> None:
        area, feel = self._area, self._feel
        out = (area.bottom() - place.y()) / area.height()
        value = out
        if name == POWER:
            part = (out - feel.anti_dead_zone) / (1.0 - feel.anti_dead_zone)
            value = log(min(max(part, 0.01), 0.99)) / log(0.5)
        low, high = _LIMITS[name]
        self._dragged = name, round(min(max(value, low), high), 3)
        self._lay_out()
        self.previewed.emit(*self._dragged)

    def _on_let_go(self) -> None:
        if self._dragged is not None:
            dragged, self._dragged = self._dragged, None
            self.chosen.emit(*dragged)

    def _on_stepped(self, name: str, steps: int) -> None:
        self.chosen.emit(name, round(steps * _STEP[name], 3))

    def paintEvent(self, _event: QPaintEvent | None) -> None:
        painter = QPainter(self)
        painter.setRenderHint(QPainter.RenderHint.Antialiasing)
        self._still.paint(painter, (self._shown, self.theme.look, self._full, self._named))
        pushed, out = self._points
        if pushed:
            theme = self.theme
            spot = self._at(min(self._pushed, 1.0), out[min(round(self._pushed * (_STEPS - 1)), _STEPS - 1)])
            painter.setPen(QPen(theme.colour("pad"), 1.4))
            painter.drawLine(QPointF(spot.x(), self._area.bottom()), spot)
            painter.setBrush(theme.colour("pad"))
            painter.drawEllipse(spot, theme.px(4), theme.px(4))

    @property
    def _named(self) -> str:
        """What is dragged, or has the focus."""
        if self._dragged is not None:
            return self._dragged[0]
        return next((name for name, knob in self.knobs.items() if knob.hasFocus()), "")

    def _draw_still(self, painter: QPainter) -> None:
        """The curve and its words."""
        theme, area = self.theme, self._area
        painter.setPen(QPen(theme.colour("line"), 1))
        painter.setBrush(theme.colour("raised"))
        painter.drawRect(area)
        painter.setPen(QPen(theme.colour("grid"), 1))
        painter.drawLine(area.bottomLeft(), area.topRight())
        painter.setPen(QPen(theme.colour("game"), 2.4))
        painter.drawPolyline(QPolygonF([self._at(*point) for point in zip(*self._points, strict=True)]))
        painter.setFont(theme.font(0.85))
        painter.setPen(theme.colour("muted"))
        top = QRectF(area.x(), 0, area.width(), area.y())
        painter.drawText(top, Qt.AlignmentFlag.AlignVCenter | Qt.AlignmentFlag.AlignLeft, f"Game: {self._full}")
        foot = QRectF(area.x(), area.bottom(), area.width(), self.height() - area.bottom())
        painter.drawText(foot, Qt.AlignmentFlag.AlignCenter, "Stick: from the middle to the rim")
        if self._named:
            painter.setFont(theme.font(1.0, bold=True))
            painter.setPen(theme.colour("ink"))
            text = f"{_NAMES[self._named]}: {getattr(self._shown, self._named):g}"
            painter.drawText(top, Qt.AlignmentFlag.AlignVCenter | Qt.AlignmentFlag.AlignRight, text)

"""Response of a stick as a curve, with draggable power, start and points."""

from __future__ import annotations

from math import log

from msgspec.structs import replace
from PyQt6.QtCore import QPointF, QRectF, QSize, Qt, pyqtSignal
from PyQt6.QtGui import QMouseEvent, QPainter, QPaintEvent, QPen, QPolygonF, QResizeEvent
from PyQt6.QtWidgets import QSizePolicy, QWidget

from nub_shift.analysis.shaping import response
from nub_shift.editing.edits.curve_points import add_point, move_point, remove_point
from nub_shift.model.profile.feel import MOST_POINTS, StickFeel
from nub_shift.translation import number_text, tr
from nub_shift.ui.feel.pictures.knob import Knob, knobs_for
from nub_shift.ui.look.theme import Theme
from nub_shift.ui.widgets.still import CachedPart

_STEPS = 121
POWER, START, POINTS = "power", "anti_dead_zone", "points"
_NAMES = {POWER: tr("Curve power"), START: tr("Anti-dead zone")}
_LIMITS = {POWER: (0.2, 5.0), START: (0.0, 0.5)}
_STEP = {POWER: 0.05, START: 0.01}
_POINT_STEP = 0.01


class Curve(QWidget):
    """Horizontally the deflection of the stick, vertically the output; a dot marks the present deflection.

    Attributes:
        knobs: by label; those of points by "Point 1" and so on.
        usual: usual deflection of the stick; 0 if unknown.

    Signals:
        previewed(StickFeel): feel during a drag.
        chosen(str, object): a new number of the feel, or all its points.
    """

    previewed = pyqtSignal(object)
    chosen = pyqtSignal(str, object)

    def __init__(self, theme: Theme, parent: QWidget | None = None) -> None:
        super().__init__(parent)
        self.theme = theme
        self.usual = 0.0
        self.knobs: dict[str, Knob] = {}
        self._feel = StickFeel()
        self._below: StickFeel | None = None
        self._starts = True  # whether the start can be set
        self._dragged: tuple[str, StickFeel] | None = None
        self._full = ""  # output at the rim, in words
        self._most = 0.0  # output at the rim in counts a second; 0 for a part of deflection
        self._pushed = 0.0
        self._line: tuple[list[float], list[float]] = ([], [])
        self._still = CachedPart(self, self._draw_still)
        self.setSizePolicy(QSizePolicy.Policy.Expanding, QSizePolicy.Policy.Expanding)
        self.setAccessibleName(tr("Response curve"))

    def show_feel(
        self, feel: StickFeel, full: str, most: float = 0.0, starts: bool = True, below: StickFeel | None = None
    ) -> None:
        """Shows a feel.

        Args:
            below: feel without the shown layer, drawn faintly.
            full: output at the rim, such as "1500 counts a second".
            most: output at the rim in counts a second, if it is a speed.
            starts: whether the start can be set.
        """
        self._feel, self._full, self._most, self._starts, self._dragged = feel, full, most, starts, None
        self._below = below
        steps = dict(_STEP) if not feel.points else {START: _STEP[START]}  # a curve through points has no power
        steps |= {_point_name(index): _POINT_STEP for index in range(len(feel.points))}
        self.knobs = knobs_for(
            steps,
            self.knobs,
            self,
            self.theme,
            dragged=self._on_dragged,
            drag_ended=self._on_let_go,
            stepped=self._on_stepped,
            stepped_across=self._on_stepped_across,
            removed=self._on_removed,
        )
        if POWER in self.knobs:
            self.knobs[POWER].up = -1
        self._lay_out()

    def follow(self, pushed: float) -> None:
        """Marks the present deflection of the stick."""
        if abs(pushed - self._pushed) > 0.002:
            both = [self._at(min(part, 1.0), 0.0).x() for part in (self._pushed, pushed)]
            self._pushed = pushed
            edge = self.theme.px(86)  # with its number beside it
            strip = QRectF(min(both) - edge, 0, max(both) - min(both) + 2 * edge, self.height())
            self.update(strip.toAlignedRect())

    @property
    def is_dragged(self) -> bool:
        """Whether a drag is in progress."""
        return self._dragged is not None

    def add_point(self, x: float | None = None) -> None:
        """Adds a point on the present curve."""
        made = add_point(self._feel.points, self._bent, x)
        if made != self._feel.points:
            self.chosen.emit(POINTS, made)

    def sizeHint(self) -> QSize:
        return QSize(self.theme.px(300), self.theme.px(120))  # grows with the available room

    def minimumSizeHint(self) -> QSize:
        return QSize(self.theme.px(200), self.theme.px(120))

    def resizeEvent(self, event: QResizeEvent | None) -> None:
        super().resizeEvent(event)
        self._lay_out()

    def mouseDoubleClickEvent(self, event: QMouseEvent | None) -> None:
        if event is not None:
            self.add_point(self._within(event.position().x()))

    @property
    def _shown(self) -> StickFeel:
        return self._dragged[1] if self._dragged is not None else self._feel

    @property
    def _area(self) -> QRectF:
        px = self.theme.px
        return QRectF(self.rect()).adjusted(px(12), px(22), -px(12), -px(20))

    def _pushed_at(self, within: float) -> float:
        """Returns the deflection that uses a given part of the shaped range."""
        feel = self._shown
        return feel.dead_zone + within * (1.0 - feel.edge_zone - feel.dead_zone)

    def _within(self, x: float) -> float:
        """Returns the part of the shaped range at a horizontal position."""
        feel, area = self._shown, self._area
        pushed = (x - area.x()) / area.width()
        return (pushed - feel.dead_zone) / max(1.0 - feel.edge_zone - feel.dead_zone, 0.01)

    def _out(self, bent: float) -> float:
        """Returns the output for a value of the curve."""
        feel = self._shown
        return feel.anti_dead_zone + (1.0 - feel.anti_dead_zone) * bent

    def _bent(self, within: float) -> float:
        """Returns the value of the curve alone, without the zones before and after it."""
        bare = StickFeel(dead_zone=0.0, edge_zone=0.0, power=self._feel.power, points=self._feel.points)
        return float(response(bare, 201)[1][round(within * 200)])

    def _lay_out(self) -> None:
        feel = self._shown
        pushed, out = response(feel, _STEPS)
        self._line = (pushed.tolist(), out.tolist())
        for name, knob in self.knobs.items():
            if name in _NAMES:
                knob.setVisible(name != START or self._starts)
                knob.show_number(_NAMES[name], "", getattr(feel, name), *_LIMITS[name])
                x, y = (0.5, 0.5**feel.power) if name == POWER else (0.0, 0.0)
            else:
                x, y = feel.points[_index(name)]
                knob.show_number(tr("{name}, at {x:g}", name=name, x=x), "", y, 0.0, 1.0)
            knob.lie_at(self._at(self._pushed_at(x), self._out(y)))
        self.update()

    def _at(self, pushed: float, out: float) -> QPointF:
        area = self._area
        return QPointF(area.x() + pushed * area.width(), area.bottom() - out * area.height())

    def _on_dragged(self, name: str, place: QPointF) -> None:
        area, feel = self._area, self._feel
        out = (area.bottom() - place.y()) / area.height()
        bent = (out - feel.anti_dead_zone) / (1.0 - feel.anti_dead_zone)
        if name in _NAMES:
            value = out if name == START else log(min(max(bent, 0.01), 0.99)) / log(0.5)
            low, high = _LIMITS[name]
            made = replace(feel, **{name: round(min(max(value, low), high), 3)})
        else:
            points = move_point(feel.points, _index(name), self._within(place.x()), bent)
            made = replace(feel, points=points)
        self._dragged = name, made
        self._lay_out()
        self.previewed.emit(made)

    def _on_let_go(self) -> None:
        if self._dragged is not None:
            (name, made), self._dragged = self._dragged, None
            setting = name if name in _NAMES else POINTS
            self.chosen.emit(setting, getattr(made, setting))

    def _on_stepped(self, name: str, steps: int) -> None:
        if name in _NAMES:
            self.chosen.emit(name, round(steps * _STEP[name], 3))
        else:
            self._move_point(name, 0.0, steps * _POINT_STEP - self._feel.points[_index(name)][1])

    def _on_stepped_across(self, name: str, steps: int) -> None:
        if name in _NAMES:
            self._on_stepped(name, self.knobs[name].value() + steps)
        else:
            self._move_point(name, steps * _POINT_STEP, 0.0)

    def _move_point(self, name: str, across: float, up: float) -> None:
        index = _index(name)
        x, y = self._feel.points[index]
        self.chosen.emit(POINTS, move_point(self._feel.points, index, x + across, y + up))

    def _on_removed(self, name: str) -> None:
        if name not in _NAMES:
            self.chosen.emit(POINTS, remove_point(self._feel.points, _index(name)))

    def paintEvent(self, _event: QPaintEvent | None) -> None:
        painter = QPainter(self)
        painter.setRenderHint(QPainter.RenderHint.Antialiasing)
        self._still.paint(painter, (self._shown, self._below, self.theme.look, self._full, self._named, self.usual))
        pushed, out = self._line
        if pushed:
            theme = self.theme
            comes = out[min(round(self._pushed * (_STEPS - 1)), _STEPS - 1)]
            spot = self._at(min(self._pushed, 1.0), comes)
            painter.setPen(QPen(theme.colour("pad"), 1.4))
            painter.drawLine(QPointF(spot.x(), self._area.bottom()), spot)
            painter.setBrush(theme.colour("pad"))
            painter.drawEllipse(spot, theme.px(4), theme.px(4))
            if comes > 0.0:
                painter.setFont(theme.font(0.8))
                text = tr("{comes:.0f} a second", comes=comes * self._most) if self._most else number_text(comes, ".2f")
                wide = painter.fontMetrics().horizontalAdvance(text) + theme.px(4)
                left = spot.x() - wide if spot.x() - wide > self._area.x() else spot.x() + theme.px(4)
                beside = QRectF(left, spot.y() - theme.px(22), wide, theme.px(18))
                painter.drawText(beside, Qt.AlignmentFlag.AlignLeft | Qt.AlignmentFlag.AlignVCenter, text)

    @property
    def _named(self) -> str:
        """The point that is dragged, has the focus, or lies under the mouse."""
        if self._dragged is not None:
            return self._dragged[0]
        return next((name for name, knob in self.knobs.items() if knob.hasFocus() or knob.underMouse()), "")

    def _draw_still(self, painter: QPainter) -> None:
        """Draws the curve and its labels."""
        theme, area = self.theme, self._area
        painter.setPen(QPen(theme.colour("line"), 1))
        painter.setBrush(theme.colour("raised"))
        painter.drawRect(area)
        painter.setPen(QPen(theme.colour("grid"), 1))
        painter.drawLine(area.bottomLeft(), area.topRight())
        if self._below is not None:
            painter.setPen(QPen(theme.colour("muted"), 1))
            pushed, out = response(self._below, _STEPS)
            line = [self._at(x, y) for x, y in zip(pushed.tolist(), out.tolist(), strict=True)]
            painter.drawPolyline(QPolygonF(line))
        painter.setPen(QPen(theme.colour("game"), 2.4))
        left, width, bottom, height = area.x(), area.width(), area.bottom(), area.height()
        line = [QPointF(left + x * width, bottom - y * height) for x, y in zip(*self._line, strict=True)]
        painter.drawPolyline(QPolygonF(line))
        painter.setFont(theme.font(0.85))
        painter.setPen(theme.colour("muted"))
        top = QRectF(area.x(), 0, area.width(), area.y())
        painter.drawText(
            top, Qt.AlignmentFlag.AlignVCenter | Qt.AlignmentFlag.AlignLeft, tr("Game: {full}", full=self._full)
        )
        foot = QRectF(area.x(), area.bottom(), area.width(), self.height() - area.bottom())
        painter.drawText(foot, Qt.AlignmentFlag.AlignCenter, self._foot())
        if self.usual:
            tick = self._at(self.usual, 0.0)
            painter.setPen(QPen(theme.colour("pad"), 2))
            painter.drawLine(tick, tick - QPointF(0, theme.px(8)))
        if self._named:
            painter.setFont(theme.font(1.0, bold=True))
            painter.setPen(theme.colour("ink"))
            painter.drawText(
                top, Qt.AlignmentFlag.AlignVCenter | Qt.AlignmentFlag.AlignRight, self._number(self._named)
            )

    def _number(self, name: str) -> str:
        if name in _NAMES:
            return f"{_NAMES[name]}: {number_text(getattr(self._shown, name))}"
        x, y = self._shown.points[_index(name)]
        return tr("{name}: {x:g} becomes {y:g}", name=name, x=x, y=y)

    def _foot(self) -> str:
        """Labels of the axes, and the slope of the curve where the hand usually is."""
        if not self.usual:
            return tr("Stick: from the middle to the rim")
        _, out = self._line
        at = min(max(round(self.usual * (_STEPS - 1)), 1), _STEPS - 2)
        slope = (out[at + 1] - out[at - 1]) * (_STEPS - 1) / 2
        return tr(
            "Stick: usually at {usual:.2f}, where 1 % more push gives {slope:.1f} % more", usual=self.usual, slope=slope
        )


def _point_name(index: int) -> str:
    return tr("Point {number}", number=index + 1)


_POINT_NAMES = [_point_name(index) for index in range(MOST_POINTS)]


def _index(name: str) -> int:
    return _POINT_NAMES.index(name)

"""A stick's circle, large: its zones and wedges, each line to be dragged, and the stick as it goes through them."""

from __future__ import annotations

from collections import deque

from msgspec.structs import replace
from PyQt6.QtCore import QPointF, QRect, QRectF, QSize, Qt, pyqtSignal
from PyQt6.QtGui import QFontMetricsF, QPainter, QPaintEvent, QPen, QPolygonF, QResizeEvent
from PyQt6.QtWidgets import QSizePolicy, QWidget

from nub_shift.analysis.shaping import shaped_at
from nub_shift.editing.handles import Handle, Lies, on_ray
from nub_shift.model.controls import CONTROL_BY_NAME
from nub_shift.model.feel import DeadZoneShape, StickFeel
from nub_shift.ui.feel.knob import Knob, knobs_for
from nub_shift.ui.look.theme import Theme
from nub_shift.ui.widgets.level import Level
from nub_shift.ui.widgets.still import StillPart

_TRAIL = 90  # positions, which are three seconds of a moving stick
_FADES = 15  # so many of them are as faint as one another
_MARGIN = 26


class Lens(QWidget):
    """The picture of one stick or surface.

    Attributes:
        knobs: by the label of what they set.

    Signals:
        previewed(Handle, float): a line is being dragged, and would be there.
        chosen(Handle, float): a number is to be another.
    """

    previewed = pyqtSignal(object, float)
    chosen = pyqtSignal(object, float)

    def __init__(self, theme: Theme, parent: QWidget | None = None) -> None:
        super().__init__(parent)
        self.theme = theme
        self.knobs: dict[str, Knob] = {}
        self._handles: dict[str, Handle] = {}
        self._feel = StickFeel()
        self._dragged: tuple[Handle, float] | None = None
        self._raw = (0.0, 0.0)
        self._trail: deque[tuple[float, float]] = deque(maxlen=_TRAIL)
        self._still = StillPart(self, self._draw_still)
        self._stick_rect = QRect()
        self._levels = [Level(name, self) for name in ("Stick across", "Stick down", "Game across", "Game down")]
        self.setSizePolicy(QSizePolicy.Policy.Expanding, QSizePolicy.Policy.Expanding)

    def show_feel(self, control: str, feel: StickFeel, handles: list[Handle]) -> None:
        """Shows a feel, and what of it can be dragged."""
        self._feel = feel
        self.setAccessibleName(f"{CONTROL_BY_NAME[control].label}: its zones")
        self.knobs = knobs_for(
            {handle.label: handle.step for handle in handles},
            self.knobs,
            self,
            self.theme,
            dragged=self._on_dragged,
            let_go=self._on_let_go,
            stepped=self._on_stepped,
        )
        self._handles = {handle.label: handle for handle in handles}
        self._dragged = None
        self._lay_out()

    def follow(self, x: float, y: float) -> None:
        """The stick is there."""
        if (x, y) != self._raw:
            self._raw = (x, y)
            self._trail.append((x, y))
            shaped = shaped_at(self._feel, x, y)
            for level, value in zip(self._levels, (x, y, *shaped), strict=True):
                level.show_level(value)
            self._update_stick(self._at(*shaped))

    def _update_stick(self, out: QPointF) -> None:
        """Only where it, its trail and what comes of it were, and are now."""
        places = QPolygonF([out, *self._trail_points()])
        edge = self.theme.px(11)
        rect = places.boundingRect().adjusted(-edge, -edge, edge, edge).toAlignedRect()
        self.update(rect.united(self._stick_rect))
        self._stick_rect = rect

    def forget(self) -> None:
        """Another stick: its trail begins anew."""
        self._trail.clear()

    def sizeHint(self) -> QSize:
        return QSize(self.theme.px(420), self.theme.px(400))

    def minimumSizeHint(self) -> QSize:
        return QSize(self.theme.px(240), self.theme.px(240))

    def resizeEvent(self, event: QResizeEvent | None) -> None:
        super().resizeEvent(event)
        self._lay_out()

    @property
    def _shown(self) -> StickFeel:
        """The feel with what is being dragged."""
        if self._dragged is None:
            return self._feel
        handle, value = self._dragged
        first, *rest = handle.path
        inner = replace(getattr(self._feel, first), **{rest[0]: value}) if rest else value
        return replace(self._feel, **{first: inner})

    def _on_dragged(self, label: str, place: QPointF) -> None:
        handle = self._handles[label]
        point = (place - self._centre) / self._reach
        self._dragged = handle, handle.at(self._feel, point.x(), point.y())
        self._lay_out()
        self.previewed.emit(*self._dragged)

    def _on_let_go(self) -> None:
        if self._dragged is not None:
            dragged, self._dragged = self._dragged, None
            self.chosen.emit(*dragged)

    def _on_stepped(self, label: str, steps: int) -> None:
        handle = self._handles[label]
        self.chosen.emit(handle, handle.held(steps * handle.step))

    @property
    def _centre(self) -> QPointF:
        return QRectF(self.rect()).center()

    @property
    def _reach(self) -> float:
        return min(self.width(), self.height()) / 2 - self.theme.px(_MARGIN)

    def _lay_out(self) -> None:
        feel = self._shown
        for label, knob in self.knobs.items():
            handle = self._handles.get(label)
            if handle is None:
                continue
            knob.show_number(label, handle.unit, handle.value(feel), handle.low, handle.high)
            knob.lie_at(self._at(*handle.place(feel)))
        self.update()

    def _at(self, x: float, y: float) -> QPointF:
        return self._centre + QPointF(x, y) * self._reach

    def paintEvent(self, _event: QPaintEvent | None) -> None:
        painter = QPainter(self)
        painter.setRenderHint(QPainter.RenderHint.Antialiasing)
        focused = next((label for label, knob in self.knobs.items() if knob.hasFocus()), "")
        self._still.paint(painter, (self._shown, self.theme.look, list(self._handles), focused))
        self._paint_stick(painter)

    def _draw_still(self, painter: QPainter) -> None:
        """Rim, zones, lines and numbers."""
        theme, feel, reach = self.theme, self._shown, self._reach
        painter.setPen(QPen(theme.colour("pad"), 2))
        painter.setBrush(theme.colour("raised"))
        painter.drawEllipse(self._centre, reach, reach)
        middle = self._at(feel.rest_x, feel.rest_y)
        painter.setPen(Qt.PenStyle.NoPen)
        painter.setBrush(theme.colour("grid"))
        if feel.dead_zone_shape is not DeadZoneShape.RADIAL:
            band = feel.axial_dead_zone * reach
            painter.drawRect(QRectF(middle.x() - band, self._centre.y() - reach, 2 * band, 2 * reach))
            painter.drawRect(QRectF(self._centre.x() - reach, middle.y() - band, 2 * reach, 2 * band))
        if feel.dead_zone_shape is not DeadZoneShape.AXIAL:
            painter.drawEllipse(middle, feel.dead_zone * reach, feel.dead_zone * reach)
        self._paint_lines(painter, middle)
        self._paint_numbers(painter)

    def _paint_lines(self, painter: QPainter, middle: QPointF) -> None:
        theme, feel, reach = self.theme, self._shown, self._reach
        painter.setBrush(Qt.BrushStyle.NoBrush)
        for handle in self._handles.values():
            value = handle.value(feel)
            match handle.lies:
                case Lies.RADIUS:
                    painter.setPen(QPen(theme.colour("ink"), 1.2, Qt.PenStyle.DashLine))
                    painter.drawEllipse(middle, value * reach, value * reach)
                case Lies.RIM:
                    painter.setPen(QPen(theme.colour("game"), 1.6))
                    painter.drawEllipse(middle, (1 - value) * reach, (1 - value) * reach)
                case Lies.BAND:
                    pass  # it is filled
                case Lies.WEDGE:
                    self._paint_wedges(painter, value)

    def _paint_wedges(self, painter: QPainter, width: float) -> None:
        """The borders between directions, from where these begin to the rim."""
        feel = self._shown
        painter.setPen(QPen(self.theme.colour("ink"), 1.2, Qt.PenStyle.DotLine))
        for quarter in range(4):
            for side in (-1, 1):
                ray = 45.0 + 90.0 * quarter + side * width / 2
                inner, rim = (self._at(*on_ray(feel, ray, radius)) for radius in (feel.directions.on, 1.0))
                painter.drawLine(inner, rim)

    def _trail_points(self) -> list[QPointF]:
        centre, reach = self._centre, self._reach
        return [QPointF(centre.x() + x * reach, centre.y() + y * reach) for x, y in self._trail]

    def _paint_stick(self, painter: QPainter) -> None:
        """The trail that fades, the stick as it is, and what the game gets of it."""
        theme = self.theme
        points = self._trail_points()
        for first in range(0, len(points) - 1, _FADES):
            painter.setPen(QPen(theme.colour("pad", 30 + 150 * first // _TRAIL), 1.6))
            painter.drawPolyline(QPolygonF(points[first : first + _FADES + 1]))
        x, y = self._raw
        painter.setPen(QPen(theme.colour("pad"), 2))
        painter.setBrush(theme.colour("pad"))
        painter.drawEllipse(self._at(x, y), theme.px(5), theme.px(5))
        painter.setPen(QPen(theme.colour("game"), 2.2))
        painter.setBrush(Qt.BrushStyle.NoBrush)
        painter.drawEllipse(self._at(*shaped_at(self._shown, x, y)), theme.px(8), theme.px(8))

    def _paint_numbers(self, painter: QPainter) -> None:
        """Beside each knob what it sets, and to how much; strong while it is dragged, or has the focus."""
        theme, feel = self.theme, self._shown
        dragged = self._dragged[0].label if self._dragged is not None else ""
        for label, handle in self._handles.items():
            knob = self.knobs[label]
            strong = label == dragged or (not dragged and knob.hasFocus())
            painter.setFont(theme.font(0.85, bold=strong))
            painter.setPen(theme.colour("ink" if strong else "muted"))
            text = f"{label} {handle.value(feel):g}{handle.unit}"
            width = QFontMetricsF(painter.font()).horizontalAdvance(text)
            row = QRectF(knob.geometry().right() + theme.px(3), knob.y(), width + 2, knob.height())
            if row.right() > self.width():
                row.moveRight(knob.x() - theme.px(3))
            painter.fillRect(row, theme.colour("raised", 210))
            painter.drawText(row, Qt.AlignmentFlag.AlignVCenter, text)

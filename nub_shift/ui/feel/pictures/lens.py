"""Large circle of a stick: zones and wedges as draggable lines, and the live position."""

from __future__ import annotations

from collections.abc import Sequence
from math import cos, pi, radians, sin

from msgspec.structs import replace
from PyQt6.QtCore import QPoint, QPointF, QRect, QRectF, QSize, Qt, QTimer
from PyQt6.QtGui import QImage, QPainter, QPaintEvent, QPen, QPixmap, QPolygonF, QResizeEvent
from PyQt6.QtWidgets import QWidget

from nub_shift.analysis.shaping import corrected, shaped_at
from nub_shift.editing.feel.handles import Handle, HandleShape, on_ray, place_of
from nub_shift.model.controls import CONTROL_BY_NAME
from nub_shift.model.pad.measures import RIM_ANGLES, StickRest, StickRim
from nub_shift.model.pad.trim import StickTrim, stick_feel_on
from nub_shift.model.profile.feel import DeadZoneShape, StickFeel
from nub_shift.translation import number_text, tr
from nub_shift.ui.feel.pictures.knob import paint_number
from nub_shift.ui.feel.pictures.picture import KnobPicture
from nub_shift.ui.feel.pictures.trail import Trail
from nub_shift.ui.look.drawing import sheet_brush
from nub_shift.ui.look.theme import Theme
from nub_shift.ui.widgets.level import Level
from nub_shift.ui.widgets.still import CachedPart

_FADE_MS = 150
_FADINGS = 20  # number of fadings after which a trail is invisible
_MARGIN = 26
_RAYS = range(0, 360, 5)
_ROUND = [(sin(radians(ray)), -cos(radians(ray))) for ray in _RAYS]


class Lens(KnobPicture[Handle]):
    """The picture of one stick or surface."""

    def __init__(self, theme: Theme, parent: QWidget | None = None) -> None:
        super().__init__(theme, parent)
        self._feel = StickFeel()
        self._below: StickFeel | None = None
        self._raw = (0.0, 0.0)
        self._rest: StickRest | None = None
        self._rim: StickRim | None = None
        self._trim = StickTrim()
        self._density = QImage()
        self._spread = QPixmap()  # in the size of the circle
        self._out = (0.0, 0.0)
        self._centre, self._reach = QPointF(), 1.0  # of the circle
        self._trail = Trail(self)
        self._fades = QTimer(self)
        self._fades.setInterval(_FADE_MS)
        self._fades.timeout.connect(self._on_fade)
        self._fadings = 0  # since the last movement
        self._still = CachedPart(self, self._draw_still)
        self._levels = [
            Level(name, self)
            for name in (tr("Stick horizontal"), tr("Stick vertical"), tr("Game horizontal"), tr("Game vertical"))
        ]
        self.setAttribute(Qt.WidgetAttribute.WA_OpaquePaintEvent)

    def show_feel(self, control: str, feel: StickFeel, handles: list[Handle], below: StickFeel | None = None) -> None:
        """Shows a feel, its handles, and faintly the feel without this layer."""
        self._feel, self._below = feel, below
        self.setAccessibleName(tr("{label}: zones", label=CONTROL_BY_NAME[control].label))
        self.show_numbers(handles)

    def show_known(self, rest: StickRest | None, rim: StickRim | None, trim: StickTrim) -> None:
        """Shows the measured rest and rim of the stick, corrected by `trim`."""
        self._rest, self._rim, self._trim = rest, rim, trim
        self.update()

    def show_density(self, side: int, pixels: bytes) -> None:
        """Shows where the stick was, as a premultiplied picture of 32 bits, `side` pixels a side, from the top."""
        # copies the pixels
        self._density = QImage(pixels, side, side, QImage.Format.Format_ARGB32_Premultiplied).copy()
        self._spread = QPixmap()
        self.update()

    def follow(self, path: Sequence[tuple[float, float]]) -> None:
        """Draws the path of the stick to its present position."""
        if not path or (len(path) == 1 and path[0] == self._raw):
            return
        before = self._spots()
        x, y = self._raw = path[-1]
        self._out = shaped_at(stick_feel_on(self._trim, self._shown), x, y)
        way = self._trail.follow([self._at(*place) for place in path], QPen(self.theme.colour("pad", 170), 1.6))
        edge = self.theme.px(11)
        self.update(before.united(self._spots()).united(way.adjusted(-edge, -edge, edge, edge).toAlignedRect()))
        self._fadings = 0
        if not self._fades.isActive():
            self._fades.start()

    def notify(self) -> None:
        """Describes position and output for assistive tools."""
        for level, value in zip(self._levels, (*self._raw, *self._out), strict=True):
            level.show_level(value)

    def _spots(self) -> QRect:
        """Returns the area of the stick and of its output."""
        edge = self.theme.px(11)
        raw, out = self._at(*self._raw), self._at(*self._out)
        left, top = min(raw.x(), out.x()) - edge, min(raw.y(), out.y()) - edge
        right, bottom = max(raw.x(), out.x()) + edge, max(raw.y(), out.y()) + edge
        return QRect(int(left), int(top), int(right - left) + 2, int(bottom - top) + 2)

    def _on_fade(self) -> None:
        self._fadings += 1
        if self._trail.fade():
            self.update()
        if self._fadings > _FADINGS:
            self._fades.stop()
            self._trail.forget()
            self.update()

    def forget(self) -> None:
        """Forgets the trail, for another stick."""
        self._trail.forget()
        self._density = QImage()

    def sizeHint(self) -> QSize:
        return QSize(self.theme.px(420), self.theme.px(360))

    def minimumSizeHint(self) -> QSize:
        return QSize(self.theme.px(240), self.theme.px(240))

    def resizeEvent(self, event: QResizeEvent | None) -> None:
        self._trail.forget()
        self._centre = QRectF(self.rect()).center()
        self._reach = min(self.width(), self.height()) / 2 - self.theme.px(_MARGIN)
        super().resizeEvent(event)

    @property
    def _shown(self) -> StickFeel:
        """The feel including a dragged value."""
        if self.dragged is None:
            return self._feel
        handle, value = self.dragged
        first, *rest = handle.path
        inner = replace(getattr(self._feel, first), **{rest[0]: value}) if rest else value
        return replace(self._feel, **{first: inner})

    def value_at(self, number: Handle, place: QPointF) -> float:
        point = (place - self._centre) / self._reach
        return number.at(self._feel, point.x(), point.y())

    def lay_out(self) -> None:
        feel = self._shown
        self._out = shaped_at(stick_feel_on(self._trim, feel), *self._raw)
        for label, knob in self.knobs.items():
            handle = self.numbers[label]
            knob.show_number(label, handle.unit, handle.value(feel), handle.low, handle.high)
            knob.lie_at(self._at(*handle.place(feel)))
        self.update()

    def _at(self, x: float, y: float) -> QPointF:
        centre, reach = self._centre, self._reach
        return QPointF(centre.x() + x * reach, centre.y() + y * reach)

    def paintEvent(self, _event: QPaintEvent | None) -> None:
        painter = QPainter(self)
        painter.setRenderHint(QPainter.RenderHint.Antialiasing)
        place = self.mapTo(self.window(), QPoint())
        known = (place.x(), place.y(), self._below, self._rest, self._rim, self._trim, self._density.cacheKey())
        self._still.paint(painter, (self._shown, self.theme.look, list(self.numbers), self.focused_label, known))
        self._paint_stick(painter)

    def _draw_still(self, painter: QPainter) -> None:
        """Draws rim, known facts of the pad, zones, lines and numbers."""
        theme, reach = self.theme, self._reach
        painter.setBrushOrigin(-self.mapTo(self.window(), QPoint()))
        painter.fillRect(self.rect(), sheet_brush(theme))  # opaque, so that the window does not paint behind
        painter.setPen(QPen(theme.colour("pad"), 2))
        painter.setBrush(theme.colour("raised"))
        painter.drawEllipse(self._centre, reach, reach)
        self._paint_zones(painter)
        self._paint_known(painter)
        self._paint_below(painter)
        self._paint_lines(painter)
        self._paint_numbers(painter)

    def _ring(self, radius: float, feel: StickFeel | None = None) -> QPolygonF:
        """Returns all positions with this oriented radius: a circle, unless the feel rotates, moves or squares it."""
        shown, centre, reach = feel or self._shown, self._centre, self._reach
        if shown.rotation_degrees or shown.square_off:
            places = [on_ray(shown, ray, radius) for ray in _RAYS]
        else:
            places = [(radius * x, radius * y) for x, y in _ROUND]
        return QPolygonF([QPointF(centre.x() + x * reach, centre.y() + y * reach) for x, y in places])

    def _paint_below(self, painter: QPainter) -> None:
        """Draws the values without this layer's changes."""
        below, feel = self._below, self._shown
        if below is None:
            return
        painter.setBrush(Qt.BrushStyle.NoBrush)
        painter.setPen(QPen(self.theme.colour("muted", 150), 3))
        for handle in self.numbers.values():
            value = handle.value(below)
            if value == handle.value(feel):
                continue
            if handle.shape is HandleShape.RADIUS:
                painter.drawPolygon(self._ring(value, below))
            elif handle.shape is HandleShape.RIM:
                painter.drawPolygon(self._ring(1.0 - value, below))
            else:
                painter.drawEllipse(self._at(*handle.place(below)), self.theme.px(4), self.theme.px(4))

    def _band(self, half: float, along_x: bool) -> QPolygonF:
        """Returns all positions within a band along an axis."""
        corners = ((-1.0, -half), (1.0, -half), (1.0, half), (-1.0, half))
        places = [(x, y) if along_x else (y, x) for x, y in corners]
        return QPolygonF([self._at(*place_of(self._shown, *place)) for place in places])

    def _paint_zones(self, painter: QPainter) -> None:
        """Paints the area without output."""
        feel = self._shown
        painter.setPen(Qt.PenStyle.NoPen)
        painter.setBrush(self.theme.colour("grid"))
        if feel.dead_zone_shape is not DeadZoneShape.RADIAL:
            for along_x in (False, True):
                painter.drawPolygon(self._band(feel.axial_dead_zone, along_x))
        if feel.dead_zone_shape is not DeadZoneShape.AXIAL:
            painter.drawPolygon(self._ring(feel.dead_zone))

    def _paint_known(self, painter: QPainter) -> None:
        """Draws the positions of the stick in the last minutes, and its measured rest and range."""
        theme, reach = self.theme, self._reach
        if not self._density.isNull():
            painter.setRenderHint(QPainter.RenderHint.SmoothPixmapTransform)
            painter.drawImage(
                QRectF(self._centre.x() - reach, self._centre.y() - reach, 2 * reach, 2 * reach), self._density
            )
        painter.setBrush(Qt.BrushStyle.NoBrush)
        painter.setPen(QPen(theme.colour("pad", 150), 1.4, Qt.PenStyle.DotLine))
        if self._rest is not None:
            strays = (self._rest.spread + self._rest.drift) * reach
            painter.drawEllipse(self._at(*corrected(self._trim, self._rest.x, self._rest.y)), strays, strays)
        if self._trim.dead_zone:  # the least dead zone for this pad, in any profile
            painter.drawEllipse(self._centre, self._trim.dead_zone * reach, self._trim.dead_zone * reach)
        if self._rim is not None:
            rays = enumerate(self._rim.reach)
            angles = ((2 * pi * number / RIM_ANGLES, far) for number, far in rays)
            places = [corrected(self._trim, far * sin(angle), -far * cos(angle)) for angle, far in angles]
            painter.drawPolygon(QPolygonF([self._at(*place) for place in places]))

    def _paint_lines(self, painter: QPainter) -> None:
        theme, feel = self.theme, self._shown
        painter.setBrush(Qt.BrushStyle.NoBrush)
        if feel.anti_dead_zone:  # no output is nearer to the middle
            painter.setPen(QPen(theme.colour("game"), 1.2, Qt.PenStyle.DotLine))
            start = feel.anti_dead_zone * self._reach
            painter.drawEllipse(self._centre, start, start)
        for handle in self.numbers.values():
            value = handle.value(feel)
            match handle.shape:
                case HandleShape.RADIUS:
                    painter.setPen(QPen(theme.colour("ink"), 1.2, Qt.PenStyle.DashLine))
                    painter.drawPolygon(self._ring(value))
                case HandleShape.RIM:
                    painter.setPen(QPen(theme.colour("game"), 1.6))
                    painter.drawPolygon(self._ring(1.0 - value))
                case HandleShape.WEDGE:
                    self._paint_wedges(painter, value)
                case HandleShape.TURN:
                    if value or handle.label == self.focused_label:
                        painter.setPen(QPen(theme.colour("line"), 1))
                        painter.drawLine(self._at(*handle.place(feel)), self._centre)
                case HandleShape.BAND | HandleShape.HOLD | HandleShape.CORNER:
                    pass  # filled, or visible by its effect on other lines

    def _paint_wedges(self, painter: QPainter, width: float) -> None:
        """Paints the borders between directions, from their begin to the rim, with hysteresis."""
        feel = self._shown
        hold = feel.directions.hysteresis_degrees
        for quarter in range(4):
            for side in (-1, 1):
                ray = 45.0 + 90.0 * quarter + side * width / 2
                painter.setPen(Qt.PenStyle.NoPen)
                painter.setBrush(self.theme.colour("ink", 18))
                held = [
                    (ray - hold, 1.0),
                    (ray + hold, 1.0),
                    (ray + hold, feel.directions.on),
                    (ray - hold, feel.directions.on),
                ]
                painter.drawPolygon(QPolygonF([self._at(*on_ray(feel, *place)) for place in held]))
                painter.setPen(QPen(self.theme.colour("ink"), 1.2, Qt.PenStyle.DotLine))
                inner, rim = (self._at(*on_ray(feel, ray, radius)) for radius in (feel.directions.on, 1.0))
                painter.drawLine(inner, rim)

    def _paint_stick(self, painter: QPainter) -> None:
        """Paints the fading trail, the present stick, and its output."""
        theme = self.theme
        self._trail.paint(painter)
        x, y = self._raw
        painter.setPen(QPen(theme.colour("pad"), 2))
        painter.setBrush(theme.colour("pad"))
        painter.drawEllipse(self._at(x, y), theme.px(5), theme.px(5))
        painter.setPen(QPen(theme.colour("game"), 2.2))
        painter.setBrush(Qt.BrushStyle.NoBrush)
        painter.drawEllipse(self._at(*self._out), theme.px(8), theme.px(8))

    def _paint_numbers(self, painter: QPainter) -> None:
        """Paints name and value beside each knob; rarely set ones only under the mouse or with the focus."""
        feel, focused_label = self._shown, self.focused_label
        for label, handle in self.numbers.items():
            strong = label == focused_label
            if strong or not handle.rarely_set:
                text = f"{label} {number_text(handle.value(feel))}{handle.unit}"
                paint_number(painter, self.knobs[label], self, text, strong)

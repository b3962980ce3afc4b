"""Pictures of motion: the rate of turning over time, the pad's attitude, and the ratio by rate."""

from __future__ import annotations

from abc import abstractmethod
from collections import deque
from collections.abc import Collection, Mapping
from math import sqrt
from types import MappingProxyType

from PyQt6.QtCore import QPointF, QRectF, QSize, Qt
from PyQt6.QtGui import QPainter, QPaintEvent, QPen, QPolygonF
from PyQt6.QtWidgets import QWidget

from nub_shift.editing.feel.motion_numbers import (
    FAST_FROM,
    FAST_TURNS,
    SLOW_TURNS,
    SLOW_UP_TO,
    SMOOTHED,
    STILL,
    TILT_BEGINS,
    UP_AND_DOWN,
    MotionNumber,
    motion_numbers,
)
from nub_shift.model.profile.feel import MotionFeel
from nub_shift.translation import number_text, tr
from nub_shift.ui.feel.pictures.knob import paint_number
from nub_shift.ui.feel.pictures.picture import KnobPicture
from nub_shift.ui.look.drawing import fitted
from nub_shift.ui.look.theme import Theme

SPAN_US = 6_000_000
# Highest rate in the strip, and largest tilt of the horizon.
_MOST_DPS = 20.0
_MOST_TILT = 80.0
_MOST_RATE = 300.0


class MotionPicture(KnobPicture[MotionNumber]):
    """A picture of motion with some draggable numbers."""

    labels: Collection[str] = ()
    lifts: Mapping[str, int] = MappingProxyType({})  # offset of a number below its knob

    def __init__(self, theme: Theme, name: str, parent: QWidget | None = None) -> None:
        super().__init__(theme, parent)
        self.feel = MotionFeel()
        self.setAccessibleName(name)

    def show_feel(self, feel: MotionFeel) -> None:
        """Shows a feel."""
        self.feel = feel
        self.show_numbers(number for number in motion_numbers(feel) if number.label in self.labels)

    @abstractmethod
    def place_of(self, label: str, value: float) -> QPointF:
        """Returns the place of a number's knob."""

    @abstractmethod
    def draw(self, painter: QPainter) -> None:
        """Paints everything except knobs and numbers."""

    def value(self, label: str) -> float:
        """Returns the shown value of a number: the dragged one, if any."""
        if self.dragged is not None and self.dragged[0].label == label:
            return self.dragged[1]
        return self.numbers[label].value

    @property
    def area(self) -> QRectF:
        """Returns the area of the drawing."""
        px = self.theme.px
        return QRectF(self.rect()).adjusted(px(12), px(22), -px(12), -px(20))

    def minimumSizeHint(self) -> QSize:
        return QSize(self.theme.px(180), self.theme.px(130))

    def lay_out(self) -> None:
        for label, knob in self.knobs.items():
            number = self.numbers[label]
            knob.show_number(label, number.unit, self.value(label), number.low, number.high)
            knob.lie_at(self.place_of(label, self.value(label)))
        self.update()

    def paintEvent(self, _event: QPaintEvent | None) -> None:
        painter = QPainter(self)
        painter.setRenderHint(QPainter.RenderHint.Antialiasing)
        self.draw(painter)
        focused_label = self.focused_label
        for label, knob in self.knobs.items():
            text = f"{label} {number_text(self.value(label))}{self.numbers[label].unit}"
            paint_number(painter, knob, self, text, label == focused_label, self.lifts.get(label, 0))

    def title(self, painter: QPainter, text: str) -> None:
        """Paints the title above the picture."""
        painter.setFont(self.theme.font(0.85))
        painter.setPen(self.theme.colour("muted"))
        painter.drawText(
            QRectF(self.area.x(), 0, self.area.width(), self.area.y()),
            Qt.AlignmentFlag.AlignVCenter,
            fitted(painter, text, self.area.width()),
        )


class RateStrip(MotionPicture):
    """Rate of turning across over the last seconds, as reported and after gate and smoothing."""

    labels = (STILL, SMOOTHED)

    def __init__(self, theme: Theme, parent: QWidget | None = None) -> None:
        super().__init__(theme, tr("Rate of turning over the last 6 seconds"), parent)
        self._rates: deque[tuple[int, float, float]] = deque()  # time, with the positions of both
        self._now_us = 0

    def follow(self, t_us: int, raw: float, steady: float) -> None:
        """Adds the present rate, in degrees a second to the right."""
        self._now_us = t_us
        self._rates.append((t_us, _height(raw), _height(steady)))
        while self._rates[0][0] < t_us - SPAN_US:
            self._rates.popleft()

    def forget(self) -> None:
        """Forgets the rates, for another pad or after a pause."""
        self._rates.clear()

    def _y(self, rate: float) -> float:
        area = self.area
        return area.center().y() - _height(rate) * area.height() / 2

    def place_of(self, label: str, value: float) -> QPointF:
        return QPointF(self.area.x() + self.area.width() * (0.1 if label == STILL else 0.5), self._y(value))

    def value_at(self, number: MotionNumber, place: QPointF) -> float:  # noqa: ARG002 - the same for both
        part: float = max(0.0, (self.area.center().y() - place.y()) / (self.area.height() / 2))
        return part * part * _MOST_DPS

    def draw(self, painter: QPainter) -> None:
        theme, area = self.theme, self.area
        self.title(painter, tr("Turning sideways: as the sensors say, and after smoothing"))
        painter.setPen(QPen(theme.colour("line"), 1))
        painter.setBrush(theme.colour("raised"))
        painter.drawRect(area)
        for label, style in zip(self.labels, (Qt.PenStyle.DashLine, Qt.PenStyle.DotLine), strict=True):
            painter.setPen(QPen(theme.colour("ink"), 1, style))
            for sign in (-1, 1):
                y = self._y(sign * self.value(label))
                painter.drawLine(QPointF(area.x(), y), QPointF(area.right(), y))
        right, a_us, now_us = area.right(), area.width() / SPAN_US, self._now_us
        middle, half = area.center().y(), area.height() / 2
        # Lines of one pixel take a twentieth of the time of wider ones.
        for part, role in ((1, "pad"), (2, "game")):
            painter.setPen(QPen(theme.colour(role), 1))
            points = [QPointF(right + (rate[0] - now_us) * a_us, middle - rate[part] * half) for rate in self._rates]
            painter.drawPolyline(QPolygonF(points))
            if role == "game":
                painter.drawPolyline(QPolygonF(points).translated(0.0, 0.8))
        painter.setFont(theme.font(0.8))
        painter.setPen(theme.colour("muted"))
        foot = QRectF(area.x(), area.bottom(), area.width(), self.height() - area.bottom())
        painter.drawText(
            foot, Qt.AlignmentFlag.AlignLeft | Qt.AlignmentFlag.AlignVCenter, f"± {number_text(_MOST_DPS)}°/s"
        )
        painter.drawText(foot, Qt.AlignmentFlag.AlignRight | Qt.AlignmentFlag.AlignVCenter, tr("now"))


def _height(rate: float) -> float:
    """Returns the position of a rate, from -1 to 1. Slow rates, where gate and smoothing act, get most of the room."""
    part = sqrt(min(abs(rate) / _MOST_DPS, 1.0))
    return part if rate >= 0 else -part


class Horizon(MotionPicture):
    """Attitude of the pad as a horizon, with the angles at which tilts begin."""

    labels = (TILT_BEGINS,)

    def __init__(self, theme: Theme, parent: QWidget | None = None) -> None:
        super().__init__(theme, tr("How the pad is tilted"), parent)
        self._tilt = (0.0, 0.0)

    def follow(self, right: float, forward: float) -> None:
        """Shows the tilt of the pad in degrees."""
        self._tilt = (right, forward)

    def _at(self, right: float, forward: float) -> QPointF:
        area = self.area
        reach = min(area.width(), area.height()) / 2
        return area.center() + QPointF(right, -forward) * (reach / _MOST_TILT)

    def place_of(self, label: str, value: float) -> QPointF:  # noqa: ARG002 - it has one
        return self._at(value, 0.0)

    def value_at(self, number: MotionNumber, place: QPointF) -> float:  # noqa: ARG002
        reach = min(self.area.width(), self.area.height()) / 2
        return abs(place.x() - self.area.center().x()) * _MOST_TILT / reach

    def draw(self, painter: QPainter) -> None:
        theme, area = self.theme, self.area
        right, forward = (round(angle) for angle in self._tilt)
        sideways = tr("{angle}° to the right", angle=right) if right >= 0 else tr("{angle}° to the left", angle=-right)
        tilted = (
            tr("Tilted {sideways}, {angle}° forward", sideways=sideways, angle=forward)
            if forward >= 0
            else tr("Tilted {sideways}, {angle}° back", sideways=sideways, angle=-forward)
        )
        self.title(painter, tilted)
        reach = min(area.width(), area.height()) / 2
        painter.setPen(QPen(theme.colour("pad"), 2))
        painter.setBrush(theme.colour("raised"))
        painter.drawEllipse(area.center(), reach, reach)
        painter.setBrush(Qt.BrushStyle.NoBrush)
        tilt = self.feel.tilt
        for angle, style in (
            (self.value(TILT_BEGINS), Qt.PenStyle.DashLine),
            (tilt.off_degrees, Qt.PenStyle.DotLine),
        ):
            painter.setPen(QPen(theme.colour("ink"), 1.2, style))
            half = angle * reach / _MOST_TILT
            painter.drawRect(QRectF(area.center().x() - half, area.center().y() - half, 2 * half, 2 * half))
        spot = self._at(*(max(-_MOST_TILT, min(angle, _MOST_TILT)) for angle in self._tilt))
        painter.setPen(QPen(theme.colour("pad"), 2))
        painter.setBrush(theme.colour("pad"))
        painter.drawEllipse(spot, theme.px(5), theme.px(5))


class RatioCurve(MotionPicture):
    """Horizontally the rate of the hand, vertically the degrees of the view per degree of the hand."""

    labels = (SLOW_TURNS, FAST_TURNS, SLOW_UP_TO, FAST_FROM, UP_AND_DOWN)
    lifts: Mapping[str, int] = MappingProxyType({SLOW_TURNS: -17, FAST_TURNS: -17, UP_AND_DOWN: 17})

    def __init__(self, theme: Theme, parent: QWidget | None = None) -> None:
        super().__init__(theme, tr("How far the view turns for each degree of the hand"), parent)
        self._rate = 0.0

    def follow(self, rate: float) -> None:
        """Marks the present rate, in degrees a second."""
        self._rate = rate

    @property
    def _most(self) -> float:
        """The ratio at the upper end: a round number above the present one."""
        highest = max(self.feel.ratio, self.feel.fast_ratio or 0.0, 1.0)
        return next(most for most in (2.0, 5.0, 10.0, 20.0, 50.0, 100.0) if most > highest * 1.15)

    def _at(self, rate: float, ratio: float) -> QPointF:
        area = self.area
        return QPointF(
            area.x() + area.width() * min(rate / _MOST_RATE, 1.0), area.bottom() - area.height() * ratio / self._most
        )

    def place_of(self, label: str, value: float) -> QPointF:
        if label == SLOW_TURNS:
            return self._at(0.0, value) + QPointF(self.theme.px(9), 0)
        if label == FAST_TURNS:
            return self._at(_MOST_RATE, value) - QPointF(self.theme.px(9), 0)
        if label == UP_AND_DOWN:
            return self._at(_MOST_RATE * 0.3, value * self.value(SLOW_TURNS))
        return QPointF(self._at(value, 0.0).x(), self.area.bottom() - self.theme.px(10))

    def value_at(self, number: MotionNumber, place: QPointF) -> float:
        ratio = (self.area.bottom() - place.y()) / self.area.height() * self._most
        if number.label in (SLOW_TURNS, FAST_TURNS):
            return ratio
        if number.label == UP_AND_DOWN:
            return ratio / max(self.value(SLOW_TURNS), 0.05)
        return (place.x() - self.area.x()) / self.area.width() * _MOST_RATE

    def _ratio(self, rate: float) -> float:
        slow, fast = self.value(SLOW_UP_TO), self.value(FAST_FROM)
        part = max(0.0, min((rate - slow) / max(fast - slow, 0.001), 1.0))
        return self.value(SLOW_TURNS) + (self.value(FAST_TURNS) - self.value(SLOW_TURNS)) * part

    def draw(self, painter: QPainter) -> None:
        theme, area = self.theme, self.area
        self.title(painter, tr("Degrees of view for each degree of your hand: up to {most:g}", most=self._most))
        painter.setPen(QPen(theme.colour("line"), 1))
        painter.setBrush(theme.colour("raised"))
        painter.drawRect(area)
        painter.setBrush(Qt.BrushStyle.NoBrush)
        rates = (0.0, self.value(SLOW_UP_TO), self.value(FAST_FROM), _MOST_RATE)
        for factor, width in ((self.value(UP_AND_DOWN), 1.0), (1.0, 2.4)):
            points = [self._at(rate, min(self._ratio(rate) * factor, self._most)) for rate in rates]
            painter.setPen(QPen(theme.colour("game", 255 if factor == 1.0 else 120), width))
            painter.drawPolyline(QPolygonF(points))
        spot = self._at(self._rate, self._ratio(self._rate))
        painter.setPen(QPen(theme.colour("pad"), 1.4))
        painter.drawLine(QPointF(spot.x(), area.bottom()), spot)
        painter.setBrush(theme.colour("pad"))
        painter.drawEllipse(spot, theme.px(4), theme.px(4))
        painter.setFont(theme.font(0.8))
        painter.setPen(theme.colour("muted"))
        foot = QRectF(area.x(), area.bottom(), area.width(), self.height() - area.bottom())
        painter.drawText(
            foot,
            Qt.AlignmentFlag.AlignCenter,
            tr("Your hand: up to {most_rate:g} degrees a second", most_rate=_MOST_RATE),
        )

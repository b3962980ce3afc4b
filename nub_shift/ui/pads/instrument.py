"""A live control of a pad without any profile; of a simulated pad it can be worked by hand."""

from __future__ import annotations

from collections.abc import Mapping
from math import hypot

from PyQt6.QtCore import QPointF, QRectF, QSize, Qt, pyqtSignal
from PyQt6.QtGui import QFocusEvent, QKeyEvent, QMouseEvent, QPainter, QPaintEvent, QPen
from PyQt6.QtWidgets import QAbstractButton, QSizePolicy, QWidget

from nub_shift.model.controls import CONTROL_BY_NAME, WAYS, Finger, Kind
from nub_shift.model.pad.labels import control_title
from nub_shift.model.slot_names import slot_name
from nub_shift.protocol.messages import PadInfo
from nub_shift.translation import number_text, tr
from nub_shift.ui.look import drawing
from nub_shift.ui.look.theme import Theme
from nub_shift.ui.widgets.buttons import draw_focus
from nub_shift.ui.widgets.plain import set_tooltip

HEIGHTS = {Kind.BUTTON: 33, Kind.TRIGGER: 62, Kind.STICK: 118, Kind.PAD_CROSS: 92, Kind.MOTION: 92, Kind.SLIDER: 46}
HEIGHTS[Kind.SURFACE] = 80
_PADDLES = (Finger.LEFT_INDEX, Finger.RIGHT_INDEX, Finger.PALMS)
_ARROWS = {
    Qt.Key.Key_Up: "up",
    Qt.Key.Key_Down: "down",
    Qt.Key.Key_Left: "left",
    Qt.Key.Key_Right: "right",
}
_PUSH = {"up": (0.0, -1.0), "down": (0.0, 1.0), "left": (-1.0, 0.0), "right": (1.0, 0.0)}
# Turn in degrees a second, and tilt in g, for dragging the horizon across its circle.
_TURN_DPS = 120.0
_TILT_G = 0.8


class PadInstrument(QAbstractButton):
    """A control in its lane.

    The mouse on its picture, or space bar and arrow keys, work the control of a simulated pad; the right mouse button
    clicks a stick and tilts the pad. A click on its name, or Enter, selects the control, which a set-up then requests
    next. On any other pad a click anywhere selects it.

    Signals:
        held(dict): held channels of this control; all others are released.
        picked(): a click or Enter.
        name_requested(): F2: edit its label.
    """

    held = pyqtSignal(dict)
    picked = pyqtSignal()
    name_requested = pyqtSignal()

    def __init__(self, theme: Theme, control: str, parent: QWidget | None = None) -> None:
        super().__init__(parent)
        self.theme = theme
        self.control = CONTROL_BY_NAME[control]
        self.workable = False
        self._introduced = self._works = False
        self._values: Mapping[str, float] = {}
        self._status: frozenset[str] = frozenset()
        self._requested = False
        self._player = 0
        self._title = self.control.label
        self._shown: tuple[object, ...] = ()
        self._arrows: set[str] = set()
        self.setFocusPolicy(Qt.FocusPolicy.StrongFocus)
        self.setSizePolicy(QSizePolicy.Policy.Expanding, QSizePolicy.Policy.Fixed)

    def show_pad(self, pad: PadInfo, status: Mapping[str, str], requested: str) -> None:
        """Shows the label of the control, and its status during a set-up."""
        self.workable = pad.simulated
        self._introduced = bool(status)
        self._title = control_title(self.control.name, pad.printed)
        self._status = frozenset(status[channel] for channel in self.control.channels if channel in status)
        self._requested = bool(requested) and (requested == self.control.name or requested in self.control.channels)
        self._name()
        hand = tr(" Use the mouse; the right button presses a stick in.") if self.workable else ""
        set_tooltip(self, f"{self._title}.{hand}")
        self.update()

    def show_player(self, number: int) -> None:
        """Sets the player of the control on a shared pad; 0 for the first player or an unshared pad."""
        if number != self._player:
            self._player = number
            self._name()
            self.update()

    def _name(self) -> None:
        words = ", ".join([self._title, *sorted(self._status)])
        if self._player:
            words += tr(", player {player}", player=self._player)
        self.setAccessibleName(tr("{words}, asked for now", words=words) if self._requested else words)

    def follow(self, values: Mapping[str, float]) -> None:
        """Repaints after a visible change of the values."""
        self._values = values
        shown = tuple(round(values.get(channel, 0.0), 2) for channel in self.control.channels)
        if shown != self._shown:
            self._shown = shown
            self.update()

    def sizeHint(self) -> QSize:
        return QSize(self.theme.px(96), self.theme.px(HEIGHTS[self.control.kind]))

    def minimumSizeHint(self) -> QSize:
        return QSize(self.theme.px(72), self.theme.px(HEIGHTS[self.control.kind]))

    def mousePressEvent(self, event: QMouseEvent | None) -> None:
        if event is None:
            return
        self.setFocus(Qt.FocusReason.MouseFocusReason)
        edge = self.theme.px(3)  # the edge of a trigger's picture is a full pull
        on_picture = self.picture().adjusted(-edge, -edge, edge, edge).contains(event.position())
        if not (self.workable and self._introduced and on_picture):
            self.picked.emit()
        if self.workable and (on_picture or not self._introduced):
            self._works = True
            self._hold_at(event)

    def mouseMoveEvent(self, event: QMouseEvent | None) -> None:
        if event is not None and self._works:
            self._hold_at(event)

    def mouseReleaseEvent(self, event: QMouseEvent | None) -> None:
        if event is not None and self._works:
            self._works = False
            self.held.emit({})

    def keyPressEvent(self, event: QKeyEvent | None) -> None:
        if event is None or event.isAutoRepeat():
            return
        key = event.key()
        if key in (Qt.Key.Key_Return, Qt.Key.Key_Enter):
            self.picked.emit()
        elif key == Qt.Key.Key_F2:
            self.picked.emit()
            self.name_requested.emit()
        elif self.workable and (key == Qt.Key.Key_Space or key in _ARROWS):
            self._arrows.add(_ARROWS[Qt.Key(key)] if key in _ARROWS else "press")
            self.held.emit(self._held_by_keys())
        else:
            super().keyPressEvent(event)

    def keyReleaseEvent(self, event: QKeyEvent | None) -> None:
        if event is None or event.isAutoRepeat():
            return
        if self._arrows:
            self._arrows.discard(_ARROWS.get(Qt.Key(event.key()), "press"))
            self.held.emit(self._held_by_keys())
        else:
            super().keyReleaseEvent(event)

    def focusOutEvent(self, event: QFocusEvent | None) -> None:
        if self._arrows:
            self._arrows.clear()
            self.held.emit({})
        super().focusOutEvent(event)

    def paintEvent(self, _event: QPaintEvent | None) -> None:
        painter = QPainter(self)
        painter.setRenderHint(QPainter.RenderHint.Antialiasing)
        theme = self.theme
        rect = QRectF(self.rect()).adjusted(2, 2, -2, -2)
        if self._requested:
            painter.setPen(QPen(theme.colour("pad"), 2.5))
            painter.setBrush(theme.colour("pad_soft"))
            painter.drawRoundedRect(rect, theme.px(5), theme.px(5))
        elif "guessed" in self._status:
            painter.setPen(QPen(theme.colour("line"), 1.4, Qt.PenStyle.DashLine))
            painter.setBrush(Qt.BrushStyle.NoBrush)
            painter.drawRoundedRect(rect, theme.px(5), theme.px(5))
        draw_focus(painter, theme, self, rect)
        painter.setOpacity(0.35 if self._status == {"absent"} and not self._requested else 1.0)
        painter.setFont(theme.font(0.85))
        painter.setPen(theme.colour("ink" if self._requested else "muted"))
        title = QRectF(rect.x() + theme.px(6), rect.y() + theme.px(2), rect.width() - theme.px(8), theme.px(15))
        if self.control.kind is Kind.BUTTON:  # beside its picture
            title.setLeft(self.picture().right() + theme.px(6))
            title.moveTop(rect.center().y() - theme.px(8))
            title.setRight(title.right() - (theme.px(18) if self._player else 0))
        known = "✓ " if self._status == {"understood"} else ""
        text = drawing.fitted(painter, known + self._title, title.width())
        painter.drawText(title, Qt.AlignmentFlag.AlignLeft, text)
        self._paint_control(painter)
        if self._player:
            badge = QRectF(rect.right() - theme.px(17), rect.bottom() - theme.px(17), theme.px(15), theme.px(15))
            if self.control.kind is Kind.BUTTON:
                badge.moveTop(rect.center().y() - theme.px(8))
            painter.setPen(QPen(theme.colour("pad"), 1.4))
            painter.setBrush(theme.colour("pad_soft"))
            painter.drawRect(badge)
            painter.setFont(theme.font(0.78, bold=True))
            painter.drawText(badge, Qt.AlignmentFlag.AlignCenter, str(self._player))

    def _paint_control(self, painter: QPainter) -> None:
        theme, name = self.theme, self.control.name
        picture = self.picture()
        value = self._values.get(name, 0.0)
        match self.control.kind:
            case Kind.STICK:
                x, y = (self._values.get(slot_name(name, axis), 0.0) for axis in "xy")
                clicked = self._values.get(slot_name(name, "click"), 0.0) > 0.5
                drawing.draw_stick(painter, theme, picture, x, y, 0.0, clicked)
                room = QRectF(picture.right() + theme.px(5), picture.y(), theme.px(60), picture.height())
                if room.right() <= self.width():
                    painter.setFont(theme.font(0.85))
                    painter.setPen(theme.colour("muted"))
                    painter.drawText(
                        room,
                        Qt.AlignmentFlag.AlignVCenter,
                        f"{number_text(x, '+.2f')}\n{number_text(y, '+.2f')}\n{number_text(hypot(x, y), '.2f')}",
                    )
            case Kind.SURFACE:
                x, y = (self._values.get(slot_name(name, axis), 0.0) for axis in "xy")
                touched, clicked = (self._values.get(slot_name(name, part), 0.0) > 0.5 for part in ("touch", "click"))
                drawing.draw_surface(painter, theme, picture, x, y, touched, clicked)
            case Kind.PAD_CROSS:
                ways = frozenset(way for way in WAYS if self._values.get(slot_name(name, way), 0.0) > 0.5)
                drawing.draw_cross(painter, theme, picture, ways)
            case Kind.MOTION:
                yaw, pitch = (self._values.get(f"motion.gyro_{axis}", 0.0) for axis in "yx")
                drawing.draw_motion(painter, theme, picture, yaw, pitch)
            case Kind.SLIDER:
                drawing.draw_slider(painter, theme, picture, value)
            case Kind.TRIGGER:
                drawing.draw_trigger(painter, theme, picture, value, 0.0, value > 0.5)
            case _ if self.control.finger in _PADDLES:
                drawing.draw_paddle(painter, theme, picture, value > 0.5)
            case _:
                drawing.draw_button(painter, theme, picture, value > 0.5)

    def picture(self) -> QRectF:
        """Returns the area of the picture, which can be worked."""
        theme = self.theme
        kind = self.control.kind
        if kind is Kind.BUTTON:
            size = float(self.height() - theme.px(10))
            return QRectF(theme.px(8), (self.height() - size) / 2, size, size)
        body = QRectF(self.rect()).adjusted(theme.px(8), theme.px(19), -theme.px(8), -theme.px(4))
        if kind is Kind.SLIDER:
            return QRectF(body.x(), body.y() + theme.px(5), body.width(), theme.px(12))
        side = min(body.height(), body.width())
        if kind in (Kind.STICK, Kind.PAD_CROSS, Kind.MOTION):
            side -= theme.px(6)
            return QRectF(body.x() + theme.px(3), body.y() + theme.px(3), side, side)
        return QRectF(body.x(), body.y(), side, side)

    def _hold_at(self, event: QMouseEvent) -> None:
        """Holds the values at the position of the mouse."""
        picture = self.picture()
        offset = event.position() - picture.center()
        reach = max(picture.width() / 2, 1.0)
        x, y = offset.x() / reach, offset.y() / reach
        right = bool(event.buttons() & Qt.MouseButton.RightButton)
        self.held.emit(self._held_at(QPointF(x, y), right))

    def _held_at(self, point: QPointF, right: bool) -> dict[str, float]:
        """Returns the values at a point, relative to the middle and the edge of the picture."""
        name, x, y = self.control.name, point.x(), point.y()
        match self.control.kind:
            case Kind.STICK:
                far = max(hypot(x, y), 1.0)
                held = {slot_name(name, "x"): x / far, slot_name(name, "y"): y / far}
                return {slot_name(name, "click"): 1.0} if right else held
            case Kind.SURFACE:
                finger = {slot_name(name, axis): max(-1.0, min(part, 1.0)) for axis, part in (("x", x), ("y", y))}
                return {**finger, slot_name(name, "touch"): 1.0, slot_name(name, "click"): float(right)}
            case Kind.PAD_CROSS:
                ways = {"left": x < -0.33, "right": x > 0.33, "up": y < -0.33, "down": y > 0.33}
                return {slot_name(name, way): 1.0 for way, on in ways.items() if on}
            case Kind.MOTION if right:
                return {"motion.accel_x": max(-1.0, min(x, 1.0)) * _TILT_G, "motion.accel_y": 1.0}
            case Kind.MOTION:
                return {"motion.gyro_y": -x * _TURN_DPS, "motion.gyro_x": -y * _TURN_DPS}
            case Kind.SLIDER:
                return {name: max(-1.0, min(x, 1.0))}
            case Kind.TRIGGER:
                return {name: max(0.0, min((1.0 - y) / 2, 1.0))}
            case _:
                return {name: 1.0}

    def _held_by_keys(self) -> dict[str, float]:
        name = self.control.name
        ways = self._arrows - {"press"}
        x, y = (sum(_PUSH[way][axis] for way in ways) for axis in (0, 1))
        held: dict[str, float] = {}
        if ways:
            held = self._held_at(QPointF(x, y), right=False)
        if "press" in self._arrows:
            held[slot_name(name, "click") if self.control.kind is Kind.STICK else name] = 1.0
        return held

"""A small live instrument of one control: pad input on the left, assignments on the right."""

from __future__ import annotations

from PyQt6.QtCore import QPointF, QRect, QRectF, QSize, Qt, pyqtSignal
from PyQt6.QtGui import QDragEnterEvent, QDropEvent, QFocusEvent, QFontMetricsF, QKeyEvent, QPainter, QPaintEvent, QPen
from PyQt6.QtWidgets import QSizePolicy, QWidget

from nub_shift.editing.words.slot_views import SlotView, control_views, has_same_views, layer_mark
from nub_shift.keyboard.keys import NUMBER_PAD
from nub_shift.keyboard.layout import Layout
from nub_shift.model.controls import (
    CONTROL_BY_NAME,
    CONTROL_OF_CHANNEL,
    DIAGONALS,
    PART_LABELS,
    WAYS,
    Finger,
    Kind,
    slot_label,
)
from nub_shift.model.pad.labels import control_title
from nub_shift.model.profile.effects import Drag, PointerSpeed
from nub_shift.model.profile.profile import Profile
from nub_shift.model.slot_names import SlotName, slot_name
from nub_shift.translation import inside, tr, trc
from nub_shift.ui.frame.live import Live
from nub_shift.ui.look import drawing
from nub_shift.ui.look.theme import Theme
from nub_shift.ui.map.move_rows import MoveRows
from nub_shift.ui.widgets.buttons import Pressable, draw_focus
from nub_shift.ui.widgets.level import Level
from nub_shift.ui.widgets.plain import set_tooltip
from nub_shift.ui.widgets.roving import step_of

HEIGHTS = {Kind.BUTTON: 62, Kind.TRIGGER: 70, Kind.STICK: 168, Kind.PAD_CROSS: 150, Kind.MOTION: 84, Kind.SLIDER: 84}
HEIGHTS[Kind.SURFACE] = HEIGHTS[Kind.STICK]
_DEFLECTED = (Kind.STICK, Kind.SURFACE, Kind.TRIGGER, Kind.SLIDER)
_PADDLES = (Finger.LEFT_INDEX, Finger.RIGHT_INDEX, Finger.PALMS)


class Instrument(Pressable):
    """A control in its lane. A click opens it; the station connects `clicked`.

    Signals:
        given(str): id of a move that was dropped on it.
        stepped(int, int): an arrow key: lanes to the right, controls down.
        focused(): got the focus.
    """

    given = pyqtSignal(str)
    stepped = pyqtSignal(int, int)
    focused = pyqtSignal()

    def __init__(self, theme: Theme, control: str, live: Live, parent: QWidget | None = None) -> None:
        super().__init__(parent)
        self.theme = theme
        self.control = CONTROL_BY_NAME[control]
        self.setText(self.control.label)
        self._live = live
        self._views: dict[str, SlotView] = {}
        self._profile: Profile | None = None
        self._hue = 0
        self._shown: tuple[object, ...] = ()
        self._shown_by: tuple[object, ...] = ()
        self._values: tuple[float, ...] = ()
        self._pressed: tuple[bool, ...] = ()
        self._circle = QRectF()
        self._moving: QRect | None = None  # area of its moving part, if any
        self._levels = {
            channel: Level(_channel_words(channel), self)
            for channel in self.control.channels
            if _is_deflection(channel)
        }
        self._is_opened = False
        self._is_plugged = True
        self.setAcceptDrops(True)
        self.setFocusPolicy(Qt.FocusPolicy.StrongFocus)
        self.setSizePolicy(QSizePolicy.Policy.Expanding, QSizePolicy.Policy.Fixed)
        self.setCursor(Qt.CursorShape.PointingHandCursor)

    def focusInEvent(self, event: QFocusEvent | None) -> None:
        super().focusInEvent(event)
        self.focused.emit()

    def keyPressEvent(self, event: QKeyEvent | None) -> None:
        step = step_of(event)
        if step is not None:
            self.stepped.emit(*step)
        else:
            super().keyPressEvent(event)

    @property
    def _title(self) -> str:
        return control_title(self.control.name, self._live.printed)

    def show_layer(self, profile: Profile, layer_id: str, layout: Layout) -> None:
        """Shows the assignments of the control in a layer."""
        before, self._profile = self._profile, profile
        by, self._shown_by = self._shown_by, (layer_id, layout, self._title)
        if before is not None and by == self._shown_by and has_same_views(before, profile, self.control.name):
            return  # unaffected by most edits
        self._hue = layer_mark(profile, layer_id).hue
        self._views = control_views(profile, layer_id, self.control.name, layout)
        feel = getattr(profile.feel, self.control.name, None)
        shown = (self._title, self._hue, self._views, feel)
        if shown == self._shown:
            return
        self._shown = shown
        lines = [
            f"{slot_label(view.slot)}: {view.text}" for view in self._views.values() if view.assignment is not None
        ]
        self.setAccessibleName(f"{self._title}. {', '.join(lines) or tr('Nothing yet')}")
        set_tooltip(self, "\n".join(lines))
        self.update()

    def set_opened(self, is_opened: bool) -> None:
        """Marks the control as opened or not."""
        if is_opened != self._is_opened:
            self._is_opened = is_opened
            self.update()

    def set_plugged(self, plugged: bool) -> None:
        """Greys the control while its pad is not connected."""
        if plugged != self._is_plugged:
            self._is_plugged = plugged
            self.setAccessibleDescription("" if plugged else tr("Unplugged"))
            self.update()

    def update_live(self) -> None:
        """Repaints after a visible change of the pad's values."""
        values = tuple(round(self._live.values.get(channel, 0.0), 2) for channel in self.control.channels)
        for channel, level in self._levels.items():
            level.show_level(self._live.values.get(channel, 0.0))
        pressed = tuple(slot in self._live.slots for slot in self.control.slots)
        if pressed != self._pressed:
            self._pressed, self._values = pressed, values
            self.update()
        elif values != self._values:
            self._values = values
            self.update(self._moving if self._moving is not None else self.rect())

    def dragEnterEvent(self, event: QDragEnterEvent | None) -> None:
        if event is not None and isinstance(event.source(), MoveRows):
            event.acceptProposedAction()

    def dropEvent(self, event: QDropEvent | None) -> None:
        source = event.source() if event is not None else None
        if event is not None and isinstance(source, MoveRows) and source.dragged_move:
            # With a copy, the list keeps its row.
            event.setDropAction(Qt.DropAction.CopyAction)
            event.accept()
            self.given.emit(source.dragged_move)

    def sizeHint(self) -> QSize:
        return QSize(self.theme.px(112), self.theme.px(HEIGHTS[self.control.kind]))

    def minimumSizeHint(self) -> QSize:
        return QSize(self.theme.px(92), self.theme.px(HEIGHTS[self.control.kind]))

    def paintEvent(self, event: QPaintEvent | None) -> None:
        painter = QPainter(self)
        painter.setRenderHint(QPainter.RenderHint.Antialiasing)
        if not self._is_plugged:
            painter.setOpacity(0.45)
        theme = self.theme
        rect = QRectF(self.rect()).adjusted(2, 2, -2, -2)
        if self.underMouse() or self.hasFocus() or self._is_opened:
            painter.setPen(QPen(theme.colour("edge"), 1) if self._is_opened else Qt.PenStyle.NoPen)
            painter.setBrush(theme.colour("raised"))
            painter.drawRoundedRect(rect, theme.px(5), theme.px(5))
        if event is not None and self._moving is not None and self._moving.contains(event.rect()):
            self._paint_moving(painter)  # over the cached still part
            return
        draw_focus(painter, theme, self, rect)
        own = self._hue and any(view.assignment and not view.inherited for view in self._views.values())
        if own:
            painter.fillRect(QRectF(rect.x(), rect.y() + 4, theme.px(3), rect.height() - 8), theme.hue(self._hue))
        painter.setFont(theme.font(0.85))
        painter.setPen(theme.colour("muted"))
        title = QRectF(rect.x() + theme.px(7), rect.y() + theme.px(2), rect.width() - theme.px(10), theme.px(15))
        painter.drawText(title, Qt.AlignmentFlag.AlignLeft, drawing.fitted(painter, self._title, title.width()))
        body = rect.adjusted(theme.px(7), theme.px(18), -theme.px(4), -theme.px(2))
        self._moving = None
        match self.control.kind:
            case Kind.STICK | Kind.SURFACE:
                self._paint_stick(painter, body)
            case Kind.PAD_CROSS:
                self._paint_cross(painter, body)
            case Kind.MOTION:
                self._paint_motion(painter, body)
            case Kind.SLIDER:
                self._paint_slider(painter, body)
            case _:
                self._paint_press(painter, body)

    def _paint_press(self, painter: QPainter, body: QRectF) -> None:
        """Paints a button or a trigger: drawing, wire, keycaps and words."""
        theme = self.theme
        slot = self.control.slots[0]
        down = slot in self._live.slots
        size = theme.px(26 if self.width() >= theme.px(132) else 20)
        picture = QRectF(body.x(), body.y() + 1, size, size)
        if self.control.kind is Kind.TRIGGER:
            picture = QRectF(body.x(), body.y(), size, theme.px(44))
            value = self._live.values.get(self.control.name, 0.0)
            threshold = 0.0
            if self._profile is not None:
                threshold = getattr(self._profile.feel, self.control.name).light.on
            drawing.draw_trigger(painter, theme, picture, value, threshold, down)
        elif self.control.finger in _PADDLES:
            drawing.draw_paddle(painter, theme, picture, down)
        else:
            drawing.draw_button(painter, theme, picture, down)
        start = QPointF(picture.right() + 3, body.y() + size / 2)
        self._paint_way(painter, start, body, slot, down)

    def _paint_way(self, painter: QPainter, start: QPointF, body: QRectF, slot: str, down: bool) -> None:
        theme = self.theme
        view = self._views.get(slot)
        narrow = self.width() < theme.px(132)
        end = start + QPointF(theme.px(5 if narrow else 16), 0)
        room = body.right() - end.x() - theme.px(4)
        if view is None or view.assignment is None:
            drawing.draw_wire(painter, theme, start, end, down, dashed=True)
            return
        drawing.draw_wire(painter, theme, start, end, down)
        at = end + QPointF(theme.px(4), -theme.px(drawing.CAP_HEIGHT) / 2)
        if view.layer is not None and self._profile is not None:
            centre = end + QPointF(theme.px(15), 0)
            drawing.draw_layer_mark(painter, theme, centre, view.layer.letter, view.layer.hue, down)
        elif view.caps:
            drawing.draw_caps(painter, theme, at, view.caps, room, down, view.inherited)
        x = body.x() if narrow and self.control.kind is Kind.BUTTON else end.x() + theme.px(4)
        deep = self._views.get(slot_name(self.control.name, "deep"))
        words = view.beside if view.caps else view.text
        row = QRectF(x, at.y() + theme.px(26), body.right() - x, theme.px(15))
        self._paint_words(painter, row, view, words)
        if deep is not None and deep.assignment is not None:
            self._paint_words(
                painter, row.translated(0, theme.px(14) if words else 0), deep, tr("deep: {deep}", deep=deep.text)
            )

    def _paint_words(self, painter: QPainter, rect: QRectF, view: SlotView, text: str) -> None:
        painter.setFont(self.theme.font(0.85))
        painter.setPen(self.theme.colour("muted" if view.inherited or view.silent else "ink"))
        painter.drawText(rect, Qt.AlignmentFlag.AlignLeft, drawing.fitted(painter, text, rect.width()))

    def _paint_stick(self, painter: QPainter, body: QRectF) -> None:
        theme = self.theme
        name = self.control.name
        size = max(theme.px(30), min(theme.px(64), body.width() - theme.px(62)))
        circle = QRectF(0, 0, size, size)
        circle.moveCenter(QPointF(body.center().x(), body.y() + theme.px(28) + size / 2))
        self._set_moving(circle)
        self._paint_moving(painter)
        whole = self._views.get(name)
        use = whole.assignment.use if whole is not None and whole.assignment is not None else None
        if whole is not None and isinstance(use, PointerSpeed | Drag):
            self._paint_look(painter, circle, whole, tr("{x:g} × {y:g} counts/s", x=abs(use.x), y=abs(use.y)))
        for way in WAYS:
            self._paint_round_cap(painter, circle, slot_name(name, way), way)
        words: list[str] = []
        if whole is not None and use is not None and not isinstance(use, PointerSpeed | Drag):
            words.append(whole.text)
        click = self._views.get(slot_name(name, "click"))
        if click is not None and click.assignment is not None:
            keys = " + ".join(click.caps)
            words.append(
                tr("click {more}", more=f"{keys} · {click.beside}" if keys and click.beside else keys or click.text)
            )
        for part in ("edge", "inner", "touch"):
            view = self._views.get(slot_name(name, part))
            if view is not None and view.assignment is not None:
                words.append(f"{inside(PART_LABELS[part])} {' + '.join(view.caps) or view.text}")
        between = [view.caps[0] for way in DIAGONALS if (view := self._views.get(slot_name(name, way))) and view.caps]
        if between:
            words.append(tr("between {between}", between=", ".join(between)))
        words += self._directions_by_reaction()
        self._paint_lines(painter, QRectF(body.x(), circle.bottom() + theme.px(29), body.width(), 0), body, words)

    def _directions_by_reaction(self) -> list[str]:
        """Returns the actions of directions that their keycaps do not say."""
        views = (self._views.get(slot_name(self.control.name, way)) for way in WAYS)
        found = [view for view in views if view is not None and view.assignment is not None]
        return [
            f"{inside(PART_LABELS[SlotName.parse(view.slot).part])} {view.beside}"
            for view in found
            if view.assignment is not None and not view.silent and (len(view.assignment.reactions) > 1 or not view.caps)
        ]

    def _paint_lines(self, painter: QPainter, row: QRectF, body: QRectF, words: list[str]) -> None:
        """Paints lines below one another, as many as fit; the tooltip has all of them."""
        theme = self.theme
        row.setHeight(theme.px(14))
        room = max(1, int((body.bottom() - row.y()) / row.height()))
        if len(words) > room:
            words = [*words[: room - 1], tr("and {count} more", count=len(words) - room + 1)]
        painter.setFont(theme.font(0.85))
        painter.setPen(theme.colour("muted"))
        for text in words:
            painter.drawText(row, Qt.AlignmentFlag.AlignHCenter, drawing.fitted(painter, text, row.width()))
            row.translate(0, row.height())

    def _set_moving(self, circle: QRectF) -> None:
        """Sets the circle within which moving parts are repainted."""
        self._circle = circle
        self._moving = circle.adjusted(-2, -2, 2, 2).toAlignedRect()

    def _paint_moving(self, painter: QPainter) -> None:
        """Paints the part that follows a stick, a finger on a surface, or the gyro."""
        theme, name, values = self.theme, self.control.name, self._live.values
        if self.control.kind is Kind.MOTION:
            yaw, pitch = (values.get(f"motion.gyro_{axis}", 0.0) for axis in "yx")
            drawing.draw_motion(painter, theme, self._circle, yaw, pitch)
            return
        x, y = (values.get(slot_name(name, axis), 0.0) for axis in "xy")
        clicked = slot_name(name, "click") in self._live.slots
        if self.control.kind is Kind.SURFACE:
            touched = slot_name(name, "touch") in self._live.slots
            drawing.draw_surface(painter, theme, self._circle, x, y, touched, clicked)
        else:
            dead = getattr(self._profile.feel, name).dead_zone if self._profile is not None else 0.0
            drawing.draw_stick(painter, theme, self._circle, x, y, dead, clicked)

    def _paint_look(self, painter: QPainter, circle: QRectF, view: SlotView, text: str) -> None:
        """Paints a stick that moves the pointer: four arrows around it, and its speed."""
        theme = self.theme
        painter.setPen(QPen(theme.colour("muted" if view.inherited else "game"), 2))
        centre = circle.center()
        reach = circle.width() / 2 + theme.px(8)
        barb = theme.px(5)
        for dx, dy in ((0, -1), (0, 1), (-1, 0), (1, 0)):
            tip = centre + QPointF(dx, dy) * (reach + theme.px(7))
            painter.drawLine(centre + QPointF(dx, dy) * reach, tip)
            painter.drawLine(tip, tip + QPointF(-dx - dy, -dy - dx) * barb)
            painter.drawLine(tip, tip + QPointF(-dx + dy, -dy + dx) * barb)
        painter.setFont(theme.font(0.85))
        painter.setPen(theme.colour("muted" if view.inherited else "ink"))
        row = QRectF(0, circle.bottom() + theme.px(15), self.width(), theme.px(15))
        painter.drawText(row, Qt.AlignmentFlag.AlignCenter, text)

    def _paint_round_cap(self, painter: QPainter, around: QRectF, slot: str, way: str) -> None:
        view = self._views.get(slot)
        if view is None or view.assignment is None:
            return
        theme = self.theme
        text = view.caps[0] if view.caps else ("∅" if view.silent else view.text[:1])
        text = {tr("Wheel ↑"): "⇑", tr("Wheel ↓"): "⇓", tr("Wheel ←"): "⇐", tr("Wheel →"): "⇒"}.get(text, text)
        room = (self.width() - around.width()) / 2 - theme.px(8)
        if drawing.cap_width(theme, text) > room:
            text = text.removeprefix(NUMBER_PAD)  # keys of the number pad would be cut to the same text
        width = min(drawing.cap_width(theme, text), max(room, theme.px(18)))
        cap = QRectF(0, 0, width, theme.px(drawing.CAP_HEIGHT))
        gap = theme.px(3)
        centre = around.center()
        cap.moveCenter(centre)
        match way:
            case "up":
                cap.moveBottom(around.top() - gap)
            case "down":
                cap.moveTop(around.bottom() + gap)
            case "left":
                cap.moveRight(around.left() - gap)
            case "right":
                cap.moveLeft(around.right() + gap)
        drawing.draw_cap(painter, theme, cap, text, slot in self._live.slots, view.inherited)
        self._paint_name(painter, cap, view, way)

    def _paint_name(self, painter: QPainter, cap: QRectF, view: SlotView, way: str) -> None:
        """Paints the name of a direction's move where it fits: beside the keycap, or under one at a side."""
        theme = self.theme
        gap, height = theme.px(4), theme.px(15)
        flags = Qt.AlignmentFlag.AlignVCenter
        match way:
            case "left":
                room = QRectF(gap, cap.bottom() + 1, cap.right() - gap, height)
                flags |= Qt.AlignmentFlag.AlignRight
            case "right":
                room = QRectF(cap.left(), cap.bottom() + 1, self.width() - cap.left() - gap, height)
            case _:
                left = cap.right() + gap
                room = QRectF(left, cap.center().y() - height / 2, self.width() - left - gap, height)
        painter.setFont(theme.font(0.85))
        if view.caps and QFontMetricsF(painter.font()).horizontalAdvance(view.beside) <= room.width():
            painter.setPen(theme.colour("muted" if view.inherited else "ink"))
            painter.drawText(room, flags, view.beside)

    def _paint_cross(self, painter: QPainter, body: QRectF) -> None:
        theme = self.theme
        size = theme.px(46)
        square = QRectF(0, 0, size, size)
        square.moveCenter(QPointF(body.center().x(), body.y() + theme.px(28) + size / 2))
        ways = frozenset(way for way in WAYS if slot_name(self.control.name, way) in self._live.slots)
        drawing.draw_cross(painter, theme, square, ways)
        for way in WAYS:
            self._paint_round_cap(painter, square, slot_name(self.control.name, way), way)
        row = QRectF(body.x(), square.bottom() + theme.px(29), body.width(), 0)
        self._paint_lines(painter, row, body, self._directions_by_reaction())

    def _paint_slider(self, painter: QPainter, body: QRectF) -> None:
        """Paints a gauge with rest in the middle, and the assignments of its sides."""
        theme = self.theme
        gauge = QRectF(body.x(), body.y() + theme.px(4), body.width() - theme.px(6), theme.px(10))
        drawing.draw_slider(painter, theme, gauge, self._live.values.get(self.control.name, 0.0))
        y = gauge.bottom() + theme.px(5)
        for view in self._views.values():
            if view.assignment is not None and y < body.bottom():
                stage = inside(PART_LABELS[SlotName.parse(view.slot).part])
                row = QRectF(body.x(), y, body.width(), theme.px(15))
                self._paint_words(painter, row, view, f"{stage}: {view.text}")
                y += theme.px(15)

    def _paint_motion(self, painter: QPainter, body: QRectF) -> None:
        theme = self.theme
        size = theme.px(42)
        circle = QRectF(body.x(), body.y() + 2, size, size)
        self._set_moving(circle)
        self._paint_moving(painter)
        shown = [view for view in self._views.values() if view.assignment is not None]
        painter.setFont(theme.font(0.85))
        painter.setPen(theme.colour("ink" if any(not view.inherited for view in shown) else "muted"))
        room = QRectF(circle.right() + 8, body.y(), body.right() - circle.right() - 8, body.height())
        flags = Qt.AlignmentFlag.AlignTop | Qt.TextFlag.TextWordWrap
        painter.drawText(room, int(flags), "\n".join(map(_motion_words, shown)))


def _is_deflection(channel: str) -> bool:
    """Returns whether a channel is a deflection rather than a press, a turn or a tilt."""
    found = SlotName.parse(channel)
    return CONTROL_OF_CHANNEL[channel].kind in _DEFLECTED and found.part in ("", "x", "y")


def _channel_words(channel: str) -> str:
    """Returns the name of a channel."""
    label, part = CONTROL_OF_CHANNEL[channel].label, SlotName.parse(channel).part
    return f"{label}, {tr('across') if part == 'x' else trc('an axis', 'down')}" if part else label


def _motion_words(view: SlotView) -> str:
    """Returns the use of turning or tilting in words."""
    part = SlotName.parse(view.slot).part
    return f"{inside(PART_LABELS[part])}: {view.text}" if part else view.text

"""Cell of one slot in one layer: shows its action, and receives keys while listening."""

from __future__ import annotations

from PyQt6.QtCore import QObject, QPointF, QRectF, QSize, Qt, QTimer, pyqtSignal
from PyQt6.QtGui import QFocusEvent, QFontMetricsF, QKeyEvent, QPainter, QPaintEvent, QPen
from PyQt6.QtWidgets import QAbstractButton, QSizePolicy, QWidget

from nub_shift.editing.preview.strip import Strip, strip_for
from nub_shift.editing.waiting import Awaited, Wait, WaitEvent, Waiting
from nub_shift.editing.words.labels import action_label
from nub_shift.editing.words.slot_views import SlotView, layer_mark, slot_view
from nub_shift.keyboard.layout import Layout
from nub_shift.model.controls import MOTION_SLOT, STICK_SLOTS, slot_label
from nub_shift.model.profile.profile import BASE_LAYER, Profile
from nub_shift.model.references.assignments import action_of
from nub_shift.translation import tr
from nub_shift.ui.look import drawing
from nub_shift.ui.look.theme import Theme
from nub_shift.ui.widgets.buttons import draw_focus
from nub_shift.ui.widgets.key_input import KeyCatcher
from nub_shift.ui.widgets.plain import set_tooltip
from nub_shift.ui.widgets.roving import step_of


class CellSignals(QObject):
    """Signals of the cells of a grid, shared, since connecting each of many cells is slow.

    Signals:
        keys_given(tuple): kernel names of the pressed keys.
        chosen(Cell): cell that receives moves and actions.
        emptied(): Delete was pressed.
        refused(str): reason for refused keys.
        stepped(Cell, int, int): an arrow key: layers to the right, slots down.
    """

    keys_given = pyqtSignal(tuple)
    chosen = pyqtSignal(object)
    emptied = pyqtSignal()
    refused = pyqtSignal(str)
    stepped = pyqtSignal(object, int, int)


class Cell(QAbstractButton):
    """A slot of a layer. A click, Enter or a press on the pad makes the cell listen for the next key or combination.

    A listening cell takes every key except the window's own shortcuts. `waiting` decides whether it listens: until a
    timeout, the loss of the focus, or the input.
    """

    def __init__(
        self,
        theme: Theme,
        waiting: Waiting,
        layout: Layout,
        signals: CellSignals,
        parent: QWidget,
    ) -> None:
        super().__init__(parent)
        self.setLayoutDirection(Qt.LayoutDirection.LeftToRight)  # keycap before words, as on the tape
        self._signals = signals
        self.theme = theme
        self.layer_id = BASE_LAYER
        self.slot = ""
        self._waiting = waiting
        self._was_listening = False
        self._pressed = False  # Enter or the space bar is held down
        self._keys: KeyCatcher | None = None
        self._view: SlotView | None = None
        self._profile: Profile | None = None
        self._layout = layout
        self._strip: Strip | None = None
        self._strip_is_old = True
        self._hue = 0
        self.setFocusPolicy(Qt.FocusPolicy.StrongFocus)
        self.setSizePolicy(QSizePolicy.Policy.Expanding, QSizePolicy.Policy.Fixed)
        self.setCursor(Qt.CursorShape.PointingHandCursor)
        self.clicked.connect(self.listen)

    def show_slot(self, layer_id: str, slot: str, profile: Profile, layout: Layout) -> None:
        """Shows another slot, without state of the former one."""
        self.layer_id, self.slot = layer_id, slot
        self._was_listening = self._pressed = False
        self.show_profile(profile, layout)

    def show_profile(self, profile: Profile, layout: Layout) -> None:
        """Shows the slot's present action, and its preview."""
        self._view = slot_view(profile, self.layer_id, self.slot, layout)
        self._hue = layer_mark(profile, self.layer_id).hue
        self._profile = profile
        self._layout = layout
        self._strip_is_old = True
        layer = next(layer.label for layer in profile.layers if layer.id == self.layer_id)
        origin = tr(" from the base layer") if self._view.inherited else ""
        self.setAccessibleName(
            tr(
                "{slot}, layer {layer}: {words}{origin}",
                slot=slot_label(self.slot),
                layer=layer,
                words=self._view.text,
                origin=origin,
            )
        )
        set_tooltip(self, self._view.text if self._view.assignment is not None else "")
        self.setAccessibleDescription(tr("Press Enter, then the key it should press. Delete clears it."))
        self.update()

    @property
    def listening(self) -> bool:
        """Whether the next key is for this slot."""
        return self._waiting.listens_for(self.layer_id, self.slot)

    def _begin_to_catch(self) -> KeyCatcher:
        """Starts catching keys, by an object created at first use, since few cells ever listen."""
        if self._keys is None:
            self._keys = KeyCatcher(self, lambda: self.listening)
            self._keys.stroke.connect(lambda _code, _down: self.update())
            self._keys.caught.connect(self._signals.keys_given)
            self._keys.refused.connect(self._signals.refused)
        return self._keys

    @property
    def takes_keys(self) -> bool:
        """Whether the slot takes keys; a whole stick and turning do not."""
        return self.slot not in STICK_SLOTS and self.slot != MOTION_SLOT

    def listen(self) -> None:
        """Starts to listen."""
        self.setFocus(Qt.FocusReason.OtherFocusReason)
        if self.takes_keys:
            self._waiting.handle_event(WaitEvent.CONTROL, self.slot, self.layer_id)
        else:
            self._waiting.begin(Wait(Awaited.SLOT_MOVE, self.layer_id, self.slot))
        self._signals.chosen.emit(self)

    def update_waiting(self) -> None:
        """Repaints at a change of its listening or of the remaining time."""
        if self.listening or self._was_listening:
            self._was_listening = self.listening
            if self.listening:
                self._begin_to_catch()
            self.update()

    def sizeHint(self) -> QSize:
        """Returns a constant height, so that nothing below moves."""
        return QSize(self.theme.px(140), self.theme.px(34))

    def minimumSizeHint(self) -> QSize:
        return QSize(self.theme.px(60), self.theme.px(34))

    def keyPressEvent(self, event: QKeyEvent | None) -> None:
        step = step_of(event)
        if step is not None:
            self._signals.stepped.emit(self, *step)
            return
        if event is None or event.isAutoRepeat():
            return
        if event.key() in (Qt.Key.Key_Return, Qt.Key.Key_Enter, Qt.Key.Key_Space):
            self._pressed = True  # listens after the release, which would otherwise be the first event
        elif event.key() in (Qt.Key.Key_Delete, Qt.Key.Key_Backspace):
            self._signals.chosen.emit(self)
            self._signals.emptied.emit()
        else:
            super().keyPressEvent(event)

    def keyReleaseEvent(self, event: QKeyEvent | None) -> None:
        if event is None or event.isAutoRepeat():
            return
        if event.key() in (Qt.Key.Key_Return, Qt.Key.Key_Enter, Qt.Key.Key_Space):
            pressed, self._pressed = self._pressed, False
            if pressed:  # not at the press that opened the control
                self.listen()
        else:
            super().keyReleaseEvent(event)

    def _asking(self) -> str:
        """Returns the prompt of a listening cell, with the present action of the reaction."""
        wait, view = self._waiting.wait, self._view
        now = ""
        if view is not None and self._profile is not None and not view.inherited:
            action = action_of(view.assignment, wait.reaction)
            label = action_label(self._profile, action, self._layout) if action is not None else ""
            now = tr(" (now {words})", words=label) if label else ""
        return tr("Press a key{now}", now=now)

    def focusInEvent(self, event: QFocusEvent | None) -> None:
        super().focusInEvent(event)
        self._signals.chosen.emit(self)

    def focusOutEvent(self, event: QFocusEvent | None) -> None:
        super().focusOutEvent(event)
        of_menu = event is not None and event.reason() == Qt.FocusReason.PopupFocusReason
        if self.listening and not of_menu:
            self._waiting.handle_event(WaitEvent.LEFT)

    def paintEvent(self, _event: QPaintEvent | None) -> None:
        painter = QPainter(self)
        painter.setRenderHint(QPainter.RenderHint.Antialiasing)
        theme = self.theme
        rect = QRectF(self.rect()).adjusted(1.5, 1.5, -1.5, -1.5)
        hue = theme.hue(self._hue) if self._hue else theme.colour("ink")
        painter.setPen(QPen(hue if self.listening else theme.colour("edge"), 2.4 if self.listening else 1))
        painter.setBrush(drawing.soft(hue, 38) if self.listening else theme.colour("raised"))
        painter.drawRoundedRect(rect, theme.px(4), theme.px(4))
        if not self.listening:
            draw_focus(painter, theme, self, rect)
        inner = rect.adjusted(theme.px(5), theme.px(3), -theme.px(5), -theme.px(2))
        if self.listening:
            held = tuple(self._layout.label(code) for code in self._begin_to_catch().held)
            if held:
                drawing.draw_caps(painter, theme, inner.topLeft(), held, inner.width(), down=True)
            else:
                self._words(painter, inner, self._asking(), "ink")
            left = inner.width() * self._waiting.time_left
            painter.fillRect(QRectF(inner.x(), inner.bottom() - 2, left, theme.px(3)), hue)
            return
        if self._view is not None:
            self._paint_view(painter, inner, self._view)

    def _paint_view(self, painter: QPainter, inner: QRectF, view: SlotView) -> None:
        if view.assignment is None:
            words = tr("Unassigned")
            fits = self.theme.text_width(words, 0.92) <= inner.width()
            self._words(painter, inner, words if fits else "–", "muted")
            return
        text = tr("{words} (base)", words=view.text) if view.inherited else view.text
        ends = paint_slot(painter, self.theme, inner, view, text)
        room = QRectF(ends, inner.y(), inner.right() - ends, inner.height())
        if self._strip is not None and room.width() >= self.theme.px(50):
            paint_strip(painter, self.theme, room, self._strip)
        if self._strip_is_old:
            # A strip takes a millisecond or more; cells painted together compute theirs one after the other.
            self._strip_is_old = False
            QTimer.singleShot(0, self._make_strip)

    def _make_strip(self) -> None:
        before = self._strip
        if self._profile is not None:
            self._strip = strip_for(self._profile, self.layer_id, self.slot, self._layout)
        if self._strip != before:
            self.update()

    def _words(self, painter: QPainter, rect: QRectF, text: str, role: str) -> None:
        _paint_words(painter, self.theme, rect, text, role)


def paint_slot(painter: QPainter, theme: Theme, rect: QRectF, view: SlotView, text: str) -> float:
    """Paints a slot in one line: keycaps or the mark of its layer, then words; returns the end of the line."""
    used = 0.0
    if view.layer is not None:
        centre = QPointF(rect.x() + theme.px(11), rect.center().y())
        drawing.draw_layer_mark(painter, theme, centre, view.layer.letter, view.layer.hue, False)
        used = theme.px(22)
    elif view.caps:
        at = QPointF(rect.x(), rect.center().y() - theme.px(drawing.CAP_HEIGHT) / 2)
        used = drawing.draw_caps(painter, theme, at, view.caps, rect.width(), ghost=view.inherited)
    room = rect.adjusted(used + theme.px(6), 0, 0, 0)
    width = _paint_words(painter, theme, room, text, "muted" if view.inherited or view.silent else "ink")
    return room.x() + width + theme.px(8)


def _paint_words(painter: QPainter, theme: Theme, rect: QRectF, text: str, role: str) -> float:
    """Paints words; returns their width."""
    painter.setFont(theme.font(0.92))
    painter.setPen(theme.colour(role))
    metrics = QFontMetricsF(painter.font())
    fitted = metrics.elidedText(text, Qt.TextElideMode.ElideRight, rect.width())
    painter.drawText(rect, Qt.AlignmentFlag.AlignVCenter, fitted)
    return metrics.horizontalAdvance(fitted)


def paint_strip(painter: QPainter, theme: Theme, room: QRectF, strip: Strip) -> None:
    """Paints the sample press, and below it the outputs, on one time axis."""
    rect = QRectF(room.x(), room.center().y() - theme.px(10), room.width(), theme.px(19))
    scale = rect.width() / strip.length_us
    painter.setPen(QPen(theme.colour("line"), 1))
    painter.drawLine(QPointF(rect.x(), rect.bottom()), QPointF(rect.right(), rect.bottom()))
    painter.setPen(Qt.PenStyle.NoPen)
    painter.setBrush(theme.colour("pad"))
    for start, end in strip.presses:
        painter.drawRect(QRectF(rect.x() + start * scale, rect.y(), (end - start) * scale, theme.px(4)))
    painter.setBrush(theme.colour("game"))
    top = rect.y() + theme.px(7)
    if strip.typed:
        painter.setPen(theme.colour("game"))
        _paint_words(painter, theme, rect.adjusted(0, theme.px(6), 0, 0), f"“{strip.typed}”", "game")
        return
    height = theme.px(11) / max(1, len(strip.bars))
    for row, bar in enumerate(strip.bars):
        y = top + row * height
        painter.drawRect(QRectF(rect.x() + bar.start_us * scale, y, (bar.end_us - bar.start_us) * scale, height - 1))
    for t_us, _, _ in strip.clicks:
        painter.drawRect(QRectF(rect.x() + t_us * scale, top, theme.px(3), theme.px(9)))
    if strip.counts != (0, 0):
        painter.setFont(theme.font(0.8))
        painter.setPen(theme.colour("game"))
        distance = max(abs(strip.counts[0]), abs(strip.counts[1]))
        painter.drawText(
            rect, Qt.AlignmentFlag.AlignRight | Qt.AlignmentFlag.AlignBottom, tr("{distance} counts", distance=distance)
        )

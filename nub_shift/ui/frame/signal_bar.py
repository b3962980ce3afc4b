"""Head of the window: the way of the signal from the pad through the layers to the game, with the live switch."""

from __future__ import annotations

from PyQt6.QtCore import QPointF, QRectF, QSize, Qt, pyqtSignal
from PyQt6.QtGui import QFontMetricsF, QPainter, QPaintEvent, QPen
from PyQt6.QtWidgets import QHBoxLayout, QLabel, QSizePolicy, QStackedWidget, QWidget

from nub_shift.editing.words.messages import message_words
from nub_shift.editing.words.slot_views import LayerMark, layer_mark
from nub_shift.model.profile.profile import Profile
from nub_shift.protocol.messages import SparePad
from nub_shift.translation import tr
from nub_shift.ui.frame.live import Live
from nub_shift.ui.look.drawing import fitted
from nub_shift.ui.look.theme import Theme
from nub_shift.ui.widgets.buttons import Pressable, TextButton, draw_focus
from nub_shift.ui.widgets.layer_name import LayerChip
from nub_shift.ui.widgets.plain import set_tooltip

_BEHIND = tr("Live behind this window")
_X11_ONLY = tr("Live, X11 programs only")
_TIP = tr("Live: your game gets keys and mouse, except while this window is in front (Ctrl+L).")
_X11_TIP = tr(
    "This is a Wayland session, where keys reach only programs that use X11. "
    "To reach all programs, run: nub-shift doctor --fix"
)


class SignalBar(QWidget):
    """Pad, layers, switch and game on one wire.

    Attributes:
        switch: the rehearsal/live switch.
        spare: offers an unused pad in place of the missing one.

    Signals:
        layer_picked(str): a layer to show.
        spare_taken(str): key of the accepted unused pad.
        tools_requested(str): layer whose menu is requested.
    """

    layer_picked = pyqtSignal(str)
    spare_taken = pyqtSignal(str)
    tools_requested = pyqtSignal(str)

    def __init__(self, theme: Theme, live: Live, parent: QWidget | None = None) -> None:
        super().__init__(parent)
        self.theme = theme
        self._live = live
        self._pad = _Terminal(theme, "pad")
        self._game = _Terminal(theme, "game")
        self.spare = _SpareButton(theme)
        self.spare.clicked.connect(lambda: self.spare_taken.emit(self.spare.key))
        self._pad_end = QStackedWidget()
        self._pad_end.setSizePolicy(QSizePolicy.Policy.Maximum, QSizePolicy.Policy.Fixed)
        self._pad_end.addWidget(self._pad)
        self._pad_end.addWidget(self.spare)
        self.switch = LiveSwitch(theme)
        self._chips: list[LayerChip] = []
        self._chip_row = QHBoxLayout()
        self._chip_row.setSpacing(theme.px(4))
        row = QHBoxLayout(self)
        row.setContentsMargins(theme.px(14), theme.px(6), theme.px(14), theme.px(6))
        row.addWidget(self._pad_end)
        row.addSpacing(theme.px(28))
        row.addLayout(self._chip_row)
        row.addStretch(1)
        row.addWidget(self.switch)
        row.addSpacing(theme.px(20))
        row.addWidget(self._game)
        self.set_low(False)
        live.state_changed.connect(self._on_state)
        live.changed.connect(self._on_live)
        self._on_state()

    def set_low(self, low: bool) -> None:
        """Reduces each part to one line in a low window."""
        self.setFixedHeight(self.theme.px(38 if low else 56))
        for part in (self._pad, self.spare, self._game, self.switch):
            part.set_low(low)

    def show_profile(self, profile: Profile, layer_id: str) -> None:
        """Follows an edit."""
        self._game.notify(profile.title, tr("Game"))
        wanted = [(layer_mark(profile, layer.id), layer.id, layer.label) for layer in profile.layers]
        if wanted != [(chip.mark, chip.layer_id, chip.text()) for chip in self._chips]:
            there = {(chip.mark, chip.layer_id, chip.text()): chip for chip in self._chips}
            for chip in self._chips:
                self._chip_row.removeWidget(chip)
            self._chips = [there.pop(layer) if layer in there else self._made_chip(*layer) for layer in wanted]
            for chip in there.values():
                chip.hide()
                chip.deleteLater()
            for chip in self._chips:
                self._chip_row.addWidget(chip)
        self.show_layer(layer_id)

    def _made_chip(self, mark: LayerMark, layer_id: str, label: str) -> LayerChip:
        chip = LayerChip(self.theme, mark, layer_id, label, self)
        chip.clicked.connect(lambda: self.layer_picked.emit(layer_id))
        chip.tools_requested.connect(lambda: self.tools_requested.emit(layer_id))
        return chip

    def show_layer(self, layer_id: str) -> None:
        """Marks the layer shown in the stations."""
        for chip in self._chips:
            chip.setChecked(chip.layer_id == layer_id)

    def paintEvent(self, _event: QPaintEvent | None) -> None:
        painter = QPainter(self)
        painter.setRenderHint(QPainter.RenderHint.Antialiasing)
        theme = self.theme
        painter.fillRect(self.rect(), theme.colour("sheet"))
        y = self.height() / 2
        state = self._live.state
        connected = state is not None and any(seat.pad.name for seat in state.seats)
        pen = QPen(theme.colour("pad" if connected else "line"), 2.4)
        if not connected:
            pen.setStyle(Qt.PenStyle.DotLine)
        painter.setPen(pen)
        painter.drawLine(QPointF(self._pad_end.geometry().right(), y), QPointF(self.switch.x(), y))
        live = self.switch.flowing
        painter.setPen(QPen(theme.colour("game" if live else "line"), 2.4))
        painter.drawLine(QPointF(self.switch.geometry().right(), y), QPointF(self._game.x(), y))

    def _on_state(self) -> None:
        """Shows the pads of all players; a missing pad is reported only if there is none at all."""
        state, seat = self._live.state, self._live.seat
        if state is None or seat is None:
            self._pad.notify(tr("Starting …"), tr("Pad"))
            return
        seated = [found.pad for found in state.seats if found.pad.name]
        names = list({pad.key: pad.name for pad in seated}.values())
        missing = message_words(seat.pad.missing) if seat.pad.missing is not None else ""
        if names:
            self._show_spare(None, "")
            shared = len(seated) > len(names) == 1
            pads = tr("Pad") if shared or len(state.seats) == 1 else tr("Pads")
            kind = pads if len(state.seats) == 1 else tr("{pads} of {count} players", pads=pads, count=len(state.seats))
            self._pad.notify(" + ".join(names), kind, missing)
        else:
            self._show_spare(seat.pad.spare, missing)
            self._pad.notify(tr("Unplugged") if seat.pad.controls else tr("No pad"), tr("Pad"), missing)
        self.update()

    def _show_spare(self, spare: SparePad | None, missing: str) -> None:
        if spare is not None:
            self.spare.show_spare(spare, missing)
        self._pad_end.setCurrentWidget(self.spare if spare is not None else self._pad)

    def _on_live(self) -> None:
        for chip in self._chips:
            chip.set_on(chip.layer_id in self._live.layers)


class LiveSwitch(Pressable):
    """A knife switch in the wire: open in rehearsal, closed when live.

    Attributes:
        flowing: whether outputs go to the system now; false while this window is in front, even with a closed switch.
    """

    def __init__(self, theme: Theme, parent: QWidget | None = None) -> None:
        super().__init__(parent)
        self.theme = theme
        self.flowing = False
        self._x11_only = self._paused = False
        self._low = False
        self.setCheckable(True)
        self.setFocusPolicy(Qt.FocusPolicy.StrongFocus)
        self.setSizePolicy(QSizePolicy.Policy.Maximum, QSizePolicy.Policy.Fixed)
        self.setCursor(Qt.CursorShape.PointingHandCursor)
        self.toggled.connect(lambda _on: self._name())
        self._name()

    def set_flowing(self, flowing: bool, x11_only: bool, paused: bool = False) -> None:
        """Sets whether outputs go to the system now, reach only X11 programs, and are paused."""
        self.flowing = flowing
        self._x11_only = x11_only
        self._paused = paused
        self._name()

    def set_low(self, low: bool) -> None:
        """Moves its words beside the switch in a low window."""
        self._low = low
        self.updateGeometry()

    @property
    def words(self) -> str:
        """Text of the switch."""
        if not self.isChecked():
            return tr("Rehearsal")
        if self._paused:
            return tr("Live, paused")
        if self._x11_only:
            return _X11_ONLY
        return tr("Live") if self.flowing else _BEHIND

    def sizeHint(self) -> QSize:
        metrics = QFontMetricsF(self.theme.font(1.0, bold=True))
        width = max(metrics.horizontalAdvance(words) for words in (_BEHIND, _X11_ONLY))
        beside = self.theme.px(66) if self._low else 0
        return QSize(round(width) + self.theme.px(16) + beside, self.theme.px(30 if self._low else 44))

    def minimumSizeHint(self) -> QSize:
        """Returns a size for narrowed or cut words, with a large font in a narrow window."""
        width = round(self.theme.text_width(tr("Rehearsal"), bold=True))
        return QSize(width + self.theme.px(82 if self._low else 16), self.sizeHint().height())

    def paintEvent(self, _event: QPaintEvent | None) -> None:
        painter = QPainter(self)
        painter.setRenderHint(QPainter.RenderHint.Antialiasing)
        theme = self.theme
        rect = QRectF(self.rect()).adjusted(1, 1, -1, -1)
        painter.fillRect(self.rect(), theme.colour("sheet"))
        y = self.height() / 2.0
        centre = rect.x() + theme.px(34) if self._low else rect.center().x()
        left, right = QPointF(centre - theme.px(22), y), QPointF(centre + theme.px(22), y)
        closed = self.isChecked()
        painter.setPen(QPen(theme.colour("pad"), 2.4))
        painter.drawLine(QPointF(0, y), left)
        painter.setPen(QPen(theme.colour("game" if self.flowing else "line"), 2.4))
        painter.drawLine(right, QPointF(self.width(), y))
        blade = right if closed else left + QPointF(theme.px(36), -theme.px(9 if self._low else 15))
        painter.setPen(QPen(theme.colour("game" if closed else "ink"), 4, cap=Qt.PenCapStyle.RoundCap))
        painter.drawLine(left, blade)
        painter.setPen(QPen(theme.colour("ink"), 1.6))
        painter.setBrush(theme.colour("raised"))
        for end in (left, right):
            painter.drawEllipse(end, theme.px(4), theme.px(4))
        painter.setFont(theme.font(0.92, bold=True))
        painter.setPen(theme.colour("game" if closed else "ink"))
        if self._low:
            room = rect.adjusted(theme.px(66), 0, 0, 0)
            painter.fillRect(room, theme.colour("sheet"))
            painter.drawText(room, Qt.AlignmentFlag.AlignCenter, fitted(painter, self.words, room.width()))
        else:
            painter.drawText(rect, Qt.AlignmentFlag.AlignHCenter | Qt.AlignmentFlag.AlignBottom, self.words)
        draw_focus(painter, theme, self, rect)

    def _name(self) -> None:
        self.setAccessibleName(tr("Rehearsal or live: {words}", words=self.words))
        set_tooltip(self, f"{_TIP} {_X11_TIP}" if self._x11_only else _TIP)
        self.update()


class _SpareButton(TextButton):
    """Button that accepts an unused pad in place of the missing one.

    Attributes:
        key: key of the pad.
    """

    def __init__(self, theme: Theme) -> None:
        super().__init__(theme, tr("Use this pad"))
        self.key = ""
        self._low = False
        self.setSizePolicy(QSizePolicy.Policy.Maximum, QSizePolicy.Policy.Fixed)
        self.set_main(True)

    def set_low(self, low: bool) -> None:
        """Sets the height of the pad's name."""
        self._low = low
        self.updateGeometry()

    def show_spare(self, spare: SparePad, missing: str) -> None:
        """Offers a pad; `missing` is the reason of the missing one."""
        self.key = spare.key
        text = tr("Use {pad}", pad=spare.name)
        self.setText(text)
        self.setAccessibleName(text)
        set_tooltip(self, missing)
        self.setAccessibleDescription(missing)

    def sizeHint(self) -> QSize:
        return _terminal_size(self.theme, self._low)

    def minimumSizeHint(self) -> QSize:
        return QSize(self.theme.px(80), self.sizeHint().height())


def _terminal_size(theme: Theme, low: bool) -> QSize:
    """Returns the width of an end of the wire, constant for any content, so that nothing moves."""
    return QSize(theme.px(176), theme.px(26 if low else 42))


class _Terminal(QLabel):
    """An end of the wire with the name of what is connected."""

    def __init__(self, theme: Theme, role: str) -> None:
        super().__init__()
        self.theme = theme
        self._role = role
        self._text = ""
        self._kind = ""
        self._low = False
        self.setSizePolicy(QSizePolicy.Policy.Maximum, QSizePolicy.Policy.Fixed)

    def set_low(self, low: bool) -> None:
        """Leaves out the kind in a low window, which colour and position show too."""
        self._low = low
        self.updateGeometry()

    def notify(self, text: str, kind: str, tip: str = "") -> None:
        self._text = text
        self._kind = kind
        set_tooltip(self, tip or text)
        self.setAccessibleName(f"{kind}: {text}. {tip}".strip())
        self.update()

    def sizeHint(self) -> QSize:
        return _terminal_size(self.theme, self._low)

    def minimumSizeHint(self) -> QSize:
        """Returns a size for cut words, which the tooltip shows whole."""
        return QSize(self.theme.px(80), self.sizeHint().height())

    def paintEvent(self, _event: QPaintEvent | None) -> None:
        painter = QPainter(self)
        painter.setRenderHint(QPainter.RenderHint.Antialiasing)
        theme = self.theme
        rect = QRectF(self.rect()).adjusted(1, 1, -1, -1)
        painter.setPen(QPen(theme.colour(self._role), 1.8))
        painter.setBrush(theme.colour(f"{self._role}_soft"))
        painter.drawRoundedRect(rect, theme.px(6), theme.px(6))
        inner = rect.adjusted(theme.px(12), theme.px(3), -theme.px(12), -theme.px(4))
        if not self._low:
            painter.setFont(theme.font(0.78))
            painter.setPen(theme.colour(self._role))
            painter.drawText(inner, Qt.AlignmentFlag.AlignTop, self._kind)
        painter.setFont(theme.font(1.0, bold=True))
        painter.setPen(theme.colour("ink"))
        words = QFontMetricsF(painter.font()).elidedText(self._text, Qt.TextElideMode.ElideRight, inner.width() + 2)
        painter.drawText(inner, Qt.AlignmentFlag.AlignBottom, words)

"""List of available pads; below it the simulated ones that could be plugged in."""

from __future__ import annotations

from PyQt6.QtCore import QPointF, QRectF, QSize, Qt, pyqtSignal
from PyQt6.QtGui import QFocusEvent, QPainter, QPaintEvent, QPen
from PyQt6.QtWidgets import QScrollArea, QSizePolicy, QVBoxLayout, QWidget

from nub_shift.editing.words.messages import message_words
from nub_shift.protocol.messages import PadInfo
from nub_shift.translation import tr, trn
from nub_shift.ui.look import drawing
from nub_shift.ui.look.theme import Theme
from nub_shift.ui.widgets.buttons import Pressable, TextButton, draw_focus
from nub_shift.ui.widgets.plain import PlainLabel, set_tooltip

ROW = 48  # height of a row
_ROWS = 3  # number of visible rows
_SIMULATED = "simulated:"  # prefix of the key of a simulated pad


class PadList(QWidget):
    """The pads, and the simulated ones that could be plugged in.

    Attributes:
        rows: by pad.
        plugs: buttons that plug a simulated pad in, by its key.

    Signals:
        picked(str): key of a selected pad.
        plug_requested(str): key of a simulated pad to plug in.
    """

    picked = pyqtSignal(str)
    plug_requested = pyqtSignal(str)

    def __init__(self, theme: Theme, parent: QWidget | None = None) -> None:
        super().__init__(parent)
        self.theme = theme
        self.rows: dict[str, PadRow] = {}
        self.plugs: dict[str, TextButton] = {}
        self._heading = PlainLabel(tr("Looking for pads …"))
        self._heading.setFont(theme.font(0.92))
        inner = QWidget()
        self._rows = QVBoxLayout(inner)
        self._rows.setContentsMargins(0, 0, 0, 0)
        self._rows.setSpacing(theme.px(4))
        self._rows.addStretch(1)
        scroll = QScrollArea()
        scroll.setWidget(inner)
        scroll.setWidgetResizable(True)
        scroll.setFocusPolicy(Qt.FocusPolicy.NoFocus)
        self._plug_heading = PlainLabel(tr("Simulated pads to plug in"))
        self._plug_heading.setFont(theme.font(0.92))
        self._plug_heading.setWordWrap(True)
        self._plugs = QVBoxLayout()
        self._plugs.setSpacing(0)
        column = QVBoxLayout(self)
        column.setContentsMargins(0, 0, 0, 0)
        column.setSpacing(theme.px(4))
        column.addWidget(self._heading)
        scroll.setFixedHeight(theme.px(_ROWS * (ROW + 4)))  # constant, so that nothing below moves
        column.addWidget(scroll)
        column.addWidget(self._plug_heading)
        column.addLayout(self._plugs)
        column.addStretch(1)
        self.setFocusPolicy(Qt.FocusPolicy.ClickFocus)  # until one of its rows can have the focus

    def show_pads(self, pads: tuple[PadInfo, ...], unplugged: dict[str, str], chosen: str, seats: list[str]) -> None:
        """Shows the pads; `seats` has the profile of each seat."""
        count = sum(bool(pad.controls) for pad in pads)
        self._heading.setText(trn("{count} pad", "{count} pads", count) if count else tr("No pad is connected"))
        if [pad.key for pad in pads] != list(self.rows):
            self._lay_out([pad.key for pad in pads])
        for pad in pads:
            self.rows[pad.key].show_pad(pad, tr(" and ").join(seats[seat] for seat in pad.seats if seat < len(seats)))
            self.rows[pad.key].setChecked(pad.key == chosen)
        known = {pad.key: pad.device for pad in pads} | {part.key: part.name for pad in pads for part in pad.parts}
        plugged = {key.removeprefix(_SIMULATED): name for key, name in known.items() if key.startswith(_SIMULATED)}
        self._show_plugs(plugged, unplugged)
        self._pass_focus_on()

    def focusInEvent(self, event: QFocusEvent | None) -> None:
        super().focusInEvent(event)
        self._pass_focus_on()

    def _pass_focus_on(self) -> None:
        """Passes the focus to the selected pad, or without pads to the first button."""
        rows = sorted(self.rows.values(), key=lambda row: not row.isChecked())
        first = next(iter([*rows, *(button for button in self.plugs.values() if button.isEnabled())]), None)
        if self.hasFocus() and first is not None:
            first.setFocus(Qt.FocusReason.OtherFocusReason)

    def _lay_out(self, keys: list[str]) -> None:
        focused = next((key for key, row in self.rows.items() if row.hasFocus()), "")
        for row in self.rows.values():
            self._rows.removeWidget(row)
            row.deleteLater()
        self.rows = {key: PadRow(self.theme) for key in keys}
        for index, (key, row) in enumerate(self.rows.items()):
            row.clicked.connect(lambda _checked, found=key: self.picked.emit(found))
            self._rows.insertWidget(index, row)
        if focused in self.rows:
            self.rows[focused].setFocus(Qt.FocusReason.OtherFocusReason)

    def _show_plugs(self, plugged: dict[str, str], unplugged: dict[str, str]) -> None:
        """Shows a button for every simulated pad, so that plugging one in moves none."""
        for key, name in {**plugged, **unplugged}.items():
            if key not in self.plugs:
                button = self.plugs[key] = TextButton(self.theme, name)
                button.clicked.connect(lambda _checked, found=key: self.plug_requested.emit(found))
                self._plugs.addWidget(button)
        for key, button in self.plugs.items():
            button.setEnabled(key in unplugged)
            set_tooltip(button, tr("Plugs this pad in") if key in unplugged else tr("This simulated pad is plugged in"))
        self._plug_heading.setVisible(bool(self.plugs))


class PadRow(Pressable):
    """One pad: colour, name, use, and a mark for faults."""

    def __init__(self, theme: Theme, parent: QWidget | None = None) -> None:
        super().__init__(parent)
        self.theme = theme
        self._pad: PadInfo | None = None
        self._state = ""
        self.setCheckable(True)
        self.setAutoExclusive(False)
        self.setFocusPolicy(Qt.FocusPolicy.StrongFocus)
        self.setSizePolicy(QSizePolicy.Policy.Expanding, QSizePolicy.Policy.Fixed)
        self.setCursor(Qt.CursorShape.PointingHandCursor)

    def show_pad(self, pad: PadInfo, plays: str) -> None:
        """Shows a pad; `plays` is its profile, or empty."""
        self._pad = pad
        states = [tr("plays {plays}", plays=plays) if plays else tr("plays nothing")]
        if pad.battery >= 0:
            states.append(tr("{battery} % charging", battery=pad.battery) if pad.charging else f"{pad.battery} %")
        self._state = ", ".join(states) if pad.controls else tr("cannot be used")
        self.setText(pad.name)
        wrong = [message_words(message) for message in pad.wrong]
        set_tooltip(self, "\n".join(wrong))
        self.setAccessibleName(". ".join([pad.name, self._state, *wrong]))
        self.update()

    def sizeHint(self) -> QSize:
        return QSize(self.theme.px(200), self.theme.px(ROW))

    def paintEvent(self, _event: QPaintEvent | None) -> None:
        pad, theme = self._pad, self.theme
        if pad is None:
            return
        painter = QPainter(self)
        painter.setRenderHint(QPainter.RenderHint.Antialiasing)
        rect = QRectF(self.rect()).adjusted(1, 1, -1, -1)
        if self.isChecked() or self.underMouse():
            painter.setPen(Qt.PenStyle.NoPen)
            painter.setBrush(theme.colour("raised"))
            painter.drawRoundedRect(rect, theme.px(5), theme.px(5))
        if self.isChecked():
            painter.fillRect(QRectF(rect.x(), rect.y() + 5, theme.px(4), rect.height() - 10), theme.colour("pad"))
        draw_focus(painter, theme, self, rect)
        centre = QPointF(rect.x() + theme.px(20), rect.y() + theme.px(16))
        drawing.draw_swatch(painter, theme, centre, pad.colour)
        left = rect.x() + theme.px(36)
        room = rect.right() - left - theme.px(6)
        painter.setFont(theme.font(1.0, bold=True))
        painter.setPen(theme.colour("ink" if pad.controls else "muted"))
        painter.drawText(QPointF(left, rect.y() + theme.px(20)), drawing.fitted(painter, pad.name, room))
        painter.setFont(theme.font(0.85))
        painter.setPen(theme.colour("muted"))
        words = self._state
        if pad.wrong:
            mark = QRectF(left, rect.y() + theme.px(27), theme.px(14), theme.px(14))
            painter.setPen(QPen(theme.colour("ink"), 1.4))
            painter.setBrush(theme.colour("sheet"))
            painter.drawEllipse(mark)
            painter.drawText(mark, Qt.AlignmentFlag.AlignCenter, "!")
            left += theme.px(20)
            room -= theme.px(20)
        painter.drawText(QPointF(left, rect.y() + theme.px(38)), drawing.fitted(painter, words, room))

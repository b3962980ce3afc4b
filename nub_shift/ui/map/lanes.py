"""The finger lanes: what each finger works, nearest first, as live instruments; the opened control among them."""

from __future__ import annotations

from functools import partial

from PyQt6.QtCore import QPointF, QRectF, Qt, pyqtSignal
from PyQt6.QtGui import QFontMetricsF, QPainter, QPaintEvent, QPen, QResizeEvent
from PyQt6.QtWidgets import QHBoxLayout, QSizePolicy, QVBoxLayout, QWidget

from nub_shift.editing.document import Document
from nub_shift.editing.waiting import Heard, Waiting
from nub_shift.model.controls import Finger, by_finger
from nub_shift.model.profile import BASE_LAYER
from nub_shift.ui.frame.live import Live
from nub_shift.ui.look.theme import Theme
from nub_shift.ui.map.editor.control_editor import ControlEditor
from nub_shift.ui.map.editor.slot_grid import columns, shown_slots
from nub_shift.ui.map.instrument import Instrument


class Lanes(QWidget):
    """All lanes of a pad.

    Attributes:
        opened: the opened control, or None.

    Signals:
        open_asked(str): an instrument was clicked; the control's name.
        closed(): the opened control was closed.
        refused(str): what was written in it cannot be taken, and why.
        resized(): they take more room, or less.
        move_given(str, str): a move was dropped on a control: the control, the move.
    """

    open_asked = pyqtSignal(str)
    closed = pyqtSignal()
    refused = pyqtSignal(str)
    resized = pyqtSignal()
    move_given = pyqtSignal(str, str)

    def __init__(
        self, theme: Theme, document: Document, live: Live, waiting: Waiting, parent: QWidget | None = None
    ) -> None:
        super().__init__(parent)
        self.theme = theme
        self.opened: ControlEditor | None = None
        self.instruments: dict[str, Instrument] = {}
        self._document = document
        self._live = live
        self._waiting = waiting
        waiting.on_change(self._follow_waiting)
        self._layer_id = BASE_LAYER
        self._lanes: dict[Finger, Lane] = {}
        self._row = QHBoxLayout(self)
        self._row.setContentsMargins(0, 0, 0, 0)
        self._row.setSpacing(theme.px(4))

    def set_controls(self, controls: tuple[str, ...]) -> None:
        """Lays out the lanes for a pad with these controls."""
        self.close_control()
        for lane in self._lanes.values():
            self._row.removeWidget(lane)
            lane.deleteLater()
        self._lanes.clear()
        self.instruments.clear()
        for finger, names in by_finger(controls).items():
            lane = Lane(self.theme, finger)
            for name in names:
                instrument = Instrument(self.theme, name, self._live)
                instrument.given.connect(lambda move, found=name: self.move_given.emit(found, move))
                instrument.clicked.connect(lambda _checked, found=name: self.open_asked.emit(found))
                instrument.stepped.connect(partial(self._step, name))
                self.instruments[name] = instrument
                lane.add(instrument)
            self._lanes[finger] = lane
            self._row.addWidget(lane, 1)

    def show_layer(self, layer_id: str) -> None:
        """Shows what every control does in a layer."""
        self._layer_id = layer_id
        for instrument in self.instruments.values():
            instrument.show_layer(self._document.profile, layer_id, self._document.layout())
        opened = self.opened
        if opened is None:
            return
        profile = self._document.profile
        same = opened.grid.layers == columns(profile, layer_id)
        if same and opened.grid.slots == shown_slots(profile, opened.control.name):
            opened.show_profile(self._document.profile)
            return
        # Other layers, other columns: it is opened anew, with the same slot chosen.
        cell = opened.cell
        self.close_control()
        opened = self.open_control(opened.control.name)
        if cell is not None:
            shown = cell.layer_id if cell.layer_id in opened.grid.layers else layer_id
            opened.choose(shown, cell.slot, listen=False)

    def _step(self, name: str, across: int, down: int) -> None:
        """The focus goes from one instrument to the next in its lane, or to the one beside it in the next lane."""
        lanes = list(by_finger(self.instruments).values())
        lane = next(index for index, names in enumerate(lanes) if name in names)
        row = lanes[lane].index(name) + down
        lane = min(max(lane + across, 0), len(lanes) - 1)
        target = self.instruments[lanes[lane][min(max(row, 0), len(lanes[lane]) - 1)]]
        target.setFocus(Qt.FocusReason.TabFocusReason)

    def follow_live(self) -> None:
        """Follows the pad."""
        for instrument in self.instruments.values():
            instrument.follow_live()

    def _follow_waiting(self) -> None:
        if self.opened is not None:
            self.opened.follow_waiting()

    def open_control(self, name: str) -> ControlEditor:
        """Opens a control in its lane, which widens; another one that was open closes."""
        if self.opened is not None and self.opened.control.name == name:
            return self.opened
        self.close_control()
        layers = columns(self._document.profile, self._layer_id)
        opened = ControlEditor(self.theme, self._document, self._waiting, name, self._live.printed, layers)
        opened.closed.connect(self._on_closed)
        opened.refused.connect(self.refused)
        instrument = self.instruments[name]
        lane = self._lanes[opened.control.finger]
        lane.swap(instrument, opened)
        self._row.setStretchFactor(lane, 0)
        wide = self.theme.px(90 + 160 * max(2, min(3, len(self._document.profile.layers))))
        lane.setMinimumWidth(max(wide, opened.minimumSizeHint().width() + self.theme.px(10)))
        self.opened = opened
        # The room that it takes is made at once, or everything would be painted twice.
        self.resize(self.minimumSizeHint().expandedTo(self.size()))
        return opened

    def close_control(self) -> None:
        """Closes the opened control."""
        opened, self.opened = self.opened, None
        if opened is None:
            return
        if self._waiting.for_slot:
            self._waiting.heard(Heard.CANCELLED)
        lane = self._lanes[opened.control.finger]
        lane.swap_back(opened, self.instruments[opened.control.name])
        self._row.setStretchFactor(lane, 1)
        lane.setMinimumWidth(0)
        opened.deleteLater()

    def resizeEvent(self, event: QResizeEvent | None) -> None:
        super().resizeEvent(event)
        self.resized.emit()

    def _on_closed(self) -> None:
        self.close_control()
        self.closed.emit()


class Lane(QWidget):
    """One finger's controls under its name."""

    def __init__(self, theme: Theme, finger: Finger) -> None:
        super().__init__()
        self.theme = theme
        self._finger = finger
        self.setAccessibleName(finger.value)
        self.setSizePolicy(QSizePolicy.Policy.Expanding, QSizePolicy.Policy.Expanding)
        self._column = QVBoxLayout(self)
        self._column.setContentsMargins(theme.px(4), theme.px(28), theme.px(4), theme.px(4))
        self._column.setSpacing(theme.px(3))
        self._column.addStretch(1)

    def add(self, instrument: QWidget) -> None:
        """Another control, below those that are there."""
        self._column.insertWidget(self._column.count() - 1, instrument)

    def swap(self, instrument: Instrument, opened: ControlEditor) -> None:
        """Shows an opened control instead of its instrument."""
        self._column.insertWidget(self._column.indexOf(instrument), opened)
        opened.show()  # a layout would show it later, and count its room later
        instrument.hide()

    def swap_back(self, opened: ControlEditor, instrument: Instrument) -> None:
        """Shows the instrument again."""
        self._column.removeWidget(opened)
        opened.hide()  # or it would be painted until it is deleted
        instrument.show()

    def paintEvent(self, event: QPaintEvent | None) -> None:
        theme = self.theme
        if event is not None and event.rect().top() > theme.px(28):
            return  # an instrument moves: the head stands as it was drawn
        painter = QPainter(self)
        painter.setRenderHint(QPainter.RenderHint.Antialiasing)
        painter.setFont(theme.font(0.92, bold=True))
        painter.setPen(theme.colour("ink"))
        room = QRectF(theme.px(11), 0, self.width() - theme.px(14), theme.px(22))
        text = QFontMetricsF(painter.font()).elidedText(self._finger.value, Qt.TextElideMode.ElideRight, room.width())
        painter.drawText(room, Qt.AlignmentFlag.AlignVCenter, text)
        painter.setPen(QPen(theme.colour("pad"), 2))
        y = float(theme.px(24))
        painter.drawLine(QPointF(theme.px(6), y), QPointF(self.width() - theme.px(6), y))

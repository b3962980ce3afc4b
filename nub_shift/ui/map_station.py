"""Station Map: the game's moves at the left, the finger lanes beside them, two touches to a binding."""

from __future__ import annotations

from PyQt6.QtCore import Qt, pyqtSignal
from PyQt6.QtGui import QKeyEvent
from PyQt6.QtWidgets import QHBoxLayout, QScrollArea, QWidget

from nub_shift.model.actions import Assignment
from nub_shift.model.controls import CONTROL_OF_SLOT, CONTROLS, Finger, Kind
from nub_shift.model.profile import BASE_LAYER
from nub_shift.ui.document import Document
from nub_shift.ui.lanes import Lanes
from nub_shift.ui.live import Live
from nub_shift.ui.move_list import MoveList
from nub_shift.ui.opened import OpenedControl
from nub_shift.ui.theme import Theme


class MapStation(QWidget):
    """Where bindings are made.

    Attributes:
        layer_id: the layer that the lanes show.
        follow_touches: whether a touch on the pad opens its control.

    Signals:
        layer_shown(str): the lanes now show another layer.
    """

    layer_shown = pyqtSignal(str)

    def __init__(self, theme: Theme, document: Document, live: Live, parent: QWidget | None = None) -> None:
        super().__init__(parent)
        self.layer_id = BASE_LAYER
        self.follow_touches = True
        self._document = document
        self._live = live
        self._controls: tuple[str, ...] = ()
        self._printed: dict[str, str] = {}
        self.moves = MoveList(theme)
        self.moves.setFixedWidth(theme.px(238))
        self.moves.picked.connect(self._on_move_picked)
        self.lanes = Lanes(theme, document, live)
        self.lanes.open_asked.connect(self._on_open_asked)
        self.lanes.closed.connect(self._on_control_closed)
        scroll = QScrollArea()
        scroll.setWidgetResizable(True)
        scroll.setWidget(self.lanes)
        scroll.setFocusPolicy(Qt.FocusPolicy.NoFocus)
        row = QHBoxLayout(self)
        row.setContentsMargins(theme.px(14), theme.px(8), theme.px(8), theme.px(4))
        row.setSpacing(theme.px(12))
        row.addWidget(self.moves)
        row.addWidget(scroll, 1)
        document.on_change(self._on_document_changed)
        live.changed.connect(self._on_live_changed)
        live.touched.connect(self._on_touched)
        live.state_changed.connect(self._on_state_changed)
        self._set_controls(_usual_controls())
        self._on_document_changed()

    def show_layer(self, layer_id: str) -> None:
        """Shows another layer in the lanes."""
        if layer_id != self.layer_id:
            self.layer_id = layer_id
            self.lanes.show_layer(layer_id)
            self.layer_shown.emit(layer_id)

    def open_slot(self, slot: str, listen: bool) -> OpenedControl:
        """Opens the control of a slot and chooses its cell in the shown layer."""
        opened = self.lanes.open_control(CONTROL_OF_SLOT[slot].name)
        opened.choose(self.layer_id, slot, listen)
        return opened

    def forget_keys(self) -> None:
        """A shortcut of the window was pressed: what is held is no binding."""
        if self.lanes.opened is not None and self.lanes.opened.cell is not None:
            self.lanes.opened.cell.forget_keys()

    def keyPressEvent(self, event: QKeyEvent | None) -> None:
        if event is not None and event.key() == Qt.Key.Key_Escape and self.lanes.opened is not None:
            self.lanes.close_control()
            self._on_control_closed()
            return
        super().keyPressEvent(event)

    def _on_open_asked(self, control: str) -> None:
        found = next(item for item in CONTROLS if item.name == control)
        # The first slot of a stick, or of motion, is its whole, which takes no key; the next one listens instead.
        slot = found.slots[1] if found.kind in (Kind.STICK, Kind.MOTION, Kind.SURFACE) else found.slots[0]
        self.open_slot(slot, listen=True)

    def _on_control_closed(self) -> None:
        self.moves.list.setFocus(Qt.FocusReason.OtherFocusReason)

    def _on_touched(self, slot: str) -> None:
        window = self.window()
        if not (self.follow_touches and self.isVisible() and window is not None and window.isActiveWindow()):
            return
        if self._live.state is not None and self._live.state.live:
            return
        if self._brings_layer(slot):
            return
        self.show_layer(self._live.layers[-1])
        self.open_slot(slot, listen=True)

    def _brings_layer(self, slot: str) -> bool:
        """Whether the touch just brought a layer on: the next touch is then meant for that layer."""
        layers = (self._document.profile.layer(layer) for layer in self._live.layers)
        found = (layer.slots.get(slot) for layer in layers if layer is not None)
        return any(assignment is not None and assignment.layer in self._live.layers for assignment in found)

    def _on_move_picked(self, move_id: str) -> None:
        opened = self.lanes.opened
        move = self._document.profile.move(move_id)
        if opened is None or move is None:
            return
        if move.look:
            choice = {Kind.STICK: opened.look, Kind.SURFACE: opened.look, Kind.MOTION: opened.turn}.get(
                opened.control.kind
            )
            if choice is not None:
                choice.click()
        else:
            opened.give(Assignment(move=move_id))

    def _on_document_changed(self) -> None:
        profile = self._document.profile
        if profile.layer(self.layer_id) is None:
            self.layer_id = BASE_LAYER
        self.moves.show_profile(profile)
        self.lanes.show_layer(self.layer_id)

    def _on_live_changed(self) -> None:
        if self.isVisible():
            self.lanes.follow_live()

    def _on_state_changed(self) -> None:
        seat = self._live.seat
        if seat is not None and seat.pad.controls:
            self._set_controls(seat.pad.controls)
            if seat.pad.printed != self._printed:
                self._printed = seat.pad.printed
                self.lanes.show_layer(self.layer_id)

    def _set_controls(self, controls: tuple[str, ...]) -> None:
        if controls != self._controls:
            self._controls = controls
            self.lanes.set_controls(controls)
            self.lanes.show_layer(self.layer_id)


def _usual_controls() -> tuple[str, ...]:
    """What is shown before any pad has been seen."""
    rare = (Finger.PALMS, Finger.WRISTS, Finger.OTHER)
    return tuple(control.name for control in CONTROLS if control.finger not in rare)

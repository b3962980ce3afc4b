"""Station Map: moves at the left, finger lanes beside them; a binding takes two clicks or presses."""

from __future__ import annotations

from collections.abc import Callable
from functools import partial
from typing import TYPE_CHECKING

from PyQt6.QtCore import QPoint, Qt, QTimer, pyqtSignal
from PyQt6.QtGui import QHideEvent, QKeyEvent, QResizeEvent
from PyQt6.QtWidgets import QHBoxLayout, QStackedWidget, QVBoxLayout, QWidget

from nub_shift.advice.clashes import Clash
from nub_shift.advice.relocation import find_displaced
from nub_shift.editing.document import Document
from nub_shift.editing.edits import slots as slot_edits
from nub_shift.editing.waiting import Awaited, Wait, WaitEvent, Waiting
from nub_shift.editing.words.fullness import fullness
from nub_shift.model.controls import (
    CONTROL_BY_NAME,
    CONTROL_OF_SLOT,
    CONTROLS,
    Control,
    Finger,
    Fingers,
    Kind,
)
from nub_shift.model.profile.actions import Action
from nub_shift.model.profile.effects import DoMove, HoldLayer
from nub_shift.model.profile.profile import BASE_LAYER
from nub_shift.model.slot_names import slot_name
from nub_shift.translation import inside, tr
from nub_shift.ui.frame.live import Live
from nub_shift.ui.look.theme import Theme
from nub_shift.ui.map.clash_list import ClashList
from nub_shift.ui.map.control_taker import ControlTaker
from nub_shift.ui.map.dock import Dock
from nub_shift.ui.map.game_tools import GameTools
from nub_shift.ui.map.lane import HEAD
from nub_shift.ui.map.lanes import Lanes
from nub_shift.ui.map.layer_compare import LayerCompare
from nub_shift.ui.map.layer_table import LayerTable
from nub_shift.ui.map.move_list import MoveList
from nub_shift.ui.map.places import Places
from nub_shift.ui.settings import listening_ms
from nub_shift.ui.widgets.key_input import KeyCatcher
from nub_shift.ui.widgets.layouts import quiet_scroll

if TYPE_CHECKING:
    from nub_shift.ui.map.editor.control_editor import ControlEditor

# Height below which the station shows three rows of lanes only.
_TIGHT = 300
# Width of the list of moves, and its width in a station narrower than the third number.
_MOVES, _NARROW_MOVES, _NARROW = 238, 200, 600


class MapStation(QWidget):
    """Station for assignments.

    Attributes:
        layer_id: shown layer.
        follow_touches: whether a press on the pad opens its control.
        waiting: present wait.

    Signals:
        layer_shown(str): another layer is shown.
        said(str): a line for the person.
        table_left(): a cell of the table was chosen, and the lanes are shown again.
    """

    layer_shown = pyqtSignal(str)
    said = pyqtSignal(str)
    table_left = pyqtSignal()

    def __init__(
        self, theme: Theme, document: Document, live: Live, clock: Callable[[], int], parent: QWidget | None = None
    ) -> None:
        super().__init__(parent)
        self.layer_id = BASE_LAYER
        self.follow_touches = True
        self._document = document
        self._live = live
        self._controls: tuple[str, ...] = ()
        self._fingers: Fingers = {}
        self._path = document.path
        self._pinned = BASE_LAYER  # layer chosen by the person; an active layer is shown in its place
        self._printed: dict[str, str] = {}
        self.waiting = Waiting(lambda: clock() // 1000, listening_ms())
        self._taker = ControlTaker(document, self.waiting, self)
        self._taker.said.connect(self.said)
        self._taker.partner_taken.connect(partial(self.open_slot, listen=True))
        self._taker.layer_activated.connect(self.show_layer)
        self.moves = MoveList(theme, self.waiting, document.layout)
        self.moves.setFixedWidth(theme.px(_NARROW_MOVES))
        self.moves.picked.connect(self._on_move_picked)
        self.moves.group_picked.connect(self._on_group_picked)
        self.moves.edited.connect(document.edit)
        self.moves.refused.connect(self.said)
        self.lanes = Lanes(theme, document, live)
        self.lanes.open_requested.connect(self._on_open_requested)
        self._sharing = QTimer(self)  # delayed, since a height cannot change during a layout
        self._sharing.setSingleShot(True)
        self._sharing.timeout.connect(self._share_room)
        self.lanes.arranged.connect(self._sharing.start)
        self.lanes.stepped_to.connect(self._show_control)
        self.lanes.move_given.connect(self._on_move_given)
        self.dock = Dock(theme, document, live, self.waiting)
        self.dock.changed.connect(self._on_opened)
        self.dock.closed.connect(self._on_control_closed)
        self.dock.refused.connect(self.said)
        self._scroll = quiet_scroll(self.lanes)
        self.clashes = ClashList(theme)
        self.clashes.picked.connect(self._on_clash_picked)
        self.clashes.wanted.connect(partial(self.moves.show_in_place, self.clashes.rows))
        self.moves.show_in_place(self.clashes.rows, False)
        left = QVBoxLayout()
        left.setSpacing(theme.px(4))
        left.addWidget(self.moves, 1)
        left.addWidget(self.clashes)
        self.game = GameTools(theme, document)
        self.moves.head.addWidget(self.game)
        row = QHBoxLayout()
        row.setSpacing(theme.px(12))
        row.addLayout(left)
        self.table = LayerTable(theme)
        self.table.picked.connect(self._on_place_picked)
        self._sheets = QStackedWidget()
        self._sheets.addWidget(self._scroll)
        self._sheets.addWidget(self.table)
        self.compare = LayerCompare(theme, document)
        self.places = Places(theme, document)
        for sheet in (self.compare, self.places):
            sheet.closed.connect(self._on_sheet_closed)
            self._sheets.addWidget(sheet)
        self.dock.places_requested.connect(self.show_places)
        right = QVBoxLayout()
        right.setSpacing(theme.px(4))
        right.addWidget(self._sheets, 1)
        right.addWidget(self.dock)
        row.addLayout(right, 1)
        column = QVBoxLayout(self)
        column.setContentsMargins(theme.px(14), theme.px(8), theme.px(8), theme.px(2))
        column.addLayout(row, 1)
        document.on_change(self._on_document_changed)
        live.changed.connect(self._on_live_changed)
        live.touched.connect(self._on_touched)
        live.state_changed.connect(self._on_state_changed)
        self._set_controls(_usual_controls(), {})
        self._on_document_changed()

    @property
    def opened(self) -> ControlEditor | None:
        """The opened control, or None."""
        return self.dock.opened

    @property
    def areas(self) -> tuple[QWidget, ...]:
        """Areas for the keyboard: the moves, the lanes or what replaces them, and the opened control."""
        return self.moves.sheets, self._sheets, self.dock

    def show_layer(self, layer_id: str) -> None:
        """Shows another layer in the lanes, active or not; presses on the pad then edit this layer."""
        self._pinned = layer_id
        self._show_layer(layer_id)

    def _show_layer(self, layer_id: str) -> None:
        if layer_id != self.layer_id:
            self.layer_id = layer_id
            self._follow_layer()
            self.layer_shown.emit(layer_id)

    def _follow_layer(self) -> None:
        self.lanes.show_layer(self.layer_id)
        self.dock.show_layer(self.layer_id)

    def _on_opened(self, control: str) -> None:
        self.lanes.show_opened(control)
        if control:
            self._show_control(control)

    def _show_control(self, control: str) -> None:
        """Scrolls to a control, below the names of the fingers."""
        shown, bar = self.lanes.instruments[control], self._scroll.verticalScrollBar()
        if bar is not None:
            top = shown.mapTo(self.lanes, QPoint(0, 0)).y()
            lowest = top - self.lanes.theme.px(HEAD)
            bar.setValue(min(max(bar.value(), top + shown.height() - bar.pageStep()), lowest))

    def show_table(self, on: bool) -> None:
        """Shows the table of all layers in place of the lanes."""
        self._show_sheet(self.table if on else self._scroll)
        if on:
            self.table.show_profile(self._document.profile, self._document.layout())
            self.table.setFocus(Qt.FocusReason.OtherFocusReason)

    def show_difference(self, layer_id: str, other_id: str) -> None:
        """Shows the differences between two layers in place of the lanes."""
        self._show_sheet(self.compare)
        self.compare.show_layers(layer_id, other_id)

    def _show_sheet(self, sheet: QWidget) -> None:
        """Shows the lanes, or a widget in place of lanes and opened control."""
        self._sheets.setCurrentWidget(sheet)
        self.dock.set_low(sheet is not self._scroll)

    def show_places(self) -> None:
        """Shows places for assignments on missing controls, in place of the lanes."""
        self.dock.close_control()
        self._show_sheet(self.places)
        self.places.show_controls(self._controls)

    def _on_sheet_closed(self) -> None:
        self._show_sheet(self._scroll)
        self.table_left.emit()

    def await_layer(self, layer_id: str) -> None:
        """Awaits the control that activates a new layer while held."""
        self.dock.close_control()
        self.waiting.begin(Wait(Awaited.LAYER_CONTROL, layer_id))

    def update_look(self) -> None:
        """Updates colours after a change of the theme."""
        self.dock.show_layer(self.layer_id)
        if self._sheets.currentWidget() is self.table:
            self.table.show_profile(self._document.profile, self._document.layout())

    def set_follow(self, on: bool) -> None:
        """Sets whether a press on the pad opens its control."""
        self.follow_touches = on
        self.dock.wait_line.set_follows(on)

    def open_slot(self, slot: str, listen: bool) -> ControlEditor:
        """Opens the control of a slot and selects its cell in the shown layer."""
        opened = self.dock.open_control(CONTROL_OF_SLOT[slot].name)
        opened.choose(self.layer_id, slot, listen)
        return opened

    def forget_keys(self) -> None:
        """Discards held keys, which belong to a shortcut of the window."""
        for catcher in self.findChildren(KeyCatcher):
            catcher.forget()

    def hideEvent(self, event: QHideEvent | None) -> None:
        """Ends the wait when another station is shown."""
        self.waiting.handle_event(WaitEvent.CANCELLED)
        super().hideEvent(event)

    def keyPressEvent(self, event: QKeyEvent | None) -> None:
        if event is None or event.key() != Qt.Key.Key_Escape or not self._close_topmost():
            super().keyPressEvent(event)

    def _close_topmost(self) -> bool:
        """Ends the wait, or else closes what was opened last; returns whether there was anything."""
        if self.waiting.wait.awaited is not Awaited.NOTHING:
            self.waiting.handle_event(WaitEvent.CANCELLED)
        elif self._sheets.currentWidget() is not self._scroll:
            self._on_sheet_closed()
        elif self.opened is not None and self.opened.edits.panel is not None:
            self.opened.close_part()
        elif self.opened is not None:
            self.dock.close_control()
            self._on_control_closed()
        elif self.clashes.head.isChecked():
            self.clashes.head.setChecked(False)
            self.clashes.head.setFocus(Qt.FocusReason.OtherFocusReason)
        else:
            return False
        return True

    def _on_open_requested(self, control: str) -> None:
        found = next(item for item in CONTROLS if item.name == control)
        if self.waiting.for_control:
            self._taker.take(_press_slot(found))
            return
        # The first slot of a stick, or of motion, is its whole, which takes no key; the next one is selected instead.
        slot = found.slots[1] if found.kind in (Kind.STICK, Kind.MOTION, Kind.SURFACE) else found.slots[0]
        self.open_slot(slot, listen=False)  # looking must not replace anything

    def _on_control_closed(self) -> None:
        self.moves.first.setFocus(Qt.FocusReason.OtherFocusReason)

    def _on_touched(self, slot: str) -> None:
        window = self.window()
        followed = self.follow_touches or self.waiting.for_control
        if not (followed and self.isVisible() and window is not None and window.isActiveWindow()):
            return
        if self._live.state is not None and self._live.state.live:
            return
        if self.waiting.for_control:
            self._taker.take(slot)
            return
        if self._activates_layer(slot):
            return
        on = self._live.layers[-1]
        self._show_layer(self._pinned if on == BASE_LAYER else on)
        self.open_slot(slot, listen=True)

    def _activates_layer(self, slot: str) -> bool:
        """Returns whether a press has just activated a layer, which the next press is then meant for."""
        layers = (self._document.profile.layer(layer) for layer in self._live.layers)
        found = (layer.slots.get(slot) for layer in layers if layer is not None)
        effects = (assignment.effect for assignment in found if assignment is not None)
        return any(isinstance(effect, HoldLayer) and effect.layer in self._live.layers for effect in effects)

    def _takes_a_click(self, opened: ControlEditor) -> bool:
        """Returns whether a click in the list assigns to the opened control, without replacing anything unasked."""
        return opened.edits.panel is not None or self.waiting.for_slot or opened.edits.is_empty

    def _on_move_picked(self, move_id: str) -> None:
        opened = self.opened
        move = self._document.profile.move(move_id)
        if opened is None or move is None:
            return
        if not self._takes_a_click(opened):
            self.said.emit(
                tr("To have a control do {move}: press it on the pad or click its slot, then the move", move=move.label)
            )
            return
        if move.look:
            opened.whole.look_around()
        else:
            opened.edits.give(Action.of(DoMove(move_id)))

    def _on_move_given(self, control: str, move_id: str) -> None:
        """Assigns a dropped move to the press of a control, or looking around to a stick."""
        found = CONTROL_BY_NAME[control]
        move = self._document.profile.move(move_id)
        whole = move is not None and move.look and found.slots[0] == control
        self.open_slot(found.slots[0] if whole else _press_slot(found), listen=not whole)
        if whole and self.opened is not None:
            self.opened.whole.look_around()
        else:
            self._on_move_picked(move_id)

    def _on_group_picked(self, group: str) -> None:
        """Assigns a group: a carousel to a selected button, or a ring to a stick."""
        if self.opened is None or self.opened.edits.cell is None or not self._takes_a_click(self.opened):
            self.said.emit(
                tr("To step through {group}: press a control on the pad, or click a slot, then {group}", group=group)
            )
        elif group not in slot_edits.groups_to_list(self._document.profile):
            self.said.emit(tr("{group} has no two moves with keys", group=group))
        else:
            self.opened.edits.give_group(group)

    def _on_place_picked(self, layer_id: str, slot: str) -> None:
        if CONTROL_OF_SLOT[slot].name in self.lanes.instruments:
            self.show_layer(layer_id)
            self.table_left.emit()
            self.open_slot(slot, listen=False)
        else:
            self.said.emit(tr("This pad has no {label}", label=inside(CONTROL_OF_SLOT[slot].label)))

    def _on_clash_picked(self, clash: Clash) -> None:
        if clash.move:
            self.clashes.head.setChecked(False)
            self.moves.choose(clash.move)
        if clash.layer:
            self.show_layer(clash.layer)
        if clash.lacking:
            self.clashes.head.setChecked(False)
            self.show_places()
        elif clash.slot:
            self._on_place_picked(clash.layer, clash.slot)

    def _on_document_changed(self) -> None:
        profile = self._document.profile
        if self._document.path != self._path:  # the opened control and the wait belong to another profile
            self._path = self._document.path
            self.waiting.handle_event(WaitEvent.CANCELLED)
            self.dock.close_control()
        if profile.layer(self._pinned) is None:
            self._pinned = BASE_LAYER
        if profile.layer(self.layer_id) is None:
            self.layer_id = BASE_LAYER
        self.moves.show_profile(profile, self._controls)
        self._look_over()
        if self._sheets.currentWidget() is self.table:
            self.table.show_profile(profile, self._document.layout())
        if self._sheets.currentWidget() is self.compare:
            self.compare.update_profile()
        self._follow_layer()

    def _on_live_changed(self) -> None:
        if self.isVisible():
            self.lanes.update_live()

    def _on_state_changed(self) -> None:
        seat = self._live.seat
        self.lanes.show_plugged(seat is None or bool(seat.pad.name))
        if seat is not None and seat.pad.controls:
            self._set_controls(seat.pad.controls, seat.pad.fingers)
            if seat.pad.printed != self._printed:
                self._printed = seat.pad.printed
                self._follow_layer()

    def _look_over(self) -> None:
        """Updates probable mistakes, and assignments on missing controls."""
        profile = self._document.profile
        self.clashes.show_profile(profile, self._controls, self._fingers)
        self.dock.show_displaced(find_displaced(profile, self._controls))
        self.dock.show_fullness(fullness(profile, self._controls, self._fingers, self.moves.unassigned))

    def resizeEvent(self, event: QResizeEvent | None) -> None:
        """Adapts the heights: lanes first, until a control is opened."""
        super().resizeEvent(event)
        theme = self.dock.theme
        self.moves.setFixedWidth(theme.px(_NARROW_MOVES if self.width() < theme.px(_NARROW) else _MOVES))
        self._sharing.start()

    def _share_room(self) -> None:
        room = self.height() - self.lanes.minimumSizeHint().height()
        self.dock.set_room(room, self.height() < self.dock.theme.px(_TIGHT))

    def _set_controls(self, controls: tuple[str, ...], fingers: Fingers) -> None:
        if (controls, fingers) != (self._controls, self._fingers):
            self._controls, self._fingers = controls, fingers
            self.waiting.handle_event(WaitEvent.CANCELLED)
            self.dock.close_control()
            self.lanes.set_controls(controls, fingers)
            self._follow_layer()
            self.moves.show_profile(self._document.profile, controls)
            self._look_over()
            if self._sheets.currentWidget() is self.places:
                self.places.show_controls(controls)


def _press_slot(control: Control) -> str:
    """Returns the slot of a control that is pressed like a button: a stick's click, a trigger's light stage."""
    click = slot_name(control.name, "click")
    if click in control.slots:
        return click
    return control.slots[1] if control.kind is Kind.MOTION else control.slots[0]


def _usual_controls() -> tuple[str, ...]:
    """Returns the controls shown before the first pad."""
    rare = (Finger.PALMS, Finger.WRISTS, Finger.OTHER)
    return tuple(control.name for control in CONTROLS if control.finger not in rare)

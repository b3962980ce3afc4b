"""Buttons for common uses of a whole stick, surface or the gyro."""

from __future__ import annotations

from functools import partial

from PyQt6.QtCore import pyqtSignal
from PyQt6.QtWidgets import QWidget

from nub_shift.editing.document import Document
from nub_shift.editing.edits import bindings as edits
from nub_shift.editing.edits import slots as slot_edits
from nub_shift.model.controls import CONTROLS, MOTION_SLOT, STICK_SLOTS, Control, Kind
from nub_shift.model.profile.effects import Turn
from nub_shift.translation import tr
from nub_shift.ui.look.theme import Theme
from nub_shift.ui.widgets.buttons import TextButton
from nub_shift.ui.widgets.flow import Flow


class WholeChoices(QWidget):
    """Buttons of one control, for the edited layer.

    Attributes:
        layer_id: edited layer.
        movement, look: for a stick or surface.
        turn, turn_while: for the gyro.
        row: their layout.

    Signals:
        turning_requested(): turning moves the pointer while the next pressed control is held.
    """

    turning_requested = pyqtSignal()

    def __init__(self, theme: Theme, document: Document, parent: QWidget | None = None) -> None:
        super().__init__(parent)
        self.layer_id = ""
        self._document = document
        self._control = CONTROLS[0]
        self.movement = TextButton(theme, tr("Movement keys"), tr("The game's four walking moves, eight ways"))
        self.movement.clicked.connect(self._on_movement)
        self.look = TextButton(theme, tr("Look around"), tr("Move the pointer"))
        self.look.clicked.connect(self._on_look)
        self.turn = TextButton(theme, tr("Turn the view"), tr("Turning the pad moves the pointer"))
        self.turn.clicked.connect(self._on_turn)
        self.turn_while = TextButton(
            theme, tr("While held …"), tr("Then press the control that turns the gyro on while it is held")
        )
        self.turn_while.clicked.connect(self.turning_requested)
        self.row = Flow(theme.px(6), self, grows=True)
        for choice in (self.movement, self.look, self.turn, self.turn_while):
            self.row.addWidget(choice)

    def show_control(self, control: Control) -> None:
        """Shows the buttons of another control."""
        self._control = control
        for choice in (self.movement, self.look):
            choice.setVisible(control.name in STICK_SLOTS)
        for choice in (self.turn, self.turn_while):
            choice.setVisible(control.name == MOTION_SLOT)

    def look_around(self) -> bool:
        """Assigns looking around to the control; returns whether it can."""
        match self._control.kind:
            case Kind.STICK | Kind.SURFACE:
                self._on_look()
            case Kind.MOTION:
                self._on_turn()
            case _:
                return False
        return True

    def _on_movement(self) -> None:
        walk = partial(edits.bind_movement, layer_id=self.layer_id, stick=self._control.name)
        self._document.edit(tr("{control}: movement keys", control=self._control.label), walk)

    def _on_look(self) -> None:
        look = partial(edits.bind_look, layer_id=self.layer_id, stick=self._control.name)
        self._document.edit(tr("{control}: look around", control=self._control.label), look)

    def _on_turn(self) -> None:
        turn = partial(slot_edits.set_use, layer_id=self.layer_id, slot=MOTION_SLOT, use=Turn())
        self._document.edit(tr("{control}: turn the view", control=self._control.label), turn)

"""Controls pressed or clicked for a wait, passed to its purpose."""

from __future__ import annotations

from PyQt6.QtCore import QObject, pyqtSignal

from nub_shift.editing.document import Document
from nub_shift.editing.edits import shared_parts as part_edits
from nub_shift.editing.edits import slots as slot_edits
from nub_shift.editing.waiting import Awaited, Wait, WaitEvent, Waiting
from nub_shift.editing.words.labels import action_label
from nub_shift.model.controls import slot_label
from nub_shift.model.profile.actions import Action
from nub_shift.model.profile.effects import HoldLayer
from nub_shift.model.profile.profile import BASE_LAYER
from nub_shift.model.profile.reactions import Reaction
from nub_shift.model.references.assignments import action_of, own_assignment
from nub_shift.translation import inside, tr


class ControlTaker(QObject):
    """Fulfils the purpose of a wait with the chosen control.

    Signals:
        said(str): a line for the person.
        partner_taken(str): slot of a combination to open, which then awaits a key.
        layer_activated(str): layer that has got its activating control.
    """

    said = pyqtSignal(str)
    partner_taken = pyqtSignal(str)
    layer_activated = pyqtSignal(str)

    def __init__(self, document: Document, waiting: Waiting, parent: QObject | None = None) -> None:
        super().__init__(parent)
        self._document = document
        self._waiting = waiting
        self._requested = ""  # slot whose replacement needs a second press
        waiting.on_control(self._on_control)

    def take(self, slot: str) -> None:
        """Uses a slot for the present wait. An assigned slot has to be pressed twice."""
        wait = self._waiting.wait
        if wait.awaited is Awaited.PARTNER:
            self.partner_taken.emit(slot)
        elif wait.awaited is Awaited.LAYER_CONTROL and self._would_replace(slot):
            self._waiting.extend()
        else:
            self._waiting.handle_event(WaitEvent.CONTROL, slot)

    def _would_replace(self, slot: str) -> bool:
        """Returns whether a layer would replace the slot's action; warns once, the next press replaces."""
        profile = self._document.profile
        press = action_of(own_assignment(profile, BASE_LAYER, slot), Reaction.PRESS)
        if press is None or slot == self._requested:
            self._requested = ""
            return False
        self._requested = slot
        words = action_label(profile, press, self._document.layout())
        self.said.emit(tr("Press {slot} again to replace: {words}", slot=inside(slot_label(slot)), words=words))
        return True

    def _on_control(self, wait: Wait, slot: str) -> None:
        """Handles an awaited control that is not opened."""
        if wait.awaited is Awaited.THIRD_CONTROL:
            pair = (wait.slot, wait.partner)
            self._document.edit(
                tr("Together: {slot} too", slot=inside(slot_label(slot))),
                lambda profile: part_edits.add_third(profile, wait.layer, pair, slot),
            )
        elif wait.awaited is Awaited.LAYER_CONTROL:
            self._activate_layer(wait.layer, slot)
        else:
            self._turn_while(wait.layer, slot)

    def _turn_while(self, layer_id: str, slot: str) -> None:
        made = slot_edits.turn_while_held(self._document.profile, layer_id, slot)
        if made is None:
            self.said.emit(
                tr("{slot} does something else when it is pressed and when it is held", slot=slot_label(slot))
            )
        else:
            what = tr("Turning moves the pointer while {slot} is held", slot=inside(slot_label(slot)))
            self._document.edit(what, lambda profile: slot_edits.turn_while_held(profile, layer_id, slot) or profile)

    def _activate_layer(self, layer_id: str, slot: str) -> None:
        """Activates a layer while that slot is held, and shows the layer."""
        layer = self._document.profile.layer(layer_id)
        if layer is None:
            return
        hold = Action.of(HoldLayer(layer_id))
        self._document.edit(
            tr("{slot}: {layer} while held", slot=slot_label(slot), layer=layer.label),
            lambda profile: slot_edits.set_action(profile, BASE_LAYER, slot, Reaction.PRESS, hold),
        )
        self.layer_activated.emit(layer_id)

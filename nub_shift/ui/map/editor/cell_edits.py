"""Commands for the selected cell: assignment of keys, moves and effects, and changes of its action."""

from __future__ import annotations

from collections.abc import Callable

from msgspec.structs import replace
from PyQt6.QtCore import QObject, Qt, pyqtSignal

from nub_shift.editing.document import Document, Edit
from nub_shift.editing.edits import bindings as edits
from nub_shift.editing.edits import layers as layer_edits
from nub_shift.editing.edits import shared_parts as part_edits
from nub_shift.editing.edits import slots as slot_edits
from nub_shift.editing.edits.slots import Making
from nub_shift.editing.waiting import Awaited, Wait, WaitEvent, Waiting
from nub_shift.editing.words.effects import use_label
from nub_shift.editing.words.labels import MANNER_WORDS, REACTION_WORDS, action_label
from nub_shift.editing.words.slot_views import layer_letter
from nub_shift.model.controls import STICK_SLOTS, slot_label
from nub_shift.model.profile.actions import Action, Manner
from nub_shift.model.profile.effects import Effect, HoldLayer, PlaySequence, PointerPosition, StickUse
from nub_shift.model.profile.listed import Sequence
from nub_shift.model.profile.profile import BASE_LAYER, Profile
from nub_shift.model.profile.reactions import Reaction
from nub_shift.model.references.assignments import action_of, shown_assignment
from nub_shift.model.references.named import Reference
from nub_shift.translation import inside, tr
from nub_shift.ui.map.editor.cell import Cell
from nub_shift.ui.map.editor.shared_part_panel import PartPanel


class CellEdits(QObject):
    """Edits the slot of the selected cell in its layer, for the selected reaction.

    The sentence, its menus and the cells call these commands. Every input goes through `_give`: into the open entries
    of a carousel or ring, to a combination, beside the action of the press, or in place of the reaction's action.

    Attributes:
        cell: selected cell, or None.
        reaction: selected reaction, which receives keys, moves and effects.
        panel: open entries of a carousel or ring, or None.
        is_besides: whether the next action is added beside the reaction's action.

    Signals:
        reaction_changed(): another reaction is selected, or the next action is added beside it.
        part_requested(Reference): carousel, ring or sequence to show for editing.
        example_requested(str): written sequence to begin with.
    """

    reaction_changed = pyqtSignal()
    part_requested = pyqtSignal(object)
    example_requested = pyqtSignal(str)

    def __init__(self, document: Document, waiting: Waiting, parent: QObject | None = None) -> None:
        super().__init__(parent)
        self.cell: Cell | None = None
        self.reaction = Reaction.PRESS
        self.panel: PartPanel | None = None
        self.is_besides = False
        self._document = document
        self._waiting = waiting

    @property
    def layer_id(self) -> str:
        """Layer of the selected cell; the base layer without one."""
        return self.cell.layer_id if self.cell is not None else BASE_LAYER

    def choose(self, cell: Cell | None) -> None:
        """Selects the cell for the next input, or none."""
        self.cell = cell
        self.is_besides = False

    def choose_reaction(self, reaction: Reaction) -> None:
        """Selects the reaction for the next input."""
        self.reaction = reaction
        self.reaction_changed.emit()

    @property
    def is_empty(self) -> bool:
        """Whether the selected slot can take a move without replacing anything: unassigned, or without the chosen
        reaction.
        """
        cell = self.cell
        if cell is None:
            return False
        shown = shown_assignment(self._document.profile, cell.layer_id, cell.slot)
        if shown is None or self.reaction is Reaction.PRESS:
            return shown is None
        return not shown.silence and not shown.uses and action_of(shown, self.reaction) is None

    def give(self, action: Action) -> None:
        """Assigns an action to the selected reaction; the slot's other reactions stay."""
        label = action_label(self._document.profile, action, self._document.layout())
        self._give(label, lambda profile: (profile, action))

    def give_keys(self, codes: tuple[str, ...]) -> None:
        """Assigns keys, or the game's move for them."""
        self.give(edits.assignment_for_keys(self._document.profile, codes))

    def write_keys(self, codes: tuple[str, ...]) -> None:
        """Assigns written keys; for a stick that places the pointer, sets the keys held meanwhile."""
        placed = self._placed()
        if placed is not None:
            self.set_amounts(tr("holds a key"), replace(placed, hold=codes))
        else:
            self.give_keys(codes)

    def write_sequence(self, sequence: Sequence) -> None:
        """Adds a new sequence to the profile and assigns it."""

        def made(profile: Profile) -> tuple[Profile, Action]:
            more = replace(profile, sequences=(*profile.sequences, sequence))
            return more, Action.of(PlaySequence(sequence.id))

        self._give(sequence.label, made)

    def give_group(self, group: str) -> None:
        """Assigns a step through a carousel of a group's moves, or a ring to a whole stick; "" is the group of other
        moves.
        """
        cell = self.cell
        label = group or tr("Moves in no group")
        if cell is None:
            return
        if cell.slot in STICK_SLOTS and self.panel is None:
            self._edit(label, lambda profile, cell: slot_edits.set_ring(profile, *cell, group))
        else:
            self._give(label, lambda profile: slot_edits.carousel_step(profile, cell.layer_id, cell.slot, group))

    def empty(self) -> None:
        """Removes the selected entry, or clears the selected reaction; without reactions, the layer below shows."""
        if self.panel is not None:
            self.panel.remove_entry()
            return
        self._edit(tr("empty"), lambda profile, cell: slot_edits.set_action(profile, *cell, self.reaction, None))

    def set_amounts(self, what: str, made: Action | StickUse) -> None:
        """Replaces the numbers and switches of the slot's action or of the selected entry."""
        if not isinstance(made, Action):
            use = made
            self._edit(what, lambda profile, cell: slot_edits.change_use(profile, *cell, use))
        elif self.panel is not None:
            self.panel.put_entry(what, made)
        else:
            action = made
            self._edit(
                what,
                lambda profile, cell: slot_edits.change_action(profile, *cell, self.reaction, lambda _: action.bare),
            )

    def _give(self, label: str, making: Making) -> None:
        if self.panel is not None:
            self.panel.give(making)
            return
        wait, reaction = self._waiting.wait, self.reaction
        if wait.awaited in (Awaited.PAIR_INPUT, Awaited.PAIR_MOVE):
            partner, slots = wait.partner, wait.together or (wait.partner, wait.slot)

            def paired(profile: Profile, cell: tuple[str, str]) -> Profile:
                more, action = making(profile)
                return part_edits.set_together_action(more, cell[0], slots, wait.reaction, action)

            self._edit(tr("with {partner}: {label}", partner=inside(slot_label(partner)), label=label), paired)
            return
        edit = slot_edits.add_action if self.is_besides else slot_edits.set_action
        what = tr("{label} besides", label=label) if self.is_besides else label
        self.is_besides = False

        def given(profile: Profile, cell: tuple[str, str]) -> Profile:
            more, action = making(profile)
            return edit(more, *cell, reaction, action)

        self._edit(what, given)

    def _edit(self, what: str, change: Callable[[Profile, tuple[str, str]], Profile]) -> None:
        cell = self.cell
        if cell is not None:
            layer_and_slot = (cell.layer_id, cell.slot)
            label = f"{slot_label(cell.slot)}: {what}"
            if self._document.edit(label, lambda profile: change(profile, layer_and_slot)):
                self._waiting.handle_event(WaitEvent.GIVEN)

    def edit(self, what: str, change: Edit) -> None:
        """Edits a part that slots share, such as a carousel or a combination."""
        self._document.edit(what, change)

    def give_effect(self, effect: Effect) -> None:
        """Assigns an effect to the selected reaction."""
        self.give(Action.of(effect))

    def set_use(self, use: StickUse) -> None:
        """Assigns a use to the whole stick, surface or motion."""
        what = use_label(self._document.profile, use)
        self._edit(what, lambda profile, cell: slot_edits.set_use(profile, *cell, use))

    def move_from(self, before: Reaction) -> None:
        """Moves the action of another reaction to the selected one."""
        what = tr("{before} → {after}", before=REACTION_WORDS[before], after=inside(REACTION_WORDS[self.reaction]))
        self._edit(what, lambda profile, cell: slot_edits.move_action(profile, *cell, before, self.reaction))

    def set_manner(self, manner: Manner, rate_hz: float) -> None:
        """Sets the manner of the reaction's action, or of the selected entry."""
        word = inside(MANNER_WORDS[manner])
        if self.panel is not None:
            self.panel.change_entry(word, manner=manner, rate_hz=rate_hz)
            return
        self._edit(
            word,
            lambda profile, cell: slot_edits.set_manner(profile, *cell, self.reaction, manner, rate_hz),
        )

    def set_time(self, milliseconds: int) -> None:
        """Sets the time of the selected reaction."""
        self._edit(
            tr("{ms} ms", ms=milliseconds),
            lambda profile, cell: slot_edits.set_time(profile, *cell, self.reaction, milliseconds),
        )

    def give_new_layer(self) -> None:
        """Adds a new layer, active while the selected slot is held."""
        label = tr("Layer {letter}", letter=layer_letter(len(self._document.profile.layers)))

        def made(profile: Profile) -> tuple[Profile, Action]:
            layer_id = layer_edits.new_id(profile, label)
            return layer_edits.add(profile, layer_id, label), Action.of(HoldLayer(layer_id))

        self._give(label, made)

    def give_besides(self) -> None:
        """Awaits an action to add beside that of the selected reaction."""
        if self.cell is not None:
            self.is_besides = True
            self.cell.listen()
            self.is_besides = True  # even if the focus comes from another cell
            self.reaction_changed.emit()

    def await_partner(self) -> None:
        """Awaits the control of a new combination with the selected slot."""
        cell = self.cell
        if cell is not None:
            self._waiting.begin(Wait(Awaited.PARTNER, cell.layer_id, cell.slot, reaction=self.reaction))

    def await_third(self, slot: str, partner: str) -> None:
        """Awaits the third control of a combination."""
        self._waiting.begin(Wait(Awaited.THIRD_CONTROL, self.layer_id, slot, partner=partner))

    def await_together(self, slots: tuple[str, ...], reaction: Reaction) -> None:
        """Awaits the next key or move for a reaction of an existing combination."""
        cell = self.cell
        if cell is not None:
            cell.setFocus(Qt.FocusReason.OtherFocusReason)
            partner = next(slot for slot in slots if slot != cell.slot)
            self._waiting.begin(Wait(Awaited.PAIR_INPUT, cell.layer_id, cell.slot, partner, slots, reaction))

    def show_part(self, reference: Reference) -> None:
        """Requests a carousel, ring or sequence to be shown for editing."""
        self.part_requested.emit(reference)

    def begin_example(self, text: str) -> None:
        """Requests a written sequence to begin with."""
        self.example_requested.emit(text)

    def _placed(self) -> PointerPosition | None:
        """Returns the selected stick's placing of the pointer, or None."""
        if self.cell is None:
            return None
        found = shown_assignment(self._document.profile, self.cell.layer_id, self.cell.slot)
        return found.use if found is not None and isinstance(found.use, PointerPosition) else None

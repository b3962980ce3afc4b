"""An opened control: its slots with its layers side by side, and what the chosen one does."""

from __future__ import annotations

from collections.abc import Callable, Mapping
from collections.abc import Sequence as Listed

from msgspec.structs import replace
from PyQt6.QtCore import Qt, QTimer, pyqtSignal
from PyQt6.QtWidgets import QBoxLayout, QHBoxLayout, QSizePolicy, QStackedWidget, QVBoxLayout, QWidget

from nub_shift.editing.document import Document
from nub_shift.editing.edits import bindings as edits
from nub_shift.editing.edits import layers as layer_edits
from nub_shift.editing.edits import shared_parts as part_edits
from nub_shift.editing.edits import slots as slot_edits
from nub_shift.editing.edits.feel import HAVING_FEEL
from nub_shift.editing.waiting import Awaited, Heard, Wait, Waiting
from nub_shift.editing.words.effects import use_label
from nub_shift.editing.words.labels import MANNER_WORDS, REACTION_WORDS, action_label
from nub_shift.editing.words.slot_views import layer_letter, slot_view
from nub_shift.model.actions import Action, Manner
from nub_shift.model.controls import CONTROL_BY_NAME, CONTROLS, MOTION_SLOT, STICK_SLOTS, slot_label
from nub_shift.model.effects import Effect, HoldLayer, PlaySequence, PointerPosition, StickUse
from nub_shift.model.labels import control_title
from nub_shift.model.listed import Sequence
from nub_shift.model.named import Reference, find
from nub_shift.model.profile import BASE_LAYER, Profile
from nub_shift.model.reactions import Assignment, Reaction
from nub_shift.store.library import titled_profiles
from nub_shift.translation import inside, tr
from nub_shift.ui.look.theme import Theme
from nub_shift.ui.map.editor.action_bar import ActionBar
from nub_shift.ui.map.editor.cell import Cell
from nub_shift.ui.map.editor.shared_part_panel import PartPanel
from nub_shift.ui.map.editor.slot_grid import SlotGrid
from nub_shift.ui.map.editor.wanted import Place
from nub_shift.ui.map.editor.whole_choices import WholeChoices
from nub_shift.ui.map.editor.written_line import WrittenLine
from nub_shift.ui.widgets.buttons import TextButton
from nub_shift.ui.widgets.layouts import quiet_scroll
from nub_shift.ui.widgets.plain import PlainLabel, set_tip
from nub_shift.ui.widgets.wrapping_row import WrappingRow

# How long a layout takes to settle.
SETTLE_MS = 30


class ControlEditor(QWidget):
    """Edits one control: its slots at the left, what the chosen one does as a sentence at the right.

    The chosen cell is the one that keys, moves and what is chosen in the sentence go to.

    Attributes:
        cell: the chosen cell, or None.
        grid: its slots in their layers.
        about: which slot the sentence is about.
        whole: what the whole of it does in one choice.
        written: where keys are named and sequences written.
        feel: the numbers of its feel, while they are shown.
        panel: the entries of a carousel or ring, while they are changed: what is given then goes there.

    Signals:
        closed(): the person is done with it.
        feel_wanted(str, str): how that control is shaped in that layer is to be shown.
        refused(str): what was written is no key and no sequence.
    """

    closed = pyqtSignal()
    feel_wanted = pyqtSignal(str, str)
    refused = pyqtSignal(str)

    def __init__(self, theme: Theme, document: Document, waiting: Waiting, parent: QWidget | None = None) -> None:
        super().__init__(parent)
        self.theme = theme
        self.control = CONTROLS[0]
        self.cell: Cell | None = None
        self._besides = False  # what is given next begins with what the slot does already
        self._document = document
        self._waiting = waiting
        self.grid = SlotGrid(theme, document, waiting, self.control.name, ())
        self.panel: PartPanel | None = None
        self._slots = quiet_scroll()
        # The entries of a part, or the numbers of a feel, stand where the slots do.
        self._sheets = QStackedWidget()
        self._sheets.addWidget(self._slots)
        # They scroll by themselves: however many there are, the sentence beside them stays in sight.
        self._sheets.setSizePolicy(QSizePolicy.Policy.Expanding, QSizePolicy.Policy.Ignored)
        left = QVBoxLayout()
        left.setSpacing(theme.px(4))
        left.addWidget(self._make_title())
        left.addWidget(self._sheets, 1)
        self._make_actions()
        right = QVBoxLayout()
        right.setSpacing(theme.px(4))
        about = QHBoxLayout()
        about.addWidget(self.about, 1)
        close = TextButton(theme, tr("Done"), tr("Close this control (Esc)"))
        close.clicked.connect(self.closed)
        about.addWidget(close)
        right.addLayout(about)
        right.addWidget(self.bar, 1)
        self._halves = QBoxLayout(QBoxLayout.Direction.LeftToRight, self)
        self._halves.setContentsMargins(theme.px(10), theme.px(2), theme.px(6), theme.px(2))
        self._halves.setSpacing(theme.px(14))
        self._halves.addLayout(left, 3)
        self._halves.addLayout(right, 2)

    def show_control(self, control: str, printed: Mapping[str, str], layers: Listed[str]) -> None:
        """Shows the slots of another control in these layers. All but the slots is made once and stays."""
        self.control = CONTROL_BY_NAME[control]
        self.close_part()
        self.cell = None
        self._besides = False
        title = control_title(control, printed)
        self.setAccessibleName(tr("{title}, opened", title=title))
        self._title.setText(title)
        self.whole.show_control(self.control)
        self.feel.setVisible(control in HAVING_FEEL)
        grid = self.grid = SlotGrid(self.theme, self._document, self._waiting, control, layers)
        grid.chosen.connect(self._choose)
        grid.emptied.connect(self._on_empty)
        grid.keys_given.connect(self._on_keys)
        grid.refused.connect(self.refused)
        self._slots.setWidget(grid)  # the one before is deleted
        self._show_bar()

    def show_profile(self, profile: Profile) -> None:
        """Follows an edit."""
        self.written.entry.show_layout(self._document.layout())
        self.grid.show_profile(profile)
        if self.panel is not None:
            self.panel.show_profile(profile, self._document.layout())
        self._show_bar()

    def choose(self, layer_id: str, slot: str, listen: bool) -> None:
        """Makes a cell the chosen one, and listens for its key or not."""
        cell = self.grid.cells.get((layer_id, slot))
        if cell is None:
            return
        self._choose(cell)  # the focus alone would do it in an active window only
        if listen:
            cell.listen()
        else:
            cell.setFocus(Qt.FocusReason.OtherFocusReason)
        QTimer.singleShot(SETTLE_MS, self._show_cell)  # once it has its position

    def _show_cell(self) -> None:
        if self.cell is not None:
            self._slots.ensureWidgetVisible(self.cell, 0, self.theme.px(4))

    def fit(self, width: int) -> None:
        """The sentence stands beside the slots if that much room allows it, else below them."""
        narrow = width < self.bar.widest + self.theme.px(240)
        way = QBoxLayout.Direction.TopToBottom if narrow else QBoxLayout.Direction.LeftToRight
        self._halves.setDirection(way)
        self._sheets.setMinimumHeight(self.theme.px(130) if narrow else 0)
        self.bar.fit(narrow)

    def follow_waiting(self) -> None:
        """Shows which cell listens, and whether keys are recorded; the prompt says which reaction gets the key."""
        self._besides = self._besides and self._waiting.for_slot
        self._waiting.aim(self.bar.reaction, self._besides)
        self.grid.follow_waiting()
        self.written.follow_waiting()

    def give(self, action: Action) -> None:
        """Gives the chosen reaction of the chosen cell something to do; what its other reactions do stays."""
        label = action_label(self._document.profile, action, self._document.layout())
        if self.panel is not None:
            self.panel.give(action)
            return
        wait = self._waiting.wait
        if wait.awaited in (Awaited.PAIR_INPUT, Awaited.PAIR_MOVE):
            partner, slots = wait.partner, wait.together or (wait.partner, wait.slot)
            self._edit(
                tr("with {partner}: {label}", partner=inside(slot_label(partner)), label=label),
                lambda profile, cell: part_edits.together_given(profile, cell[0], slots, wait.reaction, action),
            )
            return
        if self._besides:
            self._besides = False
            what = tr("{label} besides", label=label)
            self._edit(what, lambda profile, cell: slot_edits.besides(profile, *cell, self.bar.reaction, action))
            return
        self._edit(label, lambda profile, cell: slot_edits.given(profile, *cell, self.bar.reaction, action))

    def give_group(self, group: str) -> None:
        """Gives the chosen slot a carousel of a group's moves, or the whole stick a ring; "" is those in no group."""
        if self.panel is not None and self.panel.part is not None:
            self.refused.emit(tr("First close the entries of {part}", part=self.panel.part.label))
            return

        def made(profile: Profile, cell: tuple[str, str]) -> Profile:
            return slot_edits.group_on_slot(profile, *cell, group, self.bar.reaction) or profile

        self._edit(group or tr("Moves in no group"), made)

    def _make_title(self) -> WrappingRow:
        row = WrappingRow(self.theme.px(6))
        self._title = PlainLabel()
        self._title.setFont(self.theme.font(1.2, bold=True))
        row.head.addWidget(self._title, 1)
        self.whole = WholeChoices(self.theme, self._document)
        self.whole.turning_wanted.connect(self._on_turn_while)
        self.feel = TextButton(self.theme, tr("Feel …"), tr("Shapes this control for the layer of the chosen slot"))
        self.feel.clicked.connect(lambda: self.feel_wanted.emit(self.control.name, self._layer_id()))
        self.whole.row.addWidget(self.feel)
        row.tail.addWidget(self.whole)
        return row

    def _make_actions(self) -> None:
        self.about = PlainLabel()
        self.about.setSizePolicy(QSizePolicy.Policy.Ignored, QSizePolicy.Policy.Preferred)  # it may say much
        self.about.setFont(self.theme.font(1.05, bold=True))
        self.about.setFixedHeight(self.theme.px(28))
        self.written = WrittenLine(self.theme, self._document, self._waiting)
        self.written.keys_written.connect(self._on_keys_written)
        self.written.sequence_written.connect(self._on_sequence_written)
        self.written.refused.connect(self.refused)
        self.bar = ActionBar(self.theme, self._titles, self.written)
        self.bar.amounts_picked.connect(self._on_amounts)
        self.bar.effect_picked.connect(self._on_effect)
        self.bar.use_picked.connect(self._on_use)
        self.bar.manner_picked.connect(self._on_manner)
        self.bar.time_picked.connect(self._on_time)
        self.bar.layer_wanted.connect(self._on_layer_wanted)
        self.bar.partner_wanted.connect(self._on_partner_wanted)
        self.bar.third_wanted.connect(self._on_third_wanted)
        self.bar.together_wanted.connect(self._on_together_wanted)
        self.bar.edited.connect(self._document.edit)
        self.bar.group_wanted.connect(self.give_group)
        self.bar.part_wanted.connect(self.change_part)
        self.bar.example_wanted.connect(self.written.begin_with)
        self.bar.besides_wanted.connect(self._on_besides_wanted)
        self.bar.reaction_picked.connect(self.follow_waiting)
        self.bar.moved.connect(self._on_moved)

    def change_part(self, reference: Reference) -> None:
        """Shows the entries of a carousel or ring, or the steps of a sequence, to be changed."""
        found = find(self._document.profile, reference)
        if isinstance(found, Sequence):
            self.written.change_steps(found)
            return
        self.close_part()
        self.panel = PartPanel(self.theme, self._document.profile, self._document.layout(), reference)
        self.panel.edited.connect(self._document.edit)
        self.panel.chosen.connect(self._show_bar)
        self.panel.closed.connect(self.close_part)
        self._show_sheet(self.panel)
        self.panel.rows.setFocus(Qt.FocusReason.OtherFocusReason)

    def _show_sheet(self, sheet: QWidget) -> None:
        self._sheets.addWidget(sheet)
        self._sheets.setCurrentWidget(sheet)

    def _drop_sheet(self, sheet: QWidget | None) -> None:
        if sheet is not None:
            self._sheets.removeWidget(sheet)
            sheet.deleteLater()

    @property
    def is_empty(self) -> bool:
        """Whether the chosen slot does nothing yet, so that a move can be given to it without replacing anything."""
        cell = self.cell
        return cell is not None and (
            slot_edits.shown_assignment(self._document.profile, cell.layer_id, cell.slot) is None
        )

    def close_part(self) -> None:
        """What is given goes to the chosen cell again."""
        panel, self.panel = self.panel, None
        if panel is not None:
            self._drop_sheet(panel)
            self._show_bar()

    def _show_bar(self) -> None:
        cell = self.cell
        slot = cell.slot if cell is not None else self.control.slots[-1]
        layer = cell.layer_id if cell is not None else BASE_LAYER
        assignment = slot_edits.shown_assignment(self._document.profile, layer, slot)
        whole = slot in STICK_SLOTS or slot == MOTION_SLOT
        about = self._about(slot, layer)
        self.about.setText(about)
        set_tip(self.about, about)
        entry = self.panel.entry if self.panel is not None else None
        if entry is not None:
            assignment = Assignment().with_reaction(Reaction.PRESS, entry)
            whole = False
        place = Place(self._document.profile, layer, slot, self.bar.reaction, assignment, whole)
        self.bar.show_place(place, self._document.layout())
        placed = whole and assignment is not None and isinstance(assignment.use, PointerPosition)
        self.written.setVisible(placed or not whole)
        self.written.record.setVisible(not whole)
        self.whole.layer_id = layer

    def _about(self, slot: str, layer_id: str) -> str:
        """What the sentence is about."""
        if self.panel is not None and self.panel.part is not None:
            return tr("The chosen entry of {part}", part=self.panel.part.label)
        layer = self._document.profile.layer(layer_id)
        if layer is None:
            return slot_label(slot)
        about = tr("{slot}, in {layer}", slot=slot_label(slot), layer=layer.label)
        view = slot_view(self._document.profile, layer_id, slot, self._document.layout())
        several = view.assignment is not None and len(view.assignment.reactions) > 1
        return f"{about}: {view.text}" if several else about

    def _choose(self, cell: Cell) -> None:
        if cell is not self.cell:
            self.cell = cell
            self.grid.stop_at(cell)
            self._slots.ensureWidgetVisible(cell, 0, self.theme.px(4))
            self._besides = False
            self.written.leave_steps()
            self._show_bar()

    def _on_keys(self, codes: tuple[str, ...]) -> None:
        self.give(edits.assignment_for_keys(self._document.profile, codes))

    def _on_empty(self) -> None:
        """The chosen reaction; once nothing else is left, the layer below shows."""
        self._edit(tr("empty"), lambda profile, cell: slot_edits.given(profile, *cell, self.bar.reaction, None))

    def _on_effect(self, effect: Effect | None) -> None:
        """The chosen effect, in the manner in which the reaction is kept up if that goes on."""
        if effect is None:
            self._on_empty()
        else:
            self.give(Action.of(effect))

    def _on_use(self, use: StickUse) -> None:
        what = use_label(self._document.profile, use)
        self._edit(what, lambda profile, cell: slot_edits.use_changed(profile, *cell, use))

    def _on_moved(self, before: Reaction) -> None:
        """What the slot does by another reaction is done by the chosen one from now on."""
        what = tr("{before} → {after}", before=REACTION_WORDS[before], after=inside(REACTION_WORDS[self.bar.reaction]))
        self._edit(what, lambda profile, cell: slot_edits.moved(profile, *cell, before, self.bar.reaction))

    def _on_manner(self, manner: Manner, rate_hz: float) -> None:
        word = inside(MANNER_WORDS[manner])
        if self.panel is not None:
            self.panel.change_entry(word, manner=manner, rate_hz=rate_hz)
            return
        self._edit(
            word,
            lambda profile, cell: slot_edits.kept_up(profile, *cell, self.bar.reaction, manner, rate_hz),
        )

    def _titles(self) -> list[str]:
        """The other profiles of the library."""
        found = titled_profiles([self._document.path.parent])
        return sorted(title for title, path in found if path != self._document.path)

    def _on_amounts(self, what: str, made: Action | StickUse) -> None:
        if not isinstance(made, Action):
            use = made
            self._edit(what, lambda profile, cell: slot_edits.use_set(profile, *cell, use))
        elif self.panel is not None:
            self.panel.put_entry(what, made)
        else:
            action = made
            self._edit(
                what,
                lambda profile, cell: slot_edits.changed(profile, *cell, self.bar.reaction, lambda _: action.bare),
            )

    def _on_time(self, milliseconds: int) -> None:
        self._edit(
            tr("{ms} ms", ms=milliseconds),
            lambda profile, cell: slot_edits.timed(profile, *cell, self.bar.reaction, milliseconds),
        )

    def _on_layer_wanted(self) -> None:
        """A new layer that is on while the chosen slot is held."""
        label = tr("Layer {letter}", letter=layer_letter(len(self._document.profile.layers)))
        layer_id = layer_edits.new_id(self._document.profile, label)

        def made(profile: Profile, cell: tuple[str, str]) -> Profile:
            more = layer_edits.added(profile, layer_id, label)
            return slot_edits.given(more, *cell, self.bar.reaction, Action.of(HoldLayer(layer_id)))

        self._edit(label, made)

    def _on_partner_wanted(self) -> None:
        if self.cell is not None:
            wait = Wait(Awaited.PARTNER, self.cell.layer_id, self.cell.slot, reaction=self.bar.reaction)
            self._waiting.begin(wait)

    def _on_together_wanted(self, slots: tuple[str, ...], reaction: Reaction) -> None:
        """The next key or move is for a reaction of slots that are pressed together already."""
        if self.cell is not None:
            self.cell.setFocus(Qt.FocusReason.OtherFocusReason)
            own = self.cell.slot
            partner = next(slot for slot in slots if slot != own)
            wait = Wait(Awaited.PAIR_INPUT, self.cell.layer_id, own, partner=partner, together=slots, reaction=reaction)
            self._waiting.begin(wait)

    def _on_third_wanted(self, slot: str, partner: str) -> None:
        self._waiting.begin(Wait(Awaited.THIRD_CONTROL, self._layer_id(), slot, partner=partner))

    def _on_besides_wanted(self) -> None:
        if self.cell is not None:
            self._besides = True
            self.cell.listen()
            self._besides = True  # also where the focus came from another cell
            self.follow_waiting()

    def _on_turn_while(self) -> None:
        self._waiting.begin(Wait(Awaited.TURNING_CONTROL, self._layer_id()))

    def _edit(self, what: str, change: Callable[[Profile, tuple[str, str]], Profile]) -> None:
        """Changes the chosen cell's slot in its layer."""
        cell = self.cell
        if cell is not None:
            layer_and_slot = (cell.layer_id, cell.slot)
            label = f"{slot_label(cell.slot)}: {what}"
            if self._document.edit(label, lambda profile: change(profile, layer_and_slot)):
                self._waiting.heard(Heard.GIVEN)

    def _on_keys_written(self, codes: tuple[str, ...]) -> None:
        placed = self._placed()
        if placed is not None:
            self._on_amounts(tr("holds a key"), replace(placed, hold=codes))
        else:
            self._on_keys(codes)

    def _on_sequence_written(self, sequence: Sequence) -> None:
        def made(profile: Profile, cell: tuple[str, str]) -> Profile:
            more = replace(profile, sequences=(*profile.sequences, sequence))
            return slot_edits.given(more, *cell, self.bar.reaction, Action.of(PlaySequence(sequence.id)))

        self._edit(sequence.label, made)

    def _placed(self) -> PointerPosition | None:
        """How the chosen stick places the pointer, if it does."""
        if self.cell is None:
            return None
        found = slot_edits.shown_assignment(self._document.profile, self.cell.layer_id, self.cell.slot)
        return found.use if found is not None and isinstance(found.use, PointerPosition) else None

    def _layer_id(self) -> str:
        return self.cell.layer_id if self.cell is not None else BASE_LAYER

"""The opened control: slots with layers side by side, and the action of the selected one."""

from __future__ import annotations

from collections.abc import Mapping
from collections.abc import Sequence as Listed

from PyQt6.QtCore import Qt, QTimer, pyqtSignal
from PyQt6.QtWidgets import QBoxLayout, QHBoxLayout, QSizePolicy, QStackedWidget, QVBoxLayout, QWidget

from nub_shift.editing.document import Document
from nub_shift.editing.edits.feel import HAVING_FEEL
from nub_shift.editing.waiting import Awaited, Wait, WaitEvent, Waiting
from nub_shift.editing.words.slot_views import slot_view
from nub_shift.model.controls import CONTROL_BY_NAME, CONTROLS, MOTION_SLOT, STICK_SLOTS, slot_label
from nub_shift.model.pad.labels import control_title
from nub_shift.model.profile.effects import PointerPosition
from nub_shift.model.profile.listed import Sequence
from nub_shift.model.profile.profile import BASE_LAYER, Profile
from nub_shift.model.profile.reactions import Assignment, Reaction
from nub_shift.model.references.assignments import shown_assignment
from nub_shift.model.references.named import Reference, find
from nub_shift.store.library import titled_profiles
from nub_shift.translation import tr
from nub_shift.ui.look.theme import Theme
from nub_shift.ui.map.editor.action_bar import ActionBar
from nub_shift.ui.map.editor.cell import Cell
from nub_shift.ui.map.editor.cell_edits import CellEdits
from nub_shift.ui.map.editor.place import Place
from nub_shift.ui.map.editor.shared_part_panel import PartPanel
from nub_shift.ui.map.editor.slot_grid import SlotGrid
from nub_shift.ui.map.editor.whole_choices import WholeChoices
from nub_shift.ui.map.editor.written_line import WrittenLine
from nub_shift.ui.widgets.buttons import TextButton
from nub_shift.ui.widgets.layouts import quiet_scroll
from nub_shift.ui.widgets.plain import ElidedLabel, PlainLabel
from nub_shift.ui.widgets.wrapping_row import WrappingRow

# Time for a layout to settle.
SETTLE_MS = 30


class ControlEditor(QWidget):
    """Edits one control: slots at the left, the selected one's action as a sentence at the right.

    Keys, moves and choices of the sentence go to the selected cell.

    Attributes:
        edits: edits of the selected cell.
        grid: slots in their layers.
        about: subject of the sentence.
        whole: choices for the whole control.
        written: field for keys and sequences.
        feel: settings of its feel, while shown.

    Signals:
        closed(): the person has closed the control.
        feel_requested(str, str): control and layer to show in Feel.
        refused(str): reason for a refused text.
    """

    closed = pyqtSignal()
    feel_requested = pyqtSignal(str, str)
    refused = pyqtSignal(str)

    def __init__(self, theme: Theme, document: Document, waiting: Waiting, parent: QWidget | None = None) -> None:
        super().__init__(parent)
        self.theme = theme
        self.control = CONTROLS[0]
        self._document = document
        self._waiting = waiting
        self._room = 0
        self.grid = SlotGrid(theme, document, waiting)
        self._slots = quiet_scroll(self.grid)
        # Entries of a part, or settings of a feel, replace the slots.
        self._sheets = QStackedWidget()
        self._sheets.addWidget(self._slots)
        # Each scrolls on its own, so that the sentence stays visible.
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
        """Shows the slots of another control in these layers; all other parts are reused."""
        self.control = CONTROL_BY_NAME[control]
        self.close_part()
        title = control_title(control, printed)
        self.setAccessibleName(tr("{title}, opened", title=title))
        self._title.setText(title)
        self.whole.show_control(self.control)
        self.feel.setVisible(control in HAVING_FEEL)
        self._show_grid(layers)

    def show_layers(self, layers: Listed[str], shown: str) -> None:
        """Shows the slots in other layers; the selected slot stays selected, in layer `shown` if its layer has gone."""
        cell = self.edits.cell
        if self._waiting.for_slot:
            self._waiting.handle_event(WaitEvent.CANCELLED)
        self._show_grid(layers)
        if cell is None:
            return
        layer = cell.layer_id if cell.layer_id in layers else shown
        if self.edits.panel is None:
            self.choose(layer, cell.slot, listen=False)
        elif (layer, cell.slot) in self.grid.cells:
            self._choose(self.grid.cells[layer, cell.slot])
            self.edits.panel.show_profile(self._document.profile, self._document.layout())

    def _show_grid(self, layers: Listed[str]) -> None:
        self.edits.choose(None)
        self.grid.show_control(self.control.name, layers, self._room)
        bar = self._slots.verticalScrollBar()
        if bar is not None:
            bar.setValue(0)
        self._show_bar()

    def show_profile(self, profile: Profile) -> None:
        """Follows an edit."""
        self.written.entry.show_layout(self._document.layout())
        self.grid.show_profile(profile)
        if self.edits.panel is not None:
            self.edits.panel.show_profile(profile, self._document.layout())
        self._show_bar()

    def choose(self, layer_id: str, slot: str, listen: bool) -> None:
        """Selects a cell, and listens for its key if requested."""
        cell = self.grid.cells.get((layer_id, slot))
        if cell is None:
            return
        self._choose(cell)  # an inactive window gives no focus
        if listen:
            cell.listen()
        else:
            cell.setFocus(Qt.FocusReason.OtherFocusReason)
        QTimer.singleShot(SETTLE_MS, self._show_cell)  # once the layout has settled

    def _show_cell(self) -> None:
        if self.edits.cell is not None:
            self._slots.ensureWidgetVisible(self.edits.cell, 0, self.theme.px(4))

    def fit(self, width: int) -> None:
        """Places the sentence beside the slots if the width suffices, else below them."""
        narrow = width < self.bar.widest + self.theme.px(240)
        way = QBoxLayout.Direction.TopToBottom if narrow else QBoxLayout.Direction.LeftToRight
        self._halves.setDirection(way)
        self._sheets.setMinimumHeight(self.theme.px(130) if narrow else 0)
        self.bar.fit(narrow)
        self._room = width if narrow else width - self.bar.widest - self.theme.px(30)
        self.grid.fit(self._room)

    def update_waiting(self) -> None:
        """Shows the listening cell, the recording of keys, and the prompt for the reaction."""
        self.edits.is_besides = self.edits.is_besides and self._waiting.for_slot
        self._waiting.aim(self.edits.reaction, self.edits.is_besides)
        self.grid.update_waiting()
        self.written.update_waiting()

    def _make_title(self) -> WrappingRow:
        row = WrappingRow(self.theme.px(6))
        self._title = PlainLabel()
        self._title.setFont(self.theme.font(1.2, bold=True))
        row.head.addWidget(self._title, 1)
        self.whole = WholeChoices(self.theme, self._document)
        self.whole.turning_requested.connect(self._on_turn_while)
        self.feel = TextButton(self.theme, tr("Feel …"), tr("Shapes this control for the layer of the chosen slot"))
        self.feel.clicked.connect(lambda: self.feel_requested.emit(self.control.name, self.edits.layer_id))
        self.whole.row.addWidget(self.feel)
        row.tail.addWidget(self.whole)
        return row

    def _make_actions(self) -> None:
        self.about = ElidedLabel()  # may be long
        self.about.setFont(self.theme.font(1.05, bold=True))
        self.about.setFixedHeight(self.theme.px(28))
        self.written = WrittenLine(self.theme, self._document, self._waiting)
        self.written.refused.connect(self.refused)
        self.edits = CellEdits(self._document, self._waiting, self)
        self.bar = ActionBar(self.theme, self.edits, self._titles, self.written)
        self.grid.chosen.connect(self._choose)
        self.grid.emptied.connect(self.edits.empty)
        self.grid.keys_given.connect(self.edits.give_keys)
        self.grid.refused.connect(self.refused)
        self.written.keys_written.connect(self.edits.write_keys)
        self.written.sequence_written.connect(self.edits.write_sequence)
        self.edits.part_requested.connect(self.change_part)
        self.edits.example_requested.connect(self.written.begin_with)
        self.edits.reaction_changed.connect(self.update_waiting)

    def change_part(self, reference: Reference) -> None:
        """Shows the entries of a carousel or ring, or the steps of a sequence, for editing."""
        found = find(self._document.profile, reference)
        if isinstance(found, Sequence):
            self.written.change_steps(found)
            return
        self.close_part()
        panel = PartPanel(self.theme, self._document.profile, self._document.layout(), reference)
        panel.edited.connect(self._document.edit)
        panel.chosen.connect(self._show_bar)
        panel.closed.connect(self.close_part)
        self.edits.panel = panel
        self._show_sheet(panel)
        panel.rows.setFocus(Qt.FocusReason.OtherFocusReason)

    def _show_sheet(self, sheet: QWidget) -> None:
        self._sheets.addWidget(sheet)
        self._sheets.setCurrentWidget(sheet)

    def _drop_sheet(self, sheet: QWidget | None) -> None:
        if sheet is not None:
            self._sheets.removeWidget(sheet)
            sheet.deleteLater()

    def close_part(self) -> None:
        """Closes the part; edits go to the selected cell again."""
        panel, self.edits.panel = self.edits.panel, None
        if panel is not None:
            self._drop_sheet(panel)
            self._show_bar()

    def _show_bar(self) -> None:
        cell = self.edits.cell
        slot = cell.slot if cell is not None else self.control.slots[-1]
        layer = cell.layer_id if cell is not None else BASE_LAYER
        assignment = shown_assignment(self._document.profile, layer, slot)
        whole = slot in STICK_SLOTS or slot == MOTION_SLOT
        self.about.setText(self._about(slot, layer))
        panel = self.edits.panel
        entry = panel.entry if panel is not None else None
        if entry is not None:
            assignment = Assignment().with_reaction(Reaction.PRESS, entry)
            whole = False
        place = Place(self._document.profile, layer, slot, self.edits.reaction, assignment, whole, entry is not None)
        self.bar.show_place(place, self._document.layout())
        placed = whole and assignment is not None and isinstance(assignment.use, PointerPosition)
        self.written.setVisible(placed or not whole)
        self.written.record.setVisible(not whole)
        self.whole.layer_id = layer

    def _about(self, slot: str, layer_id: str) -> str:
        """Returns the subject of the sentence."""
        part = self.edits.panel.part if self.edits.panel is not None else None
        if part is not None:
            return tr("The chosen entry of {part}", part=part.label)
        layer = self._document.profile.layer(layer_id)
        if layer is None:
            return slot_label(slot)
        about = tr("{slot}, in {layer}", slot=slot_label(slot), layer=layer.label)
        view = slot_view(self._document.profile, layer_id, slot, self._document.layout())
        several = view.assignment is not None and len(view.assignment.reactions) > 1
        return f"{about}: {view.text}" if several else about

    def _choose(self, cell: Cell) -> None:
        if cell is not self.edits.cell:
            self.edits.choose(cell)
            self.grid.stop_at(cell)
            self._slots.ensureWidgetVisible(cell, 0, self.theme.px(4))
            self.written.leave_steps()
            self._show_bar()

    def _titles(self) -> list[str]:
        """Returns the titles of the other profiles in the library."""
        found = titled_profiles([self._document.path.parent])
        return sorted(title for title, path in found if path != self._document.path)

    def _on_turn_while(self) -> None:
        self._waiting.begin(Wait(Awaited.TURNING_CONTROL, self.edits.layer_id))

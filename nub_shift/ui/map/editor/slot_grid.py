"""The slots of a control, one row each, with its layers side by side."""

from __future__ import annotations

from collections.abc import Iterable

from PyQt6.QtCore import Qt, pyqtSignal
from PyQt6.QtWidgets import QGridLayout, QWidget

from nub_shift.editing.document import Document
from nub_shift.editing.waiting import Waiting
from nub_shift.editing.words.slot_views import layer_mark
from nub_shift.model.controls import CONTROL_BY_NAME, DIAGONALS, MOTION_SLOT, PART_LABELS, STICK_SLOTS
from nub_shift.model.profile import Profile
from nub_shift.model.slot_names import SlotName, slot_name
from nub_shift.translation import tr
from nub_shift.ui.look.theme import Theme
from nub_shift.ui.map.editor.cell import Cell, CellSignals
from nub_shift.ui.widgets.layer_name import LayerName
from nub_shift.ui.widgets.plain import PlainLabel
from nub_shift.ui.widgets.roving import make_stop

# More layers than this do not fit beside each other; the table of all layers shows them.
MAX_COLUMNS = 4
# As many rows are seen at once.
_LOW = 4


class SlotGrid(QWidget):
    """Shows the cells of a control.

    Attributes:
        layers: ids of the layers that have a column.
        slots: the slots that have a row.
        cells: by layer and slot.

    Signals:
        chosen(Cell): a cell was clicked, or has the focus.
        emptied(): Delete was pressed on the chosen cell.
        keys_given(tuple): keys were pressed for it.
        refused(str): others were pressed, which are not taken, and why.
    """

    chosen = pyqtSignal(object)
    emptied = pyqtSignal()
    keys_given = pyqtSignal(tuple)
    refused = pyqtSignal(str)

    def __init__(
        self,
        theme: Theme,
        document: Document,
        waiting: Waiting,
        control: str,
        layers: Iterable[str],
        parent: QWidget | None = None,
    ) -> None:
        super().__init__(parent)
        self.layers = list(layers)
        self.slots = shown_slots(document.profile, control)
        self.cells: dict[tuple[str, str], Cell] = {}
        self._document = document
        signals = CellSignals(self)
        signals.chosen.connect(self.chosen)
        signals.stepped.connect(self._step)
        signals.emptied.connect(self.emptied)
        signals.keys_given.connect(self.keys_given)
        signals.refused.connect(self.refused)
        profile = document.profile
        grid = QGridLayout(self)
        grid.setContentsMargins(0, 0, theme.px(2), 0)
        grid.setHorizontalSpacing(theme.px(5))
        grid.setVerticalSpacing(theme.px(3))
        shown = [layer for layer in profile.layers if layer.id in self.layers]
        # Few layers leave room for two halves beside each other. A stick used as a whole is one slot more, the first.
        halves = 2 if len(shown) == 1 and len(self.slots) > _LOW else 1
        rows = -(-len(self.slots) // halves)
        for half in range(halves):
            for column, layer in enumerate(shown, 1 + half * (len(shown) + 1)):
                grid.addWidget(LayerName(theme, layer_mark(profile, layer.id), layer.label), 0, column)
                grid.setColumnStretch(column, 1)
        for index, slot in enumerate(self.slots):
            row, first = 1 + index % rows, index // rows * (len(shown) + 1)
            name = PlainLabel(row_label(slot), self)
            name.setFont(theme.font(0.9))
            grid.addWidget(name, row, first)
            for column, layer in enumerate(shown, first + 1):
                cell = Cell(theme, waiting, layer.id, slot, document.layout(), signals, self)
                cell.show_profile(profile, document.layout())
                self.cells[layer.id, slot] = cell
                grid.addWidget(cell, row, column)
        grid.setRowStretch(rows + 1, 1)
        if self.cells:
            self.stop_at(next(iter(self.cells.values())))

    def show_profile(self, profile: Profile) -> None:
        """Follows an edit."""
        for cell in self.cells.values():
            cell.show_profile(profile, self._document.layout())

    def follow_waiting(self) -> None:
        """Shows which cell listens."""
        for cell in self.cells.values():
            cell.follow_waiting()

    def stop_at(self, cell: Cell) -> None:
        """The Tab key comes to this cell, and goes on to what is beyond the grid."""
        make_stop(self.cells.values(), cell)

    def _step(self, cell: Cell, across: int, down: int) -> None:
        column = min(max(self.layers.index(cell.layer_id) + across, 0), len(self.layers) - 1)
        row = min(max(self.slots.index(cell.slot) + down, 0), len(self.slots) - 1)
        self.cells[self.layers[column], self.slots[row]].setFocus(Qt.FocusReason.TabFocusReason)


def shown_slots(profile: Profile, control: str) -> list[str]:
    """The slots of a control that have a row: a stick's diagonals only once one of them has something of its own."""
    slots = CONTROL_BY_NAME[control].slots
    diagonals = {slot_name(control, diagonal) for diagonal in DIAGONALS}
    used = any(not diagonals.isdisjoint(layer.slots) for layer in profile.layers)
    return [slot for slot in slots if used or slot not in diagonals]


def columns(profile: Profile, layer_id: str) -> list[str]:
    """The layers that are side by side in an opened control: all of a few, else the base and those round the shown."""
    ids = [layer.id for layer in profile.layers]
    if len(ids) <= MAX_COLUMNS:
        return ids
    at = ids.index(layer_id)
    first = min(max(at - 1, 1), len(ids) - MAX_COLUMNS + 1)
    return [ids[0], *ids[first : first + MAX_COLUMNS - 1]]


def row_label(slot: str) -> str:
    """What stands before a row."""
    part = SlotName.parse(slot).part
    if part:
        return PART_LABELS[part]
    return tr("Whole") if slot in STICK_SLOTS or slot == MOTION_SLOT else ""

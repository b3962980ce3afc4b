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
MAX_HALVES = 2
# A cell has a keycap and the beginning of a word at this width.
_CELL = 66


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
        self._theme = theme
        self._document = document
        signals = CellSignals(self)
        signals.chosen.connect(self.chosen)
        signals.stepped.connect(self._step)
        signals.emptied.connect(self.emptied)
        signals.keys_given.connect(self.keys_given)
        signals.refused.connect(self.refused)
        profile = document.profile
        self._shown = [layer for layer in profile.layers if layer.id in self.layers]
        self._halves = 0
        self._headings: list[list[LayerName]] = []  # by half
        self._names = [PlainLabel(row_label(slot), self) for slot in self.slots]
        for name in self._names:
            name.setFont(theme.font(0.9))
        for slot in self.slots:
            for layer in self._shown:
                cell = Cell(theme, waiting, layer.id, slot, document.layout(), signals, self)
                cell.show_profile(profile, document.layout())
                self.cells[layer.id, slot] = cell
        self._grid = QGridLayout(self)
        self._grid.setContentsMargins(0, 0, theme.px(2), 0)
        self._grid.setHorizontalSpacing(theme.px(5))
        self._grid.setVerticalSpacing(theme.px(3))
        if self.cells:
            self.stop_at(next(iter(self.cells.values())))

    def fit(self, width: int) -> None:
        """Places many slots in two halves beside each other where `width` has room for their cells."""
        halves = 1
        if len(self.slots) > _LOW:
            names = max(name.sizeHint().width() for name in self._names) + self._theme.px(8)
            needed = MAX_HALVES * (names + len(self._shown) * self._theme.px(_CELL))
            halves = MAX_HALVES if width >= needed else 1
        if halves != self._halves:
            self._arrange(halves)

    def _arrange(self, halves: int) -> None:
        self._halves = halves
        profile = self._document.profile
        while len(self._headings) < halves:
            marks = ((layer_mark(profile, layer.id), layer.label) for layer in self._shown)
            self._headings.append([LayerName(self._theme, mark, label, self) for mark, label in marks])
        grid, columns = self._grid, len(self._shown) + 1
        rows = -(-len(self.slots) // halves)
        for half, headings in enumerate(self._headings):
            for column, heading in enumerate(headings, 1 + half * columns):
                heading.setVisible(half < halves)
                grid.addWidget(heading, 0, column)
                grid.setColumnStretch(column, 1 if half < halves else 0)
        for index, slot in enumerate(self.slots):
            row, first = 1 + index % rows, index // rows * columns
            grid.addWidget(self._names[index], row, first)
            for column, layer in enumerate(self._shown, first + 1):
                grid.addWidget(self.cells[layer.id, slot], row, column)
        for row in range(len(self.slots) + 2):
            grid.setRowStretch(row, 1 if row == rows + 1 else 0)

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

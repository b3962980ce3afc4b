"""Grid of a control's slots, one row each, with its layers side by side."""

from __future__ import annotations

from collections.abc import Iterable

from PyQt6.QtCore import Qt, pyqtSignal
from PyQt6.QtWidgets import QGridLayout, QWidget

from nub_shift.editing.document import Document
from nub_shift.editing.waiting import Waiting
from nub_shift.editing.words.slot_views import layer_mark
from nub_shift.model.controls import MOTION_SLOT, PART_LABELS, STICK_SLOTS
from nub_shift.model.profile.profile import Layer, Profile
from nub_shift.model.slot_names import SlotName
from nub_shift.translation import tr
from nub_shift.ui.look.theme import Theme
from nub_shift.ui.map.editor.cell import Cell, CellSignals
from nub_shift.ui.map.editor.grid_shape import shown_slots
from nub_shift.ui.widgets.layer_name import LayerName
from nub_shift.ui.widgets.plain import PlainLabel
from nub_shift.ui.widgets.roving import make_stop

# Rows visible at once.
_LOW = 4
MAX_HALVES = 2
# Least width of a cell: a keycap and the beginning of a word.
_CELL = 66


class SlotGrid(QWidget):
    """Shows the cells of a control.

    Attributes:
        layers: ids of the layers, one column each.
        slots: slots, one row each.
        cells: by layer and slot.

    Signals:
        chosen(Cell): cell that was clicked or has the focus.
        emptied(): Delete was pressed on the selected cell.
        keys_given(tuple): keys for the selected cell.
        refused(str): reason for refused keys.
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
        parent: QWidget | None = None,
    ) -> None:
        super().__init__(parent)
        self.layers: list[str] = []
        self.slots: list[str] = []
        self.cells: dict[tuple[str, str], Cell] = {}
        self._theme = theme
        self._document = document
        self._waiting = waiting
        self._signals = signals = CellSignals(self)
        signals.chosen.connect(self.chosen)
        signals.stepped.connect(self._step)
        signals.emptied.connect(self.emptied)
        signals.keys_given.connect(self.keys_given)
        signals.refused.connect(self.refused)
        self._shown: list[Layer] = []
        self._halves = 0
        self._headings: list[list[LayerName]] = []  # by half
        # Cells are kept for the next control, since creating and deleting many widgets is slow.
        self._every_cell: list[Cell] = []
        self._every_name: list[PlainLabel] = []
        self._grid = QGridLayout(self)
        self._grid.setContentsMargins(0, 0, theme.px(2), 0)
        self._grid.setHorizontalSpacing(theme.px(5))
        self._grid.setVerticalSpacing(theme.px(3))

    def show_control(self, control: str, layers: Iterable[str], width: int) -> None:
        """Shows the slots of a control in these layers, within a width."""
        profile, layout = self._document.profile, self._document.layout()
        self.layers = list(layers)
        self.slots = shown_slots(profile, control)
        self._shown = [layer for layer in profile.layers if layer.id in self.layers]
        wanted = [(layer.id, slot) for slot in self.slots for layer in self._shown]
        while len(self._every_cell) < len(wanted):
            self._every_cell.append(Cell(self._theme, self._waiting, layout, self._signals, self))
        while len(self._every_name) < len(self.slots):
            self._every_name.append(PlainLabel("", self))
            self._every_name[-1].setFont(self._theme.font(0.9))
        for spare in (*self._every_cell[len(wanted) :], *self._every_name[len(self.slots) :]):
            spare.hide()
            self._grid.removeWidget(spare)
        self.cells = dict(zip(wanted, self._every_cell, strict=False))
        for (layer_id, slot), cell in self.cells.items():
            cell.show_slot(layer_id, slot, profile, layout)
        for slot, name in zip(self.slots, self._every_name, strict=False):
            name.setText(row_label(slot))
        for heading in (heading for half in self._headings for heading in half):
            heading.hide()
            heading.deleteLater()
        self._headings, self._halves = [], 0
        self.fit(width)
        if self.cells:
            self.stop_at(next(iter(self.cells.values())))

    def fit(self, width: int) -> None:
        """Splits many slots into two halves side by side if the width suffices."""
        halves = 1
        if len(self.slots) > _LOW:
            names = max(name.sizeHint().width() for name in self._every_name[: len(self.slots)]) + self._theme.px(8)
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
        for column in range(grid.columnCount()):
            grid.setColumnStretch(column, 0)
        for half, headings in enumerate(self._headings):
            for column, heading in enumerate(headings, 1 + half * columns):
                heading.setVisible(half < halves)
                grid.addWidget(heading, 0, column)
                if half < halves:
                    grid.setColumnStretch(column, 1)
        for index, slot in enumerate(self.slots):
            row, first = 1 + index % rows, index // rows * columns
            places: list[tuple[QWidget, int]] = [(self._every_name[index], first)]
            places += [(self.cells[layer.id, slot], column) for column, layer in enumerate(self._shown, first + 1)]
            for widget, column in places:
                grid.addWidget(widget, row, column)
                widget.show()
        for row in range(max(grid.rowCount(), rows + 2)):
            grid.setRowStretch(row, 1 if row == rows + 1 else 0)

    def show_profile(self, profile: Profile) -> None:
        """Follows an edit."""
        for cell in self.cells.values():
            cell.show_profile(profile, self._document.layout())

    def update_waiting(self) -> None:
        """Shows which cell listens."""
        for cell in self.cells.values():
            cell.update_waiting()

    def stop_at(self, cell: Cell) -> None:
        """Makes this cell the stop of the Tab key, which then leaves the grid."""
        make_stop(self.cells.values(), cell)

    def _step(self, cell: Cell, across: int, down: int) -> None:
        column = min(max(self.layers.index(cell.layer_id) + across, 0), len(self.layers) - 1)
        row = min(max(self.slots.index(cell.slot) + down, 0), len(self.slots) - 1)
        self.cells[self.layers[column], self.slots[row]].setFocus(Qt.FocusReason.TabFocusReason)


def row_label(slot: str) -> str:
    """Returns the label of a row."""
    part = SlotName.parse(slot).part
    if part:
        return PART_LABELS[part]
    return tr("Whole") if slot in STICK_SLOTS or slot == MOTION_SLOT else ""

"""All layers side by side over all controls: what each slot does on each, and where they differ."""

from __future__ import annotations

from PyQt6.QtCore import Qt, pyqtSignal
from PyQt6.QtGui import QColor, QKeyEvent
from PyQt6.QtWidgets import QAbstractItemView, QHeaderView, QTableWidget, QTableWidgetItem, QWidget

from nub_shift.model.controls import CONTROLS, slot_label
from nub_shift.model.profile import Profile
from nub_shift.ui.theme import Theme
from nub_shift.ui.views import layer_letter, layer_mark, slot_view

_PLACE = Qt.ItemDataRole.UserRole


class LayerTable(QTableWidget):
    """A row for each slot that some layer has, a column for each layer.

    What a layer has of its own stands on its hue; what it shows of the layer below is faint.

    Signals:
        picked(str, str): a layer and a slot of it were chosen, by a click or Enter.
    """

    picked = pyqtSignal(str, str)

    def __init__(self, theme: Theme, parent: QWidget | None = None) -> None:
        super().__init__(parent)
        self.theme = theme
        self.setAccessibleName("Layers side by side")
        self.setEditTriggers(QAbstractItemView.EditTrigger.NoEditTriggers)
        self.setSelectionMode(QAbstractItemView.SelectionMode.SingleSelection)
        self.setShowGrid(False)
        self.setAlternatingRowColors(False)
        self.itemClicked.connect(self._on_picked)

    def show_profile(self, profile: Profile) -> None:
        """Follows an edit."""
        used = {slot for layer in profile.layers for slot in layer.slots}
        slots = [slot for control in CONTROLS for slot in control.slots if slot in used]
        self.setColumnCount(len(profile.layers))
        self.setRowCount(len(slots))
        names = [f"{layer_letter(place)}  {layer.label}" for place, layer in enumerate(profile.layers)]
        self.setHorizontalHeaderLabels(names)
        self.setVerticalHeaderLabels([slot_label(slot) for slot in slots])
        for row, slot in enumerate(slots):
            for column, layer in enumerate(profile.layers):
                self.setItem(row, column, self._item(profile, layer.id, slot))
        header = self.horizontalHeader()
        if header is not None:
            header.setSectionResizeMode(QHeaderView.ResizeMode.Stretch)
            header.setMinimumSectionSize(self.theme.px(130))

    def keyPressEvent(self, event: QKeyEvent | None) -> None:
        item = self.currentItem()
        if event is not None and event.key() in (Qt.Key.Key_Return, Qt.Key.Key_Enter) and item is not None:
            self._on_picked(item)
            return
        super().keyPressEvent(event)

    def _item(self, profile: Profile, layer_id: str, slot: str) -> QTableWidgetItem:
        view = slot_view(profile, layer_id, slot)
        empty = view.assignment is None
        caps = f"[{' + '.join(view.caps)}]  " if view.caps and not empty else ""
        item = QTableWidgetItem("" if empty else f"{caps}{view.text}")
        item.setToolTip("Nothing" if empty else view.text)
        item.setData(_PLACE, (layer_id, slot))
        item.setForeground(self.theme.colour("muted" if view.inherited or empty else "ink"))
        if not view.inherited and not empty:
            mark = layer_mark(profile, layer_id)
            hue = QColor(self.theme.hue(mark.hue))
            hue.setAlpha(48 if mark.hue else 26)
            item.setBackground(hue)
        return item

    def _on_picked(self, item: QTableWidgetItem) -> None:
        layer_id, slot = item.data(_PLACE)
        self.picked.emit(layer_id, slot)

"""Differences between two layers of the open profile, slot by slot, each of which can be copied."""

from __future__ import annotations

from PyQt6.QtCore import Qt, pyqtSignal
from PyQt6.QtWidgets import QHBoxLayout, QVBoxLayout, QWidget

from nub_shift.editing.compare.differences import Difference, differences
from nub_shift.editing.document import Document
from nub_shift.editing.edits import bindings as edits
from nub_shift.editing.edits import layers as layer_edits
from nub_shift.model.profile.profile import BASE_LAYER
from nub_shift.translation import tr
from nub_shift.ui.look.theme import Theme
from nub_shift.ui.widgets.buttons import TextButton
from nub_shift.ui.widgets.difference_list import DifferenceList
from nub_shift.ui.widgets.plain import PlainLabel


class LayerCompare(QWidget):
    """Differences between two layers.

    Attributes:
        rows: the differences.

    Signals:
        closed(): the person has closed the list.
    """

    closed = pyqtSignal()

    def __init__(self, theme: Theme, document: Document, parent: QWidget | None = None) -> None:
        super().__init__(parent)
        self._document = document
        self._layers = ("", "")
        self._title = PlainLabel()
        self._title.setFont(theme.font(1.2, bold=True))
        done = TextButton(theme, tr("Done"), tr("Back to the lanes (Esc)"))
        done.clicked.connect(self.closed)
        self.rows = DifferenceList(theme)
        self.rows.taken.connect(self._on_taken)
        head = QHBoxLayout()
        head.addWidget(self._title, 1)
        head.addWidget(done)
        column = QVBoxLayout(self)
        column.addLayout(head)
        column.addWidget(self.rows, 1)

    def show_layers(self, layer_id: str, other_id: str) -> None:
        """Shows the differences from one layer to another."""
        self._layers = (layer_id, other_id)
        self.update_profile()
        self.rows.setFocus(Qt.FocusReason.OtherFocusReason)

    def update_profile(self) -> None:
        """Updates the list after an edit."""
        profile = self._document.profile
        here, there = (profile.layer(layer_id) for layer_id in self._layers)
        if here is None or there is None:
            self.closed.emit()
            return
        self._title.setText(tr("From {here} to {there}", here=here.label, there=there.label))
        # Compares the profile with a copy in which one layer is replaced by the other. A slot that a layer leaves empty
        # shows the base layer, and does not differ from it.
        like = layer_edits.copy_content(profile, here.id, there.id)
        if there.id == BASE_LAYER:
            slots = {slot: there.slots[slot] for slot in here.slots if slot in there.slots}
            like = edits.change_layer(like, here.id, slots=slots)
        self.rows.show_differences(differences(profile, like, self._document.layout()))

    def _on_taken(self, found: Difference) -> None:
        self._document.edit(f"{found.head}: {found.text}"[:80], found.copy_over)

"""Line for a key or a sequence, with the button that records one."""

from __future__ import annotations

from functools import partial

from PyQt6.QtCore import Qt, pyqtSignal
from PyQt6.QtWidgets import QHBoxLayout, QWidget

from nub_shift.editing.document import Document
from nub_shift.editing.edits import shared_parts as part_edits
from nub_shift.editing.edits.written_sequence import parse_sequence, steps_text
from nub_shift.editing.waiting import Waiting
from nub_shift.editing.words.keys.key_names import codes_named
from nub_shift.model.profile.listed import Sequence
from nub_shift.model.references.named import Kind, Reference
from nub_shift.translation import tr
from nub_shift.ui.look.theme import Theme
from nub_shift.ui.map.editor.steps_entry import StepsEntry
from nub_shift.ui.widgets.buttons import TextButton
from nub_shift.ui.widgets.plain import set_tooltip


class WrittenLine(QWidget):
    """Parses the text when Enter is pressed.

    Attributes:
        entry: the text field.
        record: button for recording, laid out elsewhere.

    Signals:
        keys_written(tuple): written keys.
        sequence_written(Sequence): a new written sequence.
        refused(str): reason for a text that is neither.
    """

    keys_written = pyqtSignal(tuple)
    sequence_written = pyqtSignal(object)
    refused = pyqtSignal(str)

    def __init__(self, theme: Theme, document: Document, waiting: Waiting, parent: QWidget | None = None) -> None:
        super().__init__(parent)
        self._document = document
        self._changed = ""  # id of the sequence being edited
        self.entry = StepsEntry(waiting, document.layout())
        self.entry.setFixedHeight(theme.px(30))
        self.entry.returnPressed.connect(self._on_return)
        self.record = TextButton(theme, tr("Record"), tr("Type a sequence; Enter then uses what you typed"))
        self.record.setCheckable(True)
        self.record.setFocusPolicy(Qt.FocusPolicy.TabFocus)  # a click that ends recording must not end it twice
        self.record.clicked.connect(self.entry.record)
        row = QHBoxLayout(self)
        row.setContentsMargins(0, 0, 0, 0)
        row.addWidget(self.entry, 1)

    def update_waiting(self) -> None:
        """Shows whether keys are recorded."""
        self.entry.update_waiting()
        self.record.setChecked(self.entry.recording)

    def change_steps(self, sequence: Sequence) -> None:
        """Shows the steps of a sequence for editing."""
        self._changed = sequence.id
        self.entry.setText(steps_text(sequence.steps, self._document.layout()))
        self.setVisible(True)
        self.entry.setFocus(Qt.FocusReason.OtherFocusReason)

    def begin_with(self, text: str) -> None:
        """Writes a sequence into the line; Enter accepts it."""
        self.entry.setText(text)
        self.entry.setFocus(Qt.FocusReason.OtherFocusReason)

    def leave_steps(self) -> None:
        """Ends the editing of a sequence, which stays unchanged."""
        if self._changed:
            self._changed = ""
            self.entry.clear()

    def _on_return(self) -> None:
        text = self.entry.text().strip()
        layout = self._document.layout()
        codes = codes_named(text, layout)
        if codes is not None and not self._changed:
            self.entry.clear()
            self.keys_written.emit(codes)
            return
        try:
            sequence = parse_sequence(text, [found.id for found in self._document.profile.sequences], layout)
        except ValueError as error:
            self.entry.selectAll()
            set_tooltip(self.entry, str(error))
            self.refused.emit(str(error))
            return
        changed, self._changed = self._changed, ""
        self.entry.clear()
        if changed:
            reference = Reference(Kind.SEQUENCE, changed)
            change = partial(part_edits.change, reference=reference, steps=sequence.steps)
            self._document.edit(tr("Steps: {sequence}", sequence=sequence.label), change)
        else:
            self.sequence_written.emit(sequence)

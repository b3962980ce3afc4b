"""Numbers and switches of a slot's action, as fields."""

from __future__ import annotations

from collections.abc import Sequence
from functools import partial

from PyQt6.QtCore import pyqtSignal
from PyQt6.QtWidgets import QHBoxLayout, QSizePolicy, QSpinBox, QWidget

from nub_shift.editing.words.settings import Amount, Options, Subject, Switch, amounts_of, options_of, switches_of
from nub_shift.translation import inside, tr
from nub_shift.ui.look.theme import Theme
from nub_shift.ui.widgets.buttons import TextButton
from nub_shift.ui.widgets.flow import Flow
from nub_shift.ui.widgets.help_mark import HelpMark
from nub_shift.ui.widgets.plain import PlainLabel
from nub_shift.ui.widgets.spins import ScrollSafeChoice, make_spin, show_number

# Height of two lines of fields.
_HEIGHT = 58


class Amounts(QWidget):
    """A field for each, in rows of constant height.

    Attributes:
        spins, switches, choices: the fields, in order.
        flow: their layout.

    Signals:
        changed(str, object): description, and changed action or use.
    """

    changed = pyqtSignal(str, object)

    def __init__(self, theme: Theme, parent: QWidget | None = None) -> None:
        super().__init__(parent)
        self.theme = theme
        self.spins: list[QSpinBox] = []
        self.switches: list[TextButton] = []
        self.choices: list[ScrollSafeChoice] = []
        self._amounts: list[Amount] = []
        self._options: list[Options] = []
        self._switches: list[Switch] = []
        self._labels: list[str] = []
        self._fields: list[QWidget] = []
        self.flow = Flow(theme.px(4), self)
        # Does not narrow its neighbours.
        self.setSizePolicy(QSizePolicy.Policy.Ignored, QSizePolicy.Policy.Preferred)
        self.setMinimumHeight(theme.px(_HEIGHT))

    def add(self, label: str, field: QWidget, help_text: str, note: QWidget | None = None) -> None:
        """Adds a field owned and shown by the caller, before the others; `note` follows the field."""
        pair = self._labelled(label, field, help_text)
        layout = pair.layout()
        if note is not None and layout is not None:
            layout.addWidget(note)
        self.flow.addWidget(pair)

    def show_given(self, field: QWidget, on: bool) -> None:
        """Shows or hides such a field."""
        parent = field.parentWidget()
        if parent is not None:
            parent.setVisible(on)

    def show_subjects(self, subjects: Sequence[Subject]) -> None:
        """Shows the fields of an action, or of all uses of a control."""
        self._amounts = [found for does in subjects for found in amounts_of(does)]
        self._switches = [found for does in subjects for found in switches_of(does)]
        self._options = [found for does in subjects for found in options_of(does)]
        labels = [f"{found.label}{found.unit}" for found in self._amounts]
        labels += [found.label for found in self._switches] + [found.label for found in self._options]
        if labels != self._labels:
            self._labels = labels
            self._make_fields()
        for spin, amount in zip(self.spins, self._amounts, strict=True):
            show_number(spin, amount.value)
        for button, switch in zip(self.switches, self._switches, strict=True):
            button.setChecked(switch.on)
        for choice, options in zip(self.choices, self._options, strict=True):
            choice.setCurrentIndex(options.now)

    def _labelled(self, text: str, field: QWidget, help_text: str) -> QWidget:
        pair, row = self._make_pair(4)
        label = PlainLabel(text)
        label.setFont(self.theme.font(0.9))
        row.addWidget(label)
        row.addWidget(field)
        row.addWidget(HelpMark(self.theme, text, help_text, field))
        return pair

    def _explained(self, button: TextButton, switch: Switch) -> QWidget:
        pair, row = self._make_pair(1)
        row.addWidget(button)
        row.addWidget(HelpMark(self.theme, switch.label, switch.help, button))
        return pair

    def _make_pair(self, spacing: int) -> tuple[QWidget, QHBoxLayout]:
        """Returns a place for a field, of constant height, so that no field moves when another appears."""
        pair = QWidget(self)
        pair.setFixedHeight(self.theme.px(28))
        row = QHBoxLayout(pair)
        row.setContentsMargins(0, 0, 0, 0)
        row.setSpacing(self.theme.px(spacing))
        return pair, row

    def _make_fields(self) -> None:
        for field in self._fields:
            self.flow.removeWidget(field)
            field.hide()
            field.deleteLater()
        self._fields = []
        self.spins, self.switches, self.choices = [], [], []
        for index, amount in enumerate(self._amounts):
            spin = make_spin(f"{amount.label}, {amount.unit.strip()}", amount.low, amount.high, amount.unit)
            spin.valueChanged.connect(partial(self._on_amount, index))
            self.spins.append(spin)
            self._fields.append(self._labelled(amount.label, spin, amount.help))
        for index, switch in enumerate(self._switches):
            button = TextButton(self.theme, switch.label)
            button.setCheckable(True)
            button.clicked.connect(partial(self._on_switch, index))
            self.switches.append(button)
            self._fields.append(self._explained(button, switch))
        for index, options in enumerate(self._options):
            choice = ScrollSafeChoice(options.label, options.texts)
            choice.activated.connect(partial(self._on_option, index))
            self.choices.append(choice)
            self._fields.append(self._labelled(options.label, choice, options.help))
        for field in self._fields:
            self.flow.addWidget(field)

    def _on_amount(self, index: int, value: int) -> None:
        amount = self._amounts[index]
        self.changed.emit(f"{inside(amount.label)} {value}{amount.unit}", amount.change(value))

    def _on_option(self, index: int, chosen: int) -> None:
        options = self._options[index]
        self.changed.emit(f"{inside(options.label)}: {inside(options.texts[chosen])}", options.change(chosen))

    def _on_switch(self, index: int, on: bool) -> None:
        switch = self._switches[index]
        self.changed.emit(
            inside(switch.label) if on else tr("{switch}: off", switch=inside(switch.label)), switch.change(on)
        )

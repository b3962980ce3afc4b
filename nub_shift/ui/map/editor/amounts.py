"""The numbers and switches of what a slot does, as fields beside it."""

from __future__ import annotations

from functools import partial

from PyQt6.QtCore import pyqtSignal
from PyQt6.QtWidgets import QHBoxLayout, QSpinBox, QWidget

from nub_shift.editing.words.effects import Amount, Subject, Switch, amounts_of, switches_of
from nub_shift.ui.look.theme import Theme
from nub_shift.ui.widgets.buttons import TextButton
from nub_shift.ui.widgets.plain import PlainLabel
from nub_shift.ui.widgets.spins import make_spin, show_number


class AmountsRow(QWidget):
    """A field for each.

    Attributes:
        spins, switches: the fields, in order.

    Signals:
        changed(str, object): what was set, and the action or use with it.
    """

    changed = pyqtSignal(str, object)

    def __init__(self, theme: Theme, parent: QWidget | None = None) -> None:
        super().__init__(parent)
        self.theme = theme
        self.spins: list[QSpinBox] = []
        self.switches: list[TextButton] = []
        self._amounts: list[Amount] = []
        self._switches: list[Switch] = []
        self._labels: list[str] = []
        self._row = QHBoxLayout(self)
        self._row.setContentsMargins(0, 0, 0, 0)
        self._row.setSpacing(theme.px(4))
        self._row.addStretch(1)

    def show_action(self, does: Subject | None) -> None:
        """Shows the fields of an action or a use; the row is gone when it has none."""
        self._amounts = list(amounts_of(does)) if does is not None else []
        self._switches = list(switches_of(does)) if does is not None else []
        labels = [f"{found.label}{found.unit}" for found in self._amounts] + [found.label for found in self._switches]
        if labels != self._labels:
            self._labels = labels
            self._make_fields()
        for spin, amount in zip(self.spins, self._amounts, strict=True):
            show_number(spin, amount.value)
        for button, switch in zip(self.switches, self._switches, strict=True):
            button.setChecked(switch.on)
        self.setVisible(bool(labels))

    def _make_fields(self) -> None:
        while self._row.count() > 1:
            item = self._row.takeAt(0)
            widget = item.widget() if item is not None else None
            if widget is not None:
                widget.hide()
                widget.deleteLater()
        self.spins, self.switches = [], []
        for index, amount in enumerate(self._amounts):
            label = PlainLabel(amount.label)
            label.setFont(self.theme.font(0.9))
            spin = make_spin(f"{amount.label}, {amount.unit.strip()}", amount.low, amount.high, amount.unit)
            spin.valueChanged.connect(partial(self._on_amount, index))
            self.spins.append(spin)
            for widget in (label, spin):
                self._row.insertWidget(self._row.count() - 1, widget)
        for index, switch in enumerate(self._switches):
            button = TextButton(self.theme, switch.label)
            button.setCheckable(True)
            button.clicked.connect(partial(self._on_switch, index))
            self.switches.append(button)
            self._row.insertWidget(self._row.count() - 1, button)

    def _on_amount(self, index: int, value: int) -> None:
        amount = self._amounts[index]
        self.changed.emit(f"{amount.label.lower()} {value}{amount.unit}", amount.change(value))

    def _on_switch(self, index: int, on: bool) -> None:
        switch = self._switches[index]
        self.changed.emit(switch.label.lower() if on else f"{switch.label.lower()}: off", switch.change(on))

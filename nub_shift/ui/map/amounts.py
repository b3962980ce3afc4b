"""The numbers and switches of what a slot does, as fields beside it."""

from __future__ import annotations

from collections.abc import Callable, Iterator
from dataclasses import dataclass
from typing import Any

from msgspec.structs import replace
from PyQt6.QtCore import pyqtSignal
from PyQt6.QtWidgets import QHBoxLayout, QLabel, QSpinBox, QWidget

from nub_shift.model.actions import Action, Assignment, Manner
from nub_shift.ui.look.theme import Theme
from nub_shift.ui.widgets.buttons import TextButton
from nub_shift.ui.widgets.spins import make_spin, show_number

Values = dict[str, Any]
# Effects with an amount across and one up or down: least, most, unit.
_PAIRS = {
    "pointer": (-20000, 20000, " counts/s"),
    "glide": (-20000, 20000, " counts/s"),
    "nudge": (-20000, 20000, " counts"),
    "scroll": (-100, 100, " clicks/s"),
    "drag": (-20000, 20000, " counts"),
    "position": (1, 5000, " counts"),
}
_BUTTONS = {"BTN_LEFT": "left", "BTN_RIGHT": "right"}


@dataclass(frozen=True)
class Amount:
    """A number that can be set.

    Attributes:
        change: the fields of the action that a new number changes.
    """

    label: str
    value: int
    low: int
    high: int
    unit: str
    change: Callable[[int], Values]


@dataclass(frozen=True)
class Switch:
    """Something that is so or not.

    Attributes:
        change: the fields of the action that switching changes.
    """

    label: str
    on: bool
    change: Callable[[bool], Values]


def amounts_of(does: Action) -> Iterator[Amount]:
    """The numbers of an action."""
    for name, (low, high, unit) in _PAIRS.items():
        part = getattr(does, name, None)
        for axis, label in (("x", "Across"), ("y", "Upright")) if part is not None else ():

            def change(value: int, name: str = name, axis: str = axis, part: Any = part) -> Values:
                return {name: replace(part, **{axis: value})}

            yield Amount(label, round(getattr(part, axis)), low, high, unit, change)
    if does.pace is not None:
        yield Amount("Pace", round(does.pace * 100), 1, 2000, " %", lambda value: {"pace": value / 100})
    if does.manner is Manner.TURBO:
        yield Amount("Down for", round(does.duty * 100), 5, 95, " %", lambda value: {"duty": value / 100})


def switches_of(does: Action) -> Iterator[Switch]:
    """What is so or not of an action."""
    if does.manner is Manner.TOGGLE:
        yield Switch("Comes back with the game", does.regain, lambda on: {"regain": on})
    if isinstance(does, Assignment) and (place := does.position) is not None:
        yield Switch("On a ring", place.ring, lambda on: {"position": replace(place, ring=on)})
        for code, name in _BUTTONS.items():

            def hold(on: bool, code: str = code) -> Values:
                rest = tuple(held for held in place.hold if held != code)
                return {"position": replace(place, hold=(*rest, code) if on else rest)}

            yield Switch(f"Holds the {name} button", code in place.hold, hold)
    if isinstance(does, Assignment) and (turn := does.turn) is not None:
        yield Switch("Only while switched on", not turn.on, lambda on: {"turn": replace(turn, on=not on)})


class AmountsRow(QWidget):
    """A field for each.

    Attributes:
        spins, switches: the fields, in order.

    Signals:
        changed(dict): fields of the action that are another now.
    """

    changed = pyqtSignal(dict)

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

    def show_action(self, does: Action | None) -> None:
        """Shows the fields of an action; the row is gone when it has none."""
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
        for place, amount in enumerate(self._amounts):
            label = QLabel(amount.label)
            label.setFont(self.theme.font(0.9))
            spin = make_spin(f"{amount.label}, {amount.unit.strip()}", amount.low, amount.high, amount.unit)
            spin.valueChanged.connect(lambda value, found=place: self.changed.emit(self._amounts[found].change(value)))
            self.spins.append(spin)
            for widget in (label, spin):
                self._row.insertWidget(self._row.count() - 1, widget)
        for place, switch in enumerate(self._switches):
            button = TextButton(self.theme, switch.label)
            button.setCheckable(True)
            button.clicked.connect(lambda on, found=place: self.changed.emit(self._switches[found].change(on)))
            self.switches.append(button)
            self._row.insertWidget(self._row.count() - 1, button)

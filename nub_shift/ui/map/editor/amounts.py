"""The numbers and switches of what a slot does, as fields beside it."""

from __future__ import annotations

from collections.abc import Callable, Iterator
from dataclasses import dataclass
from functools import partial
from typing import TypeVar, assert_never

from msgspec.structs import replace
from PyQt6.QtCore import pyqtSignal
from PyQt6.QtWidgets import QHBoxLayout, QLabel, QSpinBox, QWidget

from nub_shift.model.actions import Action, Manner, with_effect
from nub_shift.model.effects import (
    AskForProfile,
    CarouselStep,
    ChangePace,
    ChooseFromRing,
    ClickWheel,
    DoMove,
    Drag,
    Effect,
    Glide,
    HoldLayer,
    NextLayer,
    Nudge,
    PlaySequence,
    PointerPosition,
    PointerSpeed,
    PressKeys,
    Scroll,
    Silence,
    StayOnLayer,
    StickUse,
    SwitchMotion,
    Turn,
)
from nub_shift.ui.look.theme import Theme
from nub_shift.ui.widgets.buttons import TextButton
from nub_shift.ui.widgets.spins import make_spin, show_number

_BUTTONS = {"BTN_LEFT": "left", "BTN_RIGHT": "right"}
# What an amount or a switch changes, as it stands when it is changed.
Subject = Action | StickUse
S = TypeVar("S", PointerSpeed, PointerPosition, Scroll, Drag, Glide, Nudge)


@dataclass(frozen=True)
class Amount:
    """A number that can be set.

    Attributes:
        change: the action or use with a new number.
    """

    label: str
    value: int
    low: int
    high: int
    unit: str
    change: Callable[[int], Subject]


@dataclass(frozen=True)
class Switch:
    """Something that is so or not.

    Attributes:
        change: the action or use with it switched.
    """

    label: str
    on: bool
    change: Callable[[bool], Subject]


def amounts_of(does: Subject) -> Iterator[Amount]:
    """The numbers of an action, or of what a whole stick does."""
    if not isinstance(does, Action):
        yield from _use_amounts(does)
        return
    if does.effect is not None:
        yield from _effect_amounts(does, does.effect)
    if does.manner is Manner.TURBO:
        yield Amount("Down for", round(does.duty * 100), 5, 95, " %", lambda value: replace(does, duty=value / 100))


def _effect_amounts(does: Action, effect: Effect) -> Iterator[Amount]:
    def changed(effect: Effect) -> Action:
        return with_effect(does, effect)

    match effect:
        case Glide():
            yield from _across_and_upright(effect, -20000, 20000, " counts/s", changed)
        case Nudge():
            yield from _across_and_upright(effect, -20000, 20000, " counts", changed)
        case Scroll():
            yield from _across_and_upright(effect, -100, 100, " clicks/s", changed)
        case ChangePace(factor):
            yield Amount("Pace", round(factor * 100), 1, 2000, " %", lambda value: changed(ChangePace(value / 100)))
        case DoMove() | PressKeys() | ClickWheel() | PlaySequence() | CarouselStep() | Silence():
            pass
        case HoldLayer() | StayOnLayer() | NextLayer() | SwitchMotion() | AskForProfile():
            pass
        case _:
            assert_never(effect)


def _use_amounts(use: StickUse) -> Iterator[Amount]:
    match use:
        case PointerSpeed():
            yield from _across_and_upright(use, -20000, 20000, " counts/s", lambda made: made)
        case Scroll():
            yield from _across_and_upright(use, -100, 100, " clicks/s", lambda made: made)
        case Drag():
            yield from _across_and_upright(use, -20000, 20000, " counts", lambda made: made)
        case PointerPosition():
            yield from _across_and_upright(use, 1, 5000, " counts", lambda made: made)
        case ChooseFromRing() | Turn():
            pass
        case _:
            assert_never(use)


def _across_and_upright(pair: S, low: int, high: int, unit: str, changed: Callable[[S], Subject]) -> Iterator[Amount]:
    """An amount across and one up or down."""
    yield Amount("Across", round(pair.x), low, high, unit, lambda value: changed(replace(pair, x=value)))
    yield Amount("Upright", round(pair.y), low, high, unit, lambda value: changed(replace(pair, y=value)))


def switches_of(does: Subject) -> Iterator[Switch]:
    """What is so or not of an action, or of what a whole stick does."""
    match does:
        case Action():
            if does.manner is Manner.TOGGLE:
                yield Switch("Comes back with the game", does.regain, lambda on: replace(does, regain=on))
        case PointerPosition():
            yield Switch("On a ring", does.ring, lambda on: replace(does, ring=on))
            for code, name in _BUTTONS.items():
                yield Switch(f"Holds the {name} button", code in does.hold, _holding(does, code))
        case Turn():
            yield Switch("Only while switched on", not does.on, lambda on: Turn(on=not on))
        case PointerSpeed() | Scroll() | Drag() | ChooseFromRing():
            pass
        case _:
            assert_never(does)


def _holding(position: PointerPosition, code: str) -> Callable[[bool], PointerPosition]:
    rest = tuple(held for held in position.hold if held != code)
    return lambda on: replace(position, hold=(*rest, code) if on else rest)


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
            label = QLabel(amount.label)
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

"""Below an opened control: which reaction is edited, how it is kept up, and effects that are no plain key."""

from __future__ import annotations

from collections.abc import Callable
from functools import partial
from typing import Any

from msgspec.structs import replace
from PyQt6.QtCore import Qt, pyqtSignal
from PyQt6.QtWidgets import QHBoxLayout, QMenu, QVBoxLayout, QWidget

from nub_shift.editing.document import Edit
from nub_shift.editing.edits import bindings as edits
from nub_shift.editing.edits import shared_parts as part_edits
from nub_shift.editing.edits.removal import removed
from nub_shift.editing.edits.slots import action_of, time_ms
from nub_shift.editing.words.effects import Menu, choices
from nub_shift.editing.words.labels import MANNER_WORDS, REACTION_WORDS
from nub_shift.editing.words.slot_views import with_words
from nub_shift.model.actions import Action, Assignment, Manner, Order, Reaction, Together, waiting_ms, with_manner
from nub_shift.model.controls import MOTION_SLOT
from nub_shift.model.effect_facts import manners_of
from nub_shift.model.effects import NextLayer, Silence
from nub_shift.model.listed import Again, Confirm, Runs
from nub_shift.model.named import Kind, Reference
from nub_shift.model.profile import BASE_LAYER, Profile
from nub_shift.ui.look.theme import Theme
from nub_shift.ui.map.editor.amounts import AmountsRow
from nub_shift.ui.widgets.buttons import TextButton
from nub_shift.ui.widgets.menus import add_entry, add_menu
from nub_shift.ui.widgets.plain import PlainLabel
from nub_shift.ui.widgets.spins import make_spin, show_number

_MENU_WORDS = {
    Menu.WHOLE: "Whole stick …",
    Menu.LAYER: "Layer …",
    Menu.WHEEL: "Wheel …",
    Menu.STEP: "Step …",
    Menu.SEQUENCE: "Sequence …",
    Menu.MORE: "More …",
}
_REPEATS = (Manner.TURBO, Manner.PULSE, Manner.TOGGLE_TURBO)
# What slots share, by the menu that it is set in.
_SHARED = {Menu.WHOLE: Kind.RING, Menu.STEP: Kind.CAROUSEL, Menu.SEQUENCE: Kind.SEQUENCE}
# What can be set of it, in words.
_SETTINGS: dict[Kind, tuple[tuple[str, dict[str, Any]], ...]] = {
    Kind.CAROUSEL: (
        ("Goes round at its ends", {"wrap": True}),
        ("Stops at its ends", {"wrap": False}),
        ("Falls back to the first after 1 s", {"rest_ms": 1000}),
        ("Falls back to the first after 3 s", {"rest_ms": 3000}),
        ("Falls back to the first after 10 s", {"rest_ms": 10_000}),
        ("Never falls back", {"rest_ms": 0}),
    ),
    Kind.RING: (
        ("Sent as the stick comes back", {"confirm": Confirm.RELEASE}),
        ("Sent by the stick's click", {"confirm": Confirm.CLICK}),
        ("Held while the stick is there", {"confirm": Confirm.ENTER}),
        ("Sent as the layer is let go", {"confirm": Confirm.LET_GO}),
        ("A ring", {"columns": 0}),
        *((f"A grid with {count} columns", {"columns": count}) for count in range(2, 7)),
    ),
    Kind.SEQUENCE: (
        ("Runs once", {"runs": Runs.ONCE}),
        ("Runs while held", {"runs": Runs.WHILE_HELD}),
        ("Runs until pressed again", {"runs": Runs.UNTIL_PRESSED}),
        ("Pressed again: goes on", {"again": Again.IGNORE}),
        ("Pressed again: starts anew", {"again": Again.RESTART}),
        ("Pressed again: waits its turn", {"again": Again.QUEUE}),
        ("Pressed again: runs besides", {"again": Again.OVERLAP}),
    ),
}


class ActionBar(QWidget):
    """When, how, and what that is no plain key: the choices for the chosen slot.

    Attributes:
        reaction: the one that keys, moves and effects go to.
        reactions, manners: buttons by what they choose.
        menus: the buttons that offer effects.
        amounts: the numbers and switches of the effect.

    Signals:
        manner_picked(Manner, float): how it is to be kept up, with times a second.
        time_picked(int): how long a hold, tap or double tap waits, in milliseconds.
        amounts_picked(str, object): what was set of the effect, and the action or use with it.
        effect_picked(object): an effect for the reaction, or None to empty.
        use_picked(object): what a whole stick, surface or motion is to do.
        layer_wanted(): a new layer that is on while this is held.
        partner_wanted(): the next control that is touched is to do something together with this one.
        part_wanted(Reference): the entries of a carousel or ring, or the steps of a sequence, are to be changed.
        edited(str, Edit): something that slots share is to be another: what, and the edit.
    """

    manner_picked = pyqtSignal(object, float)
    time_picked = pyqtSignal(int)
    amounts_picked = pyqtSignal(str, object)
    effect_picked = pyqtSignal(object)
    use_picked = pyqtSignal(object)
    layer_wanted = pyqtSignal()
    partner_wanted = pyqtSignal()
    part_wanted = pyqtSignal(object)
    edited = pyqtSignal(str, object)

    def __init__(self, theme: Theme, titles: Callable[[], list[str]], parent: QWidget | None = None) -> None:
        """`titles` lists the profiles that a slot can go to."""
        super().__init__(parent)
        self.theme = theme
        self.reaction = Reaction.PRESS
        self._titles = titles
        self._profile: Profile | None = None
        self._slot = ""
        self._layer = BASE_LAYER
        self._assignment: Assignment | None = None
        self.reactions = {reaction: TextButton(theme, label) for reaction, label in REACTION_WORDS.items()}
        self.manners = {manner: TextButton(theme, label) for manner, label in MANNER_WORDS.items()}
        self.menus = {menu: TextButton(theme, label) for menu, label in _MENU_WORDS.items()}
        for menu, button in self.menus.items():
            button.clicked.connect(partial(self._pop_up, menu))
        self._waits = PlainLabel()
        self._waits.setFont(theme.font(0.85))
        self.rate = make_spin("times a second", 1, 60, " /s")
        self.rate.valueChanged.connect(self._on_rate)
        self.time = make_spin("milliseconds", 20, 5000, " ms")
        self.time.setSingleStep(10)
        self.time.valueChanged.connect(self.time_picked)
        self._plain = [button for menu, button in self.menus.items() if menu is not Menu.WHOLE]
        self.empty = TextButton(theme, "Clear", "Remove what this slot does; the layer below shows through (Delete)")
        self.empty.clicked.connect(lambda: self.effect_picked.emit(None))
        self.silence = TextButton(theme, "Do nothing", "This slot does nothing, whatever the layer below does")
        self.silence.clicked.connect(lambda: self.effect_picked.emit(Silence()))
        column = QVBoxLayout(self)
        column.setContentsMargins(0, 0, 0, 0)
        column.setSpacing(theme.px(3))
        self._row(column, [*self.reactions.values(), self.time])
        self._row(column, [*self.manners.values(), self.rate, self._waits])
        self.amounts = AmountsRow(theme)
        self.amounts.changed.connect(self.amounts_picked)
        column.addWidget(self.amounts)
        self._row(column, [*self._plain, self.menus[Menu.WHOLE]])
        for reaction, button in self.reactions.items():
            button.setCheckable(True)
            button.clicked.connect(lambda _checked, found=reaction: self._on_reaction(found))
        for manner, button in self.manners.items():
            button.setCheckable(True)
            button.clicked.connect(lambda _checked, found=manner: self._on_manner(found))

    def show_slot(self, profile: Profile, layer_id: str, slot: str, assignment: Assignment | None, whole: bool) -> None:
        """Shows what the chosen slot does in a layer; `whole` is one that stands for a stick or for turning."""
        self._layer = layer_id
        if slot != self._slot:
            self.reaction = Reaction.PRESS
        self._profile, self._slot, self._assignment = profile, slot, assignment
        found = action_of(assignment, self.reaction)
        waits: dict[Reaction, int] = {}
        if assignment is not None:
            waits = waiting_ms(assignment, part_edits.press_wait_ms(profile, layer_id, slot))
        for reaction, button in self.reactions.items():
            button.setChecked(reaction is self.reaction)
            given = action_of(assignment, reaction) is not None and reaction is not Reaction.PRESS
            button.setText(f"{REACTION_WORDS[reaction]} •" if given else REACTION_WORDS[reaction])
            button.updateGeometry()
        worst = max(waits.values(), default=0)
        self._waits.setText(f"waits {worst} ms" if worst else "")
        for manner, button in self.manners.items():
            button.setChecked(found is not None and found.manner is manner)
            button.setEnabled(manner in _manners_of(found))
        show_number(self.rate, round(found.rate_hz) if found is not None else 10)
        self.rate.setVisible(found is not None and found.manner in _REPEATS)
        waits_ms = time_ms(assignment, self.reaction) if assignment is not None and found is not None else None
        self.time.setVisible(waits_ms is not None)
        if waits_ms is not None:
            show_number(self.time, waits_ms)
        for widget in (*self.reactions.values(), *self.manners.values(), *self._plain):
            widget.setVisible(not whole)
        self.amounts.show_action(assignment.use if whole and assignment is not None else found)
        button = self.menus[Menu.WHOLE]
        button.setVisible(whole)
        button.setText("Whole pad …" if slot == MOTION_SLOT else _MENU_WORDS[Menu.WHOLE])
        button.updateGeometry()

    def _row(self, column: QVBoxLayout, widgets: list[QWidget]) -> None:
        row = QHBoxLayout()
        row.setSpacing(self.theme.px(3))
        for widget in widgets:
            row.addWidget(widget)
        row.addStretch(1)
        column.addLayout(row)

    def _pop_up(self, which: Menu) -> None:
        if self._profile is None:
            return
        menu = QMenu(self)
        menu.setAttribute(Qt.WidgetAttribute.WA_DeleteOnClose)
        picked = self.use_picked if which is Menu.WHOLE else self.effect_picked
        titles = self._titles() if which is Menu.MORE else []
        for text, choice in choices(which, self._profile, self._slot, titles):
            add_entry(menu, text, partial(picked.emit, choice))
        if which is Menu.LAYER:
            add_entry(menu, "A new layer, while held", self.layer_wanted.emit)
            self._add_round(menu, self._profile)
        self._add_settings(menu, which, self._profile)
        if menu.isEmpty():
            add_entry(menu, "There is none yet: click the heading of a group of moves", menu.close).setEnabled(False)
        button = self.menus[which]
        menu.popup(button.mapToGlobal(button.rect().bottomLeft()))

    def _add_round(self, menu: QMenu, profile: Profile) -> None:
        """Which layers are gone round, where that is what the slot does."""
        found = action_of(self._assignment, self.reaction)
        effect = found.effect if found is not None else None
        if not isinstance(effect, NextLayer):
            return
        round_ = add_menu(menu, "Goes round")
        for layer in profile.layers:
            on = layer.id in effect.layers
            rest = tuple(other for other in effect.layers if other != layer.id)
            changed = NextLayer(rest if on else (*rest, layer.id))
            entry = add_entry(round_, layer.label, partial(self.effect_picked.emit, changed), on)
            entry.setEnabled(not on or len(rest) > 1)

    def _add_settings(self, menu: QMenu, which: Menu, profile: Profile) -> None:
        """What slots share can be set, and removed, where it is chosen; so can what two slots do together."""
        if which is Menu.MORE:
            add_entry(menu, "Together with the control pressed next", self.partner_wanted.emit)
            for pair in part_edits.partners(profile, self._layer, self._slot):
                self._add_pair(menu, pair)
        if self._slot == MOTION_SLOT:
            return
        if which is Menu.WHOLE:
            for text, codes in edits.STICK_KEYS.items():
                walk = partial(edits.keys_on_stick, layer_id=self._layer, stick=self._slot, codes=codes)
                self._add_edit(menu, text, walk)
        kind = _SHARED.get(which)
        if kind is None:
            return
        for part in getattr(profile, kind.value):
            reference = Reference(kind, part.id)
            under = add_menu(menu, f"Set {part.label}")
            what = "Change its steps" if kind is Kind.SEQUENCE else "Change its entries"
            add_entry(under, what, partial(self.part_wanted.emit, reference))
            for text, values in _SETTINGS[kind]:
                self._add_edit(under, text, partial(part_edits.changed, reference=reference, **values))
            self._add_edit(under, "Remove it", partial(removed, reference=reference))

    def _add_edit(self, menu: QMenu, text: str, edit: Edit) -> None:
        add_entry(menu, text, partial(self.edited.emit, text, edit))

    def _add_pair(self, menu: QMenu, pair: Together) -> None:
        """What can be set of what slots do together."""
        under = add_menu(menu, f"Together {with_words(pair, self._slot)}")
        layer, slots, order = self._layer, pair.slots, pair.order

        def add(text: str, what: Together | None, now: bool | None = None) -> None:
            within = what.within_ms if what is not None else 0
            edit = partial(part_edits.together, layer_id=layer, slots=slots, action=what, within_ms=within, order=order)
            add_entry(under, text, partial(self.edited.emit, f"Together: {text.lower()}", edit), now)

        within_ms = sorted({30, 60, 100, 150, pair.within_ms}) if order is Order.ANY else []
        for milliseconds in within_ms:
            made = replace(pair, within_ms=milliseconds)
            add(f"Within {milliseconds} ms", made, milliseconds == pair.within_ms)
        for manner, label in MANNER_WORDS.items():
            if manner in _manners_of(pair):
                add(label, with_manner(pair, manner), manner is pair.manner)
        add("No longer", None)

    def _on_reaction(self, reaction: Reaction) -> None:
        self.reaction = reaction
        if self._profile is not None:
            self.show_slot(self._profile, self._layer, self._slot, self._assignment, whole=False)

    def _on_manner(self, manner: Manner) -> None:
        self.manner_picked.emit(manner, float(self.rate.value()))

    def _on_rate(self) -> None:
        found = action_of(self._assignment, self.reaction)
        if found is not None and found.manner in _REPEATS:
            self.manner_picked.emit(found.manner, float(self.rate.value()))


def _manners_of(action: Action | None) -> frozenset[Manner]:
    """How what an action does can be kept up."""
    effect = action.effect if action is not None else None
    return manners_of(effect) if effect is not None else frozenset()

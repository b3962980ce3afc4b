"""The lists of all that a slot can do besides a plain key or a move, with what can be set of what slots share."""

from __future__ import annotations

from collections.abc import Callable
from dataclasses import dataclass
from functools import partial
from typing import Any

from msgspec.structs import replace
from PyQt6.QtWidgets import QMenu

from nub_shift.editing.document import Edit
from nub_shift.editing.edits import bindings as edits
from nub_shift.editing.edits import shared_parts as part_edits
from nub_shift.editing.edits.removal import removed
from nub_shift.editing.edits.slots import action_of
from nub_shift.editing.words.effects import Menu, choices
from nub_shift.editing.words.labels import MANNER_WORDS
from nub_shift.editing.words.slot_views import with_words
from nub_shift.model.actions import Action, Assignment, Manner, Order, Reaction, Together, with_manner
from nub_shift.model.controls import MOTION_SLOT, STICK_SLOTS
from nub_shift.model.effect_facts import manners_of
from nub_shift.model.effects import Effect, NextLayer, StickUse
from nub_shift.model.listed import Again, Confirm, Runs
from nub_shift.model.named import Kind, Reference
from nub_shift.model.profile import Profile
from nub_shift.ui.widgets.menus import add_entry, add_menu

# Sequences to begin with, as they are written.
EXAMPLES = ("Ctrl + C, 100 ms, Ctrl + V", '"gg", Enter', "down Shift, W, W, up Shift")
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


@dataclass(frozen=True)
class Place:
    """Where something is to be done.

    Attributes:
        profile: as it is.
        layer, slot, reaction: which slot of which layer, and when.
        assignment: what the slot does there.
    """

    profile: Profile
    layer: str
    slot: str
    reaction: Reaction
    assignment: Assignment | None

    @property
    def whole(self) -> bool:
        """Whether the slot stands for a whole stick or surface, or for turning the pad."""
        return self.slot in STICK_SLOTS or self.slot == MOTION_SLOT


@dataclass(frozen=True)
class Wanted:
    """What is called with a choice.

    Attributes:
        effect, use: with what the slot, or the whole stick, is to do.
        layer: for a new layer that is on while the slot is held.
        partner: for the control that is pressed next.
        part: with a carousel or ring whose entries, or a sequence whose steps, are to be changed.
        example: with a sequence to begin with, as it is written.
        edit: with what is done, and the edit.
    """

    effect: Callable[[Effect], object]
    use: Callable[[StickUse], object]
    layer: Callable[[], object]
    partner: Callable[[], object]
    part: Callable[[Reference], object]
    example: Callable[[str], object]
    edit: Callable[[str, Edit], object]


class WhatMenu:
    """Fills menus for a slot."""

    def __init__(self, place: Place, wanted: Wanted, titles: Callable[[], list[str]]) -> None:
        """`titles` lists the profiles that a slot can go to."""
        self._place = place
        self._wanted = wanted
        self._titles = titles

    def fill_all(self, menu: QMenu) -> None:
        """All lists but those of whole sticks and of layers, each below its name."""
        for which in Menu:
            if which not in (Menu.WHOLE, Menu.LAYER):
                self.fill(add_menu(menu, which.value), which)

    def fill(self, menu: QMenu, which: Menu) -> None:
        """One list."""
        place, picked = self._place, self._wanted.use if which is Menu.WHOLE else self._wanted.effect
        titles = self._titles() if which is Menu.PROFILE else []
        for text, choice in choices(which, place.profile, place.slot, titles):
            add_entry(menu, text, partial(picked, choice))  # type: ignore[arg-type]
        if which is Menu.LAYER:
            add_entry(menu, "A new layer, while held", self._wanted.layer)
            self._add_round(menu)
        self._add_settings(menu, which)
        if which is Menu.SEQUENCE:
            under = add_menu(menu, "An example to start from")
            for example in EXAMPLES:
                add_entry(under, example, partial(self._wanted.example, example))
        if menu.isEmpty():
            hint = "There is no other profile yet" if which is Menu.PROFILE else "Click the heading of a group of moves"
            add_entry(menu, hint, menu.close).setEnabled(False)

    def _add_round(self, menu: QMenu) -> None:
        """Which layers are gone round, where that is what the slot does."""
        found = action_of(self._place.assignment, self._place.reaction)
        effect = found.effect if found is not None else None
        if not isinstance(effect, NextLayer):
            return
        round_ = add_menu(menu, "Goes round")
        for layer in self._place.profile.layers:
            on = layer.id in effect.layers
            rest = tuple(other for other in effect.layers if other != layer.id)
            changed = NextLayer(rest if on else (*rest, layer.id))
            entry = add_entry(round_, layer.label, partial(self._wanted.effect, changed), on)
            entry.setEnabled(not on or len(rest) > 1)

    def _add_settings(self, menu: QMenu, which: Menu) -> None:
        """What slots share can be set, and removed, where it is chosen; so can what two slots do together."""
        place = self._place
        if which is Menu.TOGETHER:
            add_entry(menu, "With the control you press next", self._wanted.partner)
            for pair in part_edits.partners(place.profile, place.layer, place.slot):
                self._add_pair(menu, pair)
        if place.slot == MOTION_SLOT:
            return
        if which is Menu.WHOLE:
            for text, codes in edits.STICK_KEYS.items():
                walk = partial(edits.keys_on_stick, layer_id=place.layer, stick=place.slot, codes=codes)
                self._add_edit(menu, text, walk)
        kind = _SHARED.get(which)
        if kind is None:
            return
        for part in getattr(place.profile, kind.value):
            reference = Reference(kind, part.id)
            under = add_menu(menu, f"Set {part.label}")
            what = "Change its steps" if kind is Kind.SEQUENCE else "Change its entries"
            add_entry(under, what, partial(self._wanted.part, reference))
            for text, values in _SETTINGS[kind]:
                self._add_edit(under, text, partial(part_edits.changed, reference=reference, **values))
            self._add_edit(under, "Remove it", partial(removed, reference=reference))

    def _add_edit(self, menu: QMenu, text: str, edit: Edit) -> None:
        add_entry(menu, text, partial(self._wanted.edit, text, edit))

    def _add_pair(self, menu: QMenu, pair: Together) -> None:
        """What can be set of what slots do together."""
        under = add_menu(menu, f"Together {with_words(pair, self._place.slot)}")
        layer, slots, order = self._place.layer, pair.slots, pair.order

        def add(text: str, what: Together | None, now: bool | None = None) -> None:
            within = what.within_ms if what is not None else 0
            edit = partial(part_edits.together, layer_id=layer, slots=slots, action=what, within_ms=within, order=order)
            add_entry(under, text, partial(self._wanted.edit, f"Together: {text.lower()}", edit), now)

        within_ms = sorted({30, 60, 100, 150, pair.within_ms}) if order is Order.ANY else []
        for milliseconds in within_ms:
            made = replace(pair, within_ms=milliseconds)
            add(f"Within {milliseconds} ms", made, milliseconds == pair.within_ms)
        for manner, label in MANNER_WORDS.items():
            if manner in possible_manners(pair):
                add(label, with_manner(pair, manner), manner is pair.manner)
        add("No longer", None)


def possible_manners(action: Action | None) -> frozenset[Manner]:
    """How what an action does can be kept up."""
    effect = action.effect if action is not None else None
    return manners_of(effect) if effect is not None else frozenset()

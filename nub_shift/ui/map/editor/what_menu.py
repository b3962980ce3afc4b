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
from nub_shift.editing.edits.ids import fresh_id
from nub_shift.editing.edits.removal import removed
from nub_shift.editing.edits.slots import action_of
from nub_shift.editing.words.effects import Menu, choices
from nub_shift.editing.words.labels import MANNER_WORDS, action_label
from nub_shift.editing.words.slot_views import with_words
from nub_shift.keyboard.layout import Layout
from nub_shift.model.actions import MAX_ALSO, ONLY_IN, Action, Manner, with_manner
from nub_shift.model.controls import CONTROLS, MOTION_SLOT, STICK_SLOTS, slot_label
from nub_shift.model.effect_facts import manners_of
from nub_shift.model.effects import Effect, NextLayer, PointerPosition, StickUse
from nub_shift.model.listed import Again, Confirm, Runs
from nub_shift.model.named import Kind, Reference
from nub_shift.model.profile import Profile
from nub_shift.model.reactions import Assignment, Order, Reaction, Together
from nub_shift.model.walk import actions_in
from nub_shift.translation import inside, tr
from nub_shift.ui.look.theme import Theme
from nub_shift.ui.widgets.menu_help import add_choices, add_help
from nub_shift.ui.widgets.menus import add_entry, add_menu

HOW_HELP = tr("Whether the key is down while you hold, until you press again, or again and again.")
# Sequences to begin with, as they are written.
EXAMPLES = (tr("Ctrl + C, 100 ms, Ctrl + V"), tr('"gg", Enter'), tr("down Shift, W, W, up Shift"))
# What slots share, by the menu that it is set in.
_SHARED = {Menu.WHOLE: Kind.RING, Menu.STEP: Kind.CAROUSEL, Menu.SEQUENCE: Kind.SEQUENCE}
# What can be set of it: what it is about, a sentence of what it does, and the choices.
_SETTINGS: dict[Kind, tuple[tuple[str, str, tuple[tuple[str, dict[str, Any]], ...]], ...]] = {
    Kind.CAROUSEL: (
        (
            tr("the end of the list"),
            tr("What a step does after the last entry, and before the first."),
            ((tr("Starts over at the end"), {"wrap": True}), (tr("Stops at the end"), {"wrap": False})),
        ),
        (
            tr("going back to the first"),
            tr("Whether the first entry is chosen again once you have not stepped for a while."),
            (
                (tr("Goes back to the first after 1 s"), {"rest_ms": 1000}),
                (tr("Goes back to the first after 3 s"), {"rest_ms": 3000}),
                (tr("Goes back to the first after 10 s"), {"rest_ms": 10_000}),
                (tr("Never goes back by itself"), {"rest_ms": 0}),
            ),
        ),
    ),
    Kind.RING: (
        (
            tr("the way to choose"),
            tr("When the entry that the stick points at is pressed."),
            (
                (tr("Chosen when the stick comes back"), {"confirm": Confirm.RELEASE}),
                (tr("Chosen by clicking the stick"), {"confirm": Confirm.CLICK}),
                (tr("Held while the stick points at it"), {"confirm": Confirm.ENTER}),
                (tr("Chosen when the layer goes off"), {"confirm": Confirm.LET_GO}),
            ),
        ),
        (
            tr("the shape"),
            tr("A ring has its entries all around the stick, a grid has them in rows."),
            (
                (tr("A ring"), {"columns": 0}),
                *((tr("A grid with {count} columns", count=count), {"columns": count}) for count in range(2, 7)),
            ),
        ),
    ),
    Kind.SEQUENCE: (
        (
            tr("the number of runs"),
            tr("How often the steps run after one press."),
            (
                (tr("Runs once"), {"runs": Runs.ONCE}),
                (tr("Runs while held"), {"runs": Runs.WHILE_HELD}),
                (tr("Runs until pressed again"), {"runs": Runs.UNTIL_PRESSED}),
            ),
        ),
        (
            tr("a second press"),
            tr("What a press does while the steps of the last one are still running."),
            (
                (tr("Pressed again: keeps running"), {"again": Again.IGNORE}),
                (tr("Pressed again: starts over"), {"again": Again.RESTART}),
                (tr("Pressed again: runs once more afterwards"), {"again": Again.QUEUE}),
                (tr("Pressed again: runs twice at once"), {"again": Again.OVERLAP}),
            ),
        ),
    ),
}


@dataclass(frozen=True)
class Place:
    """Where something is to be done.

    Attributes:
        profile: as it is.
        layer, slot, reaction: which slot of which layer, and when.
        assignment: what the slot does there.
        whole: the slot stands for a whole stick or surface, or for turning the pad.
    """

    profile: Profile
    layer: str
    slot: str
    reaction: Reaction
    assignment: Assignment | None
    whole: bool


@dataclass(frozen=True)
class Wanted:
    """What is called with a choice.

    Attributes:
        effect, use: with what the slot, or the whole stick, is to do.
        layer: for a new layer that is on while the slot is held.
        partner: for the control that is pressed next.
        third: with two slots that do something together, for a third one that is pressed next.
        part: with a carousel or ring whose entries, or a sequence whose steps, are to be changed.
        example: with a sequence to begin with, as it is written.
        besides: for one thing more, which begins with what the slot does.
        action: with what is set of an action, and the action as it is then.
        edit: with what is done, and the edit.
    """

    effect: Callable[[Effect], object]
    use: Callable[[StickUse], object]
    layer: Callable[[], object]
    partner: Callable[[], object]
    third: Callable[[str, str], object]
    part: Callable[[Reference], object]
    example: Callable[[str], object]
    besides: Callable[[], object]
    action: Callable[[str, Action], object]
    edit: Callable[[str, Edit], object]


class WhatMenu:
    """Fills menus for a slot."""

    def __init__(
        self, theme: Theme, place: Place, wanted: Wanted, titles: Callable[[], list[str]], layout: Layout
    ) -> None:
        """`titles` lists the profiles that a slot can go to; keys are named as `layout` prints them."""
        self._theme = theme
        self._layout = layout
        self._place = place
        self._wanted = wanted
        self._titles = titles

    def fill_all(self, menu: QMenu) -> None:
        """All lists but those of whole sticks and of layers, each below its name."""
        found = action_of(self._place.assignment, self._place.reaction)
        if found is not None:
            self._add_besides(add_menu(menu, tr("And one more thing")), found)
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
            add_entry(menu, tr("A new layer, while held"), self._wanted.layer)
            self._add_round(menu)
        self._add_settings(menu, which)
        if which is Menu.SEQUENCE:
            under = add_menu(menu, tr("An example to start from"))
            for example in EXAMPLES:
                add_entry(under, example, partial(self._wanted.example, example))
        if menu.isEmpty():
            hint = (
                tr("There is no other profile yet")
                if which is Menu.PROFILE
                else tr("Click the heading of a group of moves")
            )
            add_entry(menu, hint, menu.close).setEnabled(False)

    def fill_how(self, menu: QMenu) -> None:
        """What is set of a manner by few."""
        found = action_of(self._place.assignment, self._place.reaction)
        if found is None:
            return

        def offers(name: str) -> bool:
            return found.manner in ONLY_IN[name]

        def add(under: QMenu, text: str, made: Action, now: bool | None = None) -> None:
            add_entry(under, text, partial(self._wanted.action, inside(text), made), now)

        if offers("linger_ms") and not found.linger_ms:
            add(menu, tr("Stays on a little longer"), replace(found, linger_ms=200))
        if offers("light_hz") and found.light_hz is None:
            add(menu, tr("Slower when barely pressed"), replace(found, light_hz=max(1.0, found.rate_hz / 2)))
        if offers("light_hz") and found.light_hz is not None:
            add(menu, tr("Full speed when barely pressed"), replace(found, light_hz=None))
        if offers("group"):
            under = add_choices(
                menu,
                self._theme,
                tr("Only one of a group at a time"),
                tr("Turning on one of a group turns off the others of that group."),
            )
            add(under, tr("No group"), replace(found, group=None), found.group is None)
            groups = sorted({one.group for _, one in actions_in(self._place.profile) if one.group})
            for group in [*groups, fresh_id("group", groups)]:
                add(under, tr("Group {group}", group=group), replace(found, group=group), group == found.group)
        if offers("ended_by"):
            under = add_choices(
                menu,
                self._theme,
                tr("Also ends with"),
                tr("Pressing one of these slots turns the toggle off, too. You can choose up to 8."),
            )
            for control in CONTROLS:
                slots = add_menu(under, control.label)
                for slot in control.slots:
                    on = slot in found.ended_by
                    rest = tuple(other for other in found.ended_by if other != slot)
                    made = replace(found, ended_by=rest if on else (*rest, slot)[-8:])
                    if slot not in STICK_SLOTS and slot != MOTION_SLOT:
                        add(slots, slot_label(slot), made, on)

    def _add_besides(self, menu: QMenu, found: Action) -> None:
        """What begins with what the slot does."""
        add_entry(menu, tr("The next key or move you choose"), self._wanted.besides).setEnabled(
            len(found.also) < MAX_ALSO
        )
        for at, part in enumerate(found.also):
            label = action_label(self._place.profile, part, self._layout)
            rest = replace(found, also=(*found.also[:at], *found.also[at + 1 :]))
            add_entry(
                menu,
                tr("Without {label}", label=label),
                partial(self._wanted.action, tr("without {label}", label=label), rest),
            )

    def _add_round(self, menu: QMenu) -> None:
        """Which layers are gone round, where that is what the slot does."""
        found = action_of(self._place.assignment, self._place.reaction)
        effect = found.effect if found is not None else None
        if not isinstance(effect, NextLayer):
            return
        told = tr("Each press turns on the next of these layers, and turns off the one before it.")
        round_ = add_choices(menu, self._theme, tr("Goes round"), told)
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
            add_entry(menu, tr("With the next control you press"), self._wanted.partner)
            for pair in part_edits.partners(place.profile, place.layer, place.slot):
                self._add_pair(menu, pair)
        if place.slot == MOTION_SLOT:
            return
        use = place.assignment.use if place.assignment is not None else None
        if which is Menu.WHOLE and isinstance(use, PointerPosition):
            told = tr("The move is held as long as you push the stick, as when you drag with a mouse button.")
            under = add_choices(menu, self._theme, tr("Holds a move at the same time"), told)
            for move in place.profile.moves:
                if move.keys:
                    held = replace(use, hold=(), hold_move=move.id)
                    add_entry(under, move.label, partial(self._wanted.use, held), use.hold_move == move.id)
        if which is Menu.WHOLE:
            for text, codes in edits.STICK_KEYS.items():
                walk = partial(edits.keys_on_stick, layer_id=place.layer, stick=place.slot, codes=codes)
                self._add_edit(menu, text, walk)
        kind = _SHARED.get(which)
        if kind is None:
            return
        for part in getattr(place.profile, kind.value):
            reference = Reference(kind, part.id)
            under = add_menu(menu, tr("Set {part}", part=part.label))
            what = tr("Edit steps …") if kind is Kind.SEQUENCE else tr("Edit entries …")
            add_entry(under, what, partial(self._wanted.part, reference))
            for about, told, offered in _SETTINGS[kind]:
                under.addSeparator()
                add_help(under, self._theme, about, told)
                for text, values in offered:
                    now = all(getattr(part, name) == value for name, value in values.items())
                    self._add_edit(under, text, partial(part_edits.changed, reference=reference, **values), now)
            under.addSeparator()
            self._add_edit(under, tr("Remove"), partial(removed, reference=reference))

    def _add_edit(self, menu: QMenu, text: str, edit: Edit, now: bool | None = None) -> None:
        add_entry(menu, text, partial(self._wanted.edit, text, edit), now)

    def _add_pair(self, menu: QMenu, pair: Together) -> None:
        """What can be set of what slots do together."""
        under = add_menu(menu, tr("Together {pair}", pair=with_words(pair, self._place.slot)))
        layer, slots, order = self._place.layer, pair.slots, pair.order

        def add(text: str, what: Together | None, now: bool | None = None) -> None:
            within = what.within_ms if what is not None else 0
            edit = partial(part_edits.together, layer_id=layer, slots=slots, action=what, within_ms=within, order=order)
            add_entry(under, text, partial(self._wanted.edit, tr("Together: {words}", words=inside(text)), edit), now)

        within_ms = sorted({30, 60, 100, 150, pair.within_ms}) if order is Order.ANY else []
        if within_ms:
            told = tr("How far apart the presses may be. What each slot does alone waits that long.")
            add_help(under, self._theme, tr("the time between presses"), told)
        for milliseconds in within_ms:
            made = replace(pair, within_ms=milliseconds)
            add(tr("Within {ms} ms", ms=milliseconds), made, milliseconds == pair.within_ms)
        under.addSeparator()
        add_help(under, self._theme, tr("How"), HOW_HELP)
        for manner, label in MANNER_WORDS.items():
            if manner in possible_manners(pair):
                add(label, with_manner(pair, manner), manner is pair.manner)
        under.addSeparator()
        if len(slots) == 2:
            told = tr("If one is held first, only the second press counts, and nothing has to wait.")
            add_help(under, self._theme, tr("the order of presses"), told)
            for held, pressed in (slots, slots[::-1]):
                text = tr("{held} is held first", held=slot_label(held))
                given = order is Order.GIVEN and slots[0] == held
                self._add_order(under, text, pair, (held, pressed), Order.GIVEN, given)
            self._add_order(under, tr("In any order"), pair, slots, Order.ANY, order is Order.ANY)
            add_entry(under, tr("And the next control you press"), partial(self._wanted.third, *slots))
        under.addSeparator()
        add(tr("Separate"), None)

    def _add_order(
        self, menu: QMenu, text: str, pair: Together, slots: tuple[str, ...], order: Order, now: bool
    ) -> None:
        edit = partial(part_edits.together, layer_id=self._place.layer, slots=slots, action=pair, order=order)
        add_entry(menu, text, partial(self._wanted.edit, tr("Together: {words}", words=inside(text)), edit), now)


def possible_manners(action: Action | None) -> frozenset[Manner]:
    """How what an action does can be kept up."""
    effect = action.effect if action is not None else None
    return manners_of(effect) if effect is not None else frozenset()

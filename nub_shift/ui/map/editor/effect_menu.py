"""Menus of all effects other than plain keys and moves, with the settings of shared parts."""

from __future__ import annotations

from collections.abc import Callable
from functools import partial
from typing import Any

from msgspec.structs import replace
from PyQt6.QtWidgets import QMenu

from nub_shift.editing.document import Edit
from nub_shift.editing.edits import bindings
from nub_shift.editing.edits import shared_parts as part_edits
from nub_shift.editing.edits import slots as slot_edits
from nub_shift.editing.edits.ids import fresh_id
from nub_shift.editing.edits.removal import remove
from nub_shift.editing.words.effects import Menu, choices, use_label
from nub_shift.editing.words.labels import NOTHING, action_label
from nub_shift.keyboard.layout import Layout
from nub_shift.model.controls import CONTROLS, MOTION_SLOT, STICK_SLOTS, slot_label
from nub_shift.model.profile.actions import MAX_ALSO, ONLY_IN, Action
from nub_shift.model.profile.effects import ChooseFromRing, NextLayer, PointerPosition, Tilt, Turn
from nub_shift.model.profile.listed import Again, Confirm, Runs
from nub_shift.model.references.assignments import action_of
from nub_shift.model.references.named import Kind, Reference
from nub_shift.model.references.walk import actions_in
from nub_shift.translation import inside, tr
from nub_shift.ui.look.theme import Theme
from nub_shift.ui.map.editor.cell_edits import CellEdits
from nub_shift.ui.map.editor.pair_menu import fill_pair
from nub_shift.ui.map.editor.place import Place
from nub_shift.ui.widgets.menu_help import add_choices, add_help
from nub_shift.ui.widgets.menus import add_entry, add_menu

# Written sequences to begin with.
EXAMPLES = (tr("Ctrl + C, 100 ms, Ctrl + V"), tr('"gg", Enter'), tr("down Shift, W, W, up Shift"))
# Kinds of shared parts, by their menu.
_SHARED = {Menu.WHOLE: Kind.RING, Menu.STEP: Kind.CAROUSEL, Menu.SEQUENCE: Kind.SEQUENCE}
# Settings of a shared part: subject, a sentence of help, and the choices.
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


class EffectMenu:
    """Fills menus for a slot."""

    def __init__(
        self, theme: Theme, place: Place, edits: CellEdits, titles: Callable[[], list[str]], layout: Layout
    ) -> None:
        """`titles` lists the profiles that a slot can change to; keys are named by `layout`."""
        self._theme = theme
        self._layout = layout
        self._place = place
        self._edits = edits
        self._titles = titles

    def fill_all(self, menu: QMenu) -> None:
        """Adds all menus except those of whole sticks and of layers, each below its name."""
        found = action_of(self._place.assignment, self._place.reaction)
        if found is not None:
            self._add_besides(add_menu(menu, tr("And one more thing")), found)
        for which in Menu:
            if which not in (Menu.WHOLE, Menu.LAYER):
                self.fill(add_menu(menu, which.value), which)

    def fill(self, menu: QMenu, which: Menu) -> None:
        """Adds one menu."""
        place, picked = self._place, self._edits.set_use if which is Menu.WHOLE else self._edits.give_effect
        titles = self._titles() if which is Menu.PROFILE else []
        for text, choice in choices(which, place.profile, place.slot, titles):
            add_entry(menu, text, partial(picked, choice))  # type: ignore[arg-type]
        if which is Menu.STEP or (which is Menu.WHOLE and place.slot in STICK_SLOTS):
            self._add_groups(menu, which)
        if which is Menu.LAYER:
            add_entry(menu, tr("A new layer, while held"), self._edits.give_new_layer)
            self._add_round(menu)
        self._add_settings(menu, which)
        if which is Menu.SEQUENCE:
            under = add_menu(menu, tr("An example to start from"))
            for example in EXAMPLES:
                add_entry(under, example, partial(self._edits.begin_example, example))
        if menu.isEmpty():
            hint = tr("There is no other profile yet") if which is Menu.PROFILE else tr("First make two moves or more")
            add_entry(menu, hint, menu.close).setEnabled(False)

    def fill_how(self, menu: QMenu) -> None:
        """Adds the rare settings of a manner."""
        found = action_of(self._place.assignment, self._place.reaction)
        if found is None:
            return

        def offers(name: str) -> bool:
            return found.manner in ONLY_IN[name]

        def add(under: QMenu, text: str, made: Action, now: bool | None = None) -> None:
            add_entry(under, text, partial(self._edits.set_amounts, inside(text), made), now)

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

    def fill_when(self, menu: QMenu) -> None:
        """Adds the choice of slots that must be held for the selected reaction."""
        found = action_of(self._place.assignment, self._place.reaction)
        if found is None:
            return
        under = add_choices(
            menu,
            self._theme,
            tr("Only while another is held"),
            tr("It does something only if these are held when you press it. You can choose up to 4."),
        )
        for control in CONTROLS:
            slots = add_menu(under, control.label)
            for slot in control.slots:
                if slot in STICK_SLOTS or slot in (MOTION_SLOT, self._place.slot):
                    continue
                on = slot in found.while_
                rest = tuple(other for other in found.while_ if other != slot)
                made = replace(found, while_=rest if on else (*rest, slot)[-4:])
                text = tr("only while {slot} is held", slot=inside(slot_label(slot)))
                add_entry(slots, slot_label(slot), partial(self._edits.set_amounts, text, made), on)

    def _add_tilting(self, menu: QMenu) -> None:
        """Adds the uses of tilting the pad while turning it turns the view."""
        place = self._place
        uses = place.assignment.uses if place.assignment is not None else ()
        if not uses or not isinstance(uses[0], Turn):
            return
        help_text = tr("Turning the pad turns the view, tilting it does something else at the same time.")
        under = add_choices(menu, self._theme, tr("And tilting"), help_text)
        offered = [use for _, use in choices(Menu.WHOLE, place.profile, place.slot, [])]
        tilts = [use for use in offered if isinstance(use, Tilt | ChooseFromRing)]
        for others in ([], *([tilt] for tilt in tilts)):
            text = use_label(place.profile, others[0]) if others else NOTHING
            now = [use if isinstance(use, ChooseFromRing) else Tilt() for use in uses[1:]] == others
            edit = partial(slot_edits.set_uses, layer_id=place.layer, slot=place.slot, uses=[uses[0], *others])
            self._add_edit(under, text, edit, now)

    def _add_groups(self, menu: QMenu, which: Menu) -> None:
        """Adds the groups of moves, which become a ring for a whole stick, or a carousel to step through."""
        groups = slot_edits.groups_to_list(self._place.profile)
        if groups:
            under = add_menu(menu, tr("A new ring of") if which is Menu.WHOLE else tr("A new carousel of"))
            for group in groups:
                add_entry(under, group or tr("Moves in no group"), partial(self._edits.give_group, group))

    def _add_besides(self, menu: QMenu, found: Action) -> None:
        """Adds the actions that begin with the slot's."""
        add_entry(menu, tr("The next key or move you choose"), self._edits.give_besides).setEnabled(
            len(found.also) < MAX_ALSO
        )
        for at, part in enumerate(found.also):
            label = action_label(self._place.profile, part, self._layout)
            rest = replace(found, also=(*found.also[:at], *found.also[at + 1 :]))
            add_entry(
                menu,
                tr("Without {label}", label=label),
                partial(self._edits.set_amounts, tr("without {label}", label=label), rest),
            )

    def _add_round(self, menu: QMenu) -> None:
        """Adds the choice of layers for an action that cycles through layers."""
        found = action_of(self._place.assignment, self._place.reaction)
        effect = found.effect if found is not None else None
        if not isinstance(effect, NextLayer):
            return
        help_text = tr("Each press turns on the next of these layers, and turns off the one before it.")
        round_ = add_choices(menu, self._theme, tr("Goes round"), help_text)
        for layer in self._place.profile.layers:
            on = layer.id in effect.layers
            rest = tuple(other for other in effect.layers if other != layer.id)
            changed = NextLayer(rest if on else (*rest, layer.id))
            entry = add_entry(round_, layer.label, partial(self._edits.give_effect, changed), on)
            entry.setEnabled(not on or len(rest) > 1)

    def _add_settings(self, menu: QMenu, which: Menu) -> None:
        """Adds settings and removal of the assigned shared parts, and of combinations."""
        place = self._place
        if which is Menu.TOGETHER:
            add_entry(menu, tr("With the next control you press"), self._edits.await_partner)
            for pair in part_edits.partners(place.profile, place.layer, place.slot):
                fill_pair(menu, self._theme, place, self._edits, pair, self._layout)
        if place.slot == MOTION_SLOT:
            self._add_tilting(menu)
            return
        use = place.assignment.use if place.assignment is not None else None
        if which is Menu.WHOLE and isinstance(use, PointerPosition):
            help_text = tr("The move is held as long as you push the stick, as when you drag with a mouse button.")
            under = add_choices(menu, self._theme, tr("Holds a move at the same time"), help_text)
            for move in place.profile.moves:
                if move.keys:
                    held = replace(use, hold=(), hold_move=move.id)
                    add_entry(under, move.label, partial(self._edits.set_use, held), use.hold_move == move.id)
        if which is Menu.WHOLE:
            for text, codes in bindings.STICK_KEYS.items():
                walk = partial(bindings.bind_stick_keys, layer_id=place.layer, stick=place.slot, codes=codes)
                self._add_edit(menu, text, walk)
        kind = _SHARED.get(which)
        if kind is None:
            return
        for part in getattr(place.profile, kind.value):
            reference = Reference(kind, part.id)
            under = add_menu(menu, tr("Set {part}", part=part.label))
            what = tr("Edit steps …") if kind is Kind.SEQUENCE else tr("Edit entries …")
            add_entry(under, what, partial(self._edits.show_part, reference))
            for about, help_text, offered in _SETTINGS[kind]:
                under.addSeparator()
                add_help(under, self._theme, about, help_text)
                for text, values in offered:
                    now = all(getattr(part, name) == value for name, value in values.items())
                    self._add_edit(under, text, partial(part_edits.change, reference=reference, **values), now)
            under.addSeparator()
            self._add_edit(under, tr("Remove"), partial(remove, reference=reference))

    def _add_edit(self, menu: QMenu, text: str, edit: Edit, now: bool | None = None) -> None:
        add_entry(menu, text, partial(self._edits.edit, text, edit), now)

"""Menu of a combination of slots."""

from __future__ import annotations

from functools import partial

from msgspec.structs import replace
from PyQt6.QtWidgets import QMenu

from nub_shift.editing.edits import shared_parts as part_edits
from nub_shift.editing.words.labels import MANNER_WORDS, NOTHING, REACTION_WORDS, action_label
from nub_shift.editing.words.slot_views import with_words
from nub_shift.keyboard.layout import Layout
from nub_shift.model.controls import slot_label
from nub_shift.model.profile.actions import Action, Manner, with_manner
from nub_shift.model.profile.profile import Profile
from nub_shift.model.profile.reactions import Order, Together
from nub_shift.model.references.effect_facts import manners_of
from nub_shift.model.references.profile_index import ProfileIndex
from nub_shift.translation import inside, tr
from nub_shift.ui.look.theme import Theme
from nub_shift.ui.map.editor.cell_edits import CellEdits
from nub_shift.ui.map.editor.place import Place
from nub_shift.ui.widgets.menu_help import add_choices, add_help
from nub_shift.ui.widgets.menus import add_entry, add_menu

HOW_HELP = tr("Whether the key is down while you hold, until you press again, or again and again.")


def fill_pair(menu: QMenu, theme: Theme, place: Place, edits: CellEdits, pair: Together, layout: Layout) -> None:
    """Adds a menu with all settings of a combination."""
    under = add_menu(menu, tr("Together {pair}", pair=with_words(pair, place.slot)))
    slots, order = pair.slots, pair.order

    def add(text: str, made: Together, now: bool | None = None) -> None:
        edit = partial(part_edits.together, layer_id=place.layer, pair=made)
        add_entry(under, text, partial(edits.edit, tr("Together: {words}", words=inside(text)), edit), now)

    _add_reactions(under, theme, place, edits, pair, layout)
    under.addSeparator()
    within_ms = sorted({30, 60, 100, 150, pair.within_ms}) if order is Order.ANY else []
    if within_ms:
        help_text = tr("How far apart the presses may be. What each slot does alone waits that long.")
        add_help(under, theme, tr("the time between presses"), help_text)
    for milliseconds in within_ms:
        made = replace(pair, within_ms=milliseconds)
        add(tr("Within {ms} ms", ms=milliseconds), made, milliseconds == pair.within_ms)
    manners = [manner for manner in MANNER_WORDS if manner in possible_manners(place.profile, pair)]
    if manners:
        under.addSeparator()
        add_help(under, theme, tr("How"), HOW_HELP)
    for manner in manners:
        add(MANNER_WORDS[manner], with_manner(pair, manner), manner is pair.manner)
    under.addSeparator()
    if len(slots) == 2:
        help_text = tr("If one is held first, only the second press counts, and nothing has to wait.")
        add_help(under, theme, tr("the order of presses"), help_text)
        for held, pressed in (slots, slots[::-1]):
            given = order is Order.GIVEN and slots[0] == held
            made = replace(pair, slots=(held, pressed), order=Order.GIVEN)
            add(tr("{held} is held first", held=slot_label(held)), made, given)
        add(tr("In any order"), replace(pair, order=Order.ANY), order is Order.ANY)
        add_entry(under, tr("And the next control you press"), partial(edits.await_third, *slots))
    under.addSeparator()
    add(tr("Each by itself"), Together(slots=slots))


def _add_reactions(under: QMenu, theme: Theme, place: Place, edits: CellEdits, pair: Together, layout: Layout) -> None:
    """Adds the actions by reaction; choosing one awaits its key or move."""
    help_text = tr("Pressed together, a tap can do one thing and a hold another. Choose one, then a key or move.")
    when = add_choices(under, theme, tr("When"), help_text)
    for reaction, word in REACTION_WORDS.items():
        action = pair.reactions.get(reaction)
        label = action_label(place.profile, action, layout) if action is not None else NOTHING
        add_entry(when, f"{word}: {label}", partial(edits.await_together, pair.slots, reaction))
    if len(pair.reactions) > 1:
        when.addSeparator()
        for reaction in pair.reactions:
            text = tr("Clear {reaction}", reaction=inside(REACTION_WORDS[reaction]))
            edit = partial(part_edits.together, layer_id=place.layer, pair=pair.with_reaction(reaction, None))
            add_entry(when, text, partial(edits.edit, text, edit))


def possible_manners(profile: Profile, action: Action | None) -> frozenset[Manner]:
    """Returns the possible manners of an action."""
    effect = action.effect if action is not None else None
    return manners_of(effect, ProfileIndex.of(profile)) if effect is not None else frozenset()

"""Assignments of slots, in words."""

from __future__ import annotations

from typing import assert_never

from nub_shift.editing.words.effects import effect_label, uses_label
from nub_shift.keyboard.layout import Layout
from nub_shift.model.controls import MOTION_SLOT, STICK_SLOTS, slot_label
from nub_shift.model.profile.actions import Action, Manner
from nub_shift.model.profile.profile import Profile
from nub_shift.model.profile.reactions import Assignment, Reacting, Reaction
from nub_shift.model.references.named import Kind
from nub_shift.translation import inside, tr, trn


def _reaction_word(reaction: Reaction) -> str:
    match reaction:
        case Reaction.PRESS:
            return tr("Press")
        case Reaction.TAP:
            return tr("Tap")
        case Reaction.HOLD:
            return tr("Hold")
        case Reaction.LONG_HOLD:
            return tr("Long hold")
        case Reaction.DOUBLE_TAP:
            return tr("Double tap")
        case Reaction.TRIPLE_TAP:
            return tr("Triple tap")
        case Reaction.RELEASE:
            return tr("Release")
        case _:
            assert_never(reaction)


def _reaction_help(reaction: Reaction) -> str:
    match reaction:
        case Reaction.PRESS:
            return tr("As soon as you press it")
        case Reaction.TAP:
            return tr("A short press, once you let go")
        case Reaction.HOLD:
            return tr("Once you have held it for a moment")
        case Reaction.LONG_HOLD:
            return tr("After a longer hold, in place of what the hold does")
        case Reaction.DOUBLE_TAP:
            return tr("Two short presses")
        case Reaction.TRIPLE_TAP:
            return tr("Three short presses")
        case Reaction.RELEASE:
            return tr("When you let go")
        case _:
            assert_never(reaction)


def _manner_word(manner: Manner) -> str:
    match manner:
        case Manner.HELD:
            return tr("While held")
        case Manner.TOGGLE:
            return tr("Toggle")
        case Manner.TURBO:
            return tr("Turbo")
        case Manner.ONCE:
            return tr("Once")
        case Manner.PULSE:
            return tr("Pulse")
        case Manner.LOCK:
            return tr("Locks when held long")
        case Manner.TOGGLE_TURBO:
            return tr("Turbo, on and off")
        case _:
            assert_never(manner)


def _manner_help(manner: Manner) -> str:
    match manner:
        case Manner.HELD:
            return tr("Down for as long as you hold it")
        case Manner.TOGGLE:
            return tr("One press holds it down, the next lets go")
        case Manner.TURBO:
            return tr("Pressed again and again while you hold it")
        case Manner.ONCE:
            return tr("One short press, however long you hold it")
        case Manner.PULSE:
            return tr("Pressed again and again, longer the further you push")
        case Manner.LOCK:
            return tr("While held; stays down after a long hold")
        case Manner.TOGGLE_TURBO:
            return tr("One press starts turbo, the next ends it")
        case _:
            assert_never(manner)


REACTION_WORDS = {reaction: _reaction_word(reaction) for reaction in Reaction}
REACTION_HELP = {reaction: _reaction_help(reaction) for reaction in Reaction}
# In the order of the menu.
_MANNERS = (
    *(Manner.HELD, Manner.TOGGLE, Manner.TURBO, Manner.ONCE, Manner.PULSE),
    *(Manner.LOCK, Manner.TOGGLE_TURBO),
)
MANNER_WORDS = {manner: _manner_word(manner) for manner in _MANNERS}
MANNER_HELP = {manner: _manner_help(manner) for manner in _MANNERS}
KIND_WORDS = {
    Kind.MOVE: tr("Moves"),
    Kind.LAYER: tr("Layers"),
    Kind.SEQUENCE: tr("Sequences"),
    Kind.CAROUSEL: tr("Carousels"),
    Kind.RING: tr("Rings"),
}
NOTHING = tr("Nothing")


def move_count(count: int) -> str:
    """Returns a number of moves, such as "1 move" and "3 moves"."""
    return trn("{count} move", "{count} moves", count)


def layer_words(label: str) -> str:
    """Returns a layer's name with the word "Layer", unless the name has it."""
    return label if label.casefold().startswith(tr("layer").casefold()) else tr("Layer {label}", label=label)


def slot_words(profile: Profile, slot: str, assignment: Assignment | None, layout: Layout) -> str:
    """Returns an assignment at a slot in words, keys as `layout` prints them, as "Leap; hold: Wade low"."""
    if assignment is None:
        return NOTHING
    uses = assignment.uses if slot in STICK_SLOTS or slot == MOTION_SLOT else ()
    if uses:
        return uses_label(profile, uses)
    return reacting_words(profile, assignment, layout)


def reacting_words(profile: Profile, reacting: Reacting, layout: Layout) -> str:
    """Returns in words the actions of a slot, or of several together, by reaction."""
    words = []
    for reaction, action in reacting.reactions.items():
        label = action_label(profile, action, layout)
        words.append(label if reaction is Reaction.PRESS else f"{inside(REACTION_WORDS[reaction])}: {label}")
    return "; ".join(words) or NOTHING


def action_label(profile: Profile, action: Action, layout: Layout) -> str:
    """Returns an action in words, as "Ctrl + C, toggle", with all that begins with it."""
    return tr(" and ").join(_part_label(profile, part, layout) for part in action.parts)


def _part_label(profile: Profile, action: Action, layout: Layout) -> str:
    effect = action.effect
    words = [effect_label(profile, effect, layout) if effect is not None else NOTHING]
    if action.manner is not Manner.HELD:
        words.append(inside(MANNER_WORDS[action.manner]))
    if action.linger_ms:
        words.append(tr("{ms} ms longer", ms=action.linger_ms))
    if action.while_:
        held = tr(" and ").join(inside(slot_label(slot)) for slot in action.while_)
        words.append(tr("while {held} is held", held=held))
    return ", ".join(words)

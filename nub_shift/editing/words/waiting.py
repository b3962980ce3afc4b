"""The window's present wait, in words."""

from __future__ import annotations

from typing import assert_never

from nub_shift.editing.waiting import PAUSE_MS, Awaited, Wait
from nub_shift.editing.words.labels import REACTION_WORDS, action_label
from nub_shift.editing.words.slot_views import slot_view
from nub_shift.keyboard.layout import Layout
from nub_shift.model.controls import slot_label
from nub_shift.model.profile.effects import Silence
from nub_shift.model.profile.profile import Profile
from nub_shift.model.profile.reactions import Reaction
from nub_shift.model.references.assignments import action_of, own_assignment, shown_assignment
from nub_shift.translation import inside, tr


def waiting_words(profile: Profile, wait: Wait, follows: bool, opened: bool, layout: Layout) -> str:
    """Returns one line; `follows` is whether a press on the pad opens its control, `opened` whether one is open."""
    match wait.awaited:
        case Awaited.NOTHING if opened:
            return tr("Click a slot, then press its key or click a move")
        case Awaited.NOTHING:
            return tr("Press a control on the pad, or click one") if follows else tr("Click a control")
        case Awaited.SLOT_INPUT:
            return tr(
                "Press the key for {slot}, or click a move{replaced}",
                slot=_pressed(wait),
                replaced=_replaced(profile, wait, layout),
            )
        case Awaited.SLOT_MOVE:
            return tr(
                "Click a move for {slot}{replaced}", slot=_pressed(wait), replaced=_replaced(profile, wait, layout)
            )
        case Awaited.PARTNER:
            return tr("Press the control that goes together with {slot}", slot=_slot(wait.slot))
        case Awaited.PAIR_INPUT:
            return tr(
                "Press the key for {partner} and {slot} together, or click a move",
                partner=_slot(wait.partner),
                slot=_slot(wait.slot),
            )
        case Awaited.PAIR_MOVE:
            return tr(
                "Click a move for {partner} and {slot} together", partner=_slot(wait.partner), slot=_slot(wait.slot)
            )
        case Awaited.THIRD_CONTROL:
            return tr(
                "Press the control that goes together with {partner} and {slot}",
                partner=_slot(wait.partner),
                slot=_slot(wait.slot),
            )
        case Awaited.LAYER_CONTROL:
            layer = profile.layer(wait.layer)
            label = layer.label if layer is not None else wait.layer
            return tr("Press the control that brings on {label} while it is held", label=label)
        case Awaited.TURNING_CONTROL:
            return tr("Press the control that lets turning move the pointer while it is held")
        case Awaited.MOVE_INPUT:
            return tr("Press the key for {name}, or click or turn the wheel in the line for new moves", name=wait.label)
        case Awaited.MOVE_NAME:
            return tr("Type the new name of {name}, then press Enter", name=wait.label)
        case Awaited.GROUP_NAME:
            return (
                tr("Type the name of the group {name}, then press Enter", name=wait.label)
                if wait.label
                else tr("Type the name of the group, then press Enter")
            )
        case Awaited.LINKED_MOVES:
            return tr("Click the moves that must be possible at the same time as {name}", name=wait.label)
        case Awaited.STROKES:
            return tr("Type the sequence; a pause of {seconds} s ends it", seconds=PAUSE_MS // 1000)
        case _:
            assert_never(wait.awaited)


def _replaced(profile: Profile, wait: Wait, layout: Layout) -> str:
    """Returns in words what happens to the slot's present action in this layer, as in `edits.slots.given`."""
    assignment = own_assignment(profile, wait.layer, wait.slot)
    action = action_of(assignment, wait.reaction)
    if wait.besides:
        now = action_of(shown_assignment(profile, wait.layer, wait.slot), wait.reaction)
        return tr(". It is added to: {words}", words=action_label(profile, now, layout)) if now is not None else ""
    if assignment is not None and (assignment.use is not None or isinstance(assignment.effect, Silence)):
        words = slot_view(profile, wait.layer, wait.slot, layout).text
    elif action is not None:
        words = action_label(profile, action, layout)
    else:
        return ""
    return tr(". It replaces: {words}", words=words)


def _pressed(wait: Wait) -> str:
    """Returns the slot, with its reaction where unusual."""
    if wait.reaction is Reaction.PRESS:
        return _slot(wait.slot)
    return tr("{slot} ({gesture})", slot=_slot(wait.slot), gesture=inside(REACTION_WORDS[wait.reaction]))


def listening_words(milliseconds: int) -> str:
    """Returns a time limit for keys as a choice."""
    return tr("{seconds} seconds", seconds=milliseconds // 1000) if milliseconds else tr("Until you cancel")


def _slot(slot: str) -> str:
    return inside(slot_label(slot))

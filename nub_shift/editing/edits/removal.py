"""Removal of a part of a profile, with its references and everything that is empty without it."""

from __future__ import annotations

from functools import partial

from msgspec.structs import replace

from nub_shift.model.profile.actions import Action, with_effect
from nub_shift.model.profile.effects import ClickWheel, DoMove, NextLayer, PressKeys
from nub_shift.model.profile.listed import MIN_RING_ENTRIES, SequenceStep
from nub_shift.model.profile.profile import BASE_LAYER, Layer, Profile
from nub_shift.model.profile.reactions import Assignment
from nub_shift.model.references.effect_facts import effect_references, use_references
from nub_shift.model.references.named import Kind, Reference
from nub_shift.model.references.walk import map_actions, step_references


def remove(profile: Profile, reference: Reference) -> Profile:
    """Returns the profile without a part.

    Removes every slot, pair and entry that used it. A carousel left without entries, or a ring with too few, is removed
    too. A control with a removed move presses its keys from now on. The base layer stays.
    """
    if reference == Reference(Kind.LAYER, BASE_LAYER):
        return profile
    waiting = [reference]
    while waiting:
        gone = waiting.pop()
        profile = _without(profile, gone)
        waiting += [Reference(Kind.CAROUSEL, it.id) for it in profile.carousels if not it.entries]
        waiting += [Reference(Kind.SEQUENCE, it.id) for it in profile.sequences if not it.steps]
        waiting += [Reference(Kind.RING, it.id) for it in profile.rings if len(it.entries) < MIN_RING_ENTRIES]
    return profile


def _without(profile: Profile, gone: Reference) -> Profile:
    plain = _plain_input(profile, gone)
    profile = map_actions(profile, lambda action: _changed(action, gone, plain))
    change_step = partial(_step_without, gone=gone, plain=plain)
    kept = [layer for layer in profile.layers if not _is(gone, Kind.LAYER, layer.id)]
    layers = tuple(_layer_without(layer, gone, plain) for layer in kept)
    return replace(
        profile,
        layers=layers,
        moves=tuple(
            replace(move, together=tuple(other for other in move.together if not _is(gone, Kind.MOVE, other)))
            for move in profile.moves
            if not _is(gone, Kind.MOVE, move.id)
        ),
        sequences=tuple(
            replace(it, steps=tuple(step for step in map(change_step, it.steps) if step is not None))
            for it in profile.sequences
            if not _is(gone, Kind.SEQUENCE, it.id)
        ),
        carousels=tuple(it for it in profile.carousels if not _is(gone, Kind.CAROUSEL, it.id)),
        rings=tuple(it for it in profile.rings if not _is(gone, Kind.RING, it.id)),
    )


def _is(gone: Reference, kind: Kind, found: str) -> bool:
    return gone.kind is kind and gone.id == found


def _plain_input(profile: Profile, gone: Reference) -> PressKeys | ClickWheel | None:
    """Returns the input of a removed move."""
    move = profile.move(gone.id) if gone.kind is Kind.MOVE else None
    sent = move.sent if move is not None else None
    return sent if isinstance(sent, PressKeys | ClickWheel) else None


def _changed(action: Action, gone: Reference, plain: PressKeys | ClickWheel | None) -> Action | None:
    effect = action.effect
    if effect is None or gone not in effect_references(effect):
        return action
    if isinstance(effect, DoMove) and plain is not None:
        return with_effect(action, plain)
    if isinstance(effect, NextLayer) and len(effect.layers) > 2:
        return with_effect(action, NextLayer(tuple(layer for layer in effect.layers if layer != gone.id)))
    return None


def _step_without(step: SequenceStep, gone: Reference, plain: PressKeys | ClickWheel | None) -> SequenceStep | None:
    """Returns a step of a sequence; a step with a removed move uses the move's input."""
    if gone not in step_references(step):
        return step
    match plain:
        case PressKeys(keys):
            return SequenceStep.of_keys(step.act, keys)
        case ClickWheel(direction):
            return SequenceStep(wheel=direction)
        case None:
            return None


def _layer_without(layer: Layer, gone: Reference, plain: PressKeys | ClickWheel | None) -> Layer:
    """Returns a layer without removed uses of whole sticks, and without a removed basis."""
    slots = {slot: _held_by_keys(it, gone, plain) for slot, it in layer.slots.items()}
    slots = {slot: it for slot, it in slots.items() if not _uses(it, gone)}
    basis = None if layer.based_on is not None and _is(gone, Kind.LAYER, layer.based_on) else layer.based_on
    return replace(layer, slots=slots, based_on=basis)


def _held_by_keys(assignment: Assignment, gone: Reference, plain: PressKeys | ClickWheel | None) -> Assignment:
    """Returns the assignment of a stick that held a removed move, with the move's keys."""
    position = assignment.position
    if position is None or position.hold_move is None or not _is(gone, Kind.MOVE, position.hold_move):
        return assignment
    keys = plain.keys if isinstance(plain, PressKeys) else ()
    return replace(assignment, position=replace(position, hold=keys, hold_move=None))


def _uses(assignment: Assignment, gone: Reference) -> bool:
    return any(gone in use_references(use) for use in assignment.uses)

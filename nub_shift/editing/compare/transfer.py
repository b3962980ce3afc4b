"""Copying over from one profile into another: one slot, layer, move or part, with all that it refers to."""

from __future__ import annotations

from collections.abc import Iterable

from msgspec.structs import replace

from nub_shift.editing.edits.bindings import bound, feel_set, layer_changed
from nub_shift.editing.edits.removal import removed
from nub_shift.model.actions import Action
from nub_shift.model.named import Kind, Reference, find
from nub_shift.model.profile import Profile
from nub_shift.model.walk import action_references, assignment_references, named_references

PARTS = (Kind.SEQUENCE, Kind.CAROUSEL, Kind.RING)


def copy_slot(profile: Profile, other: Profile, layer_id: str, slot: str) -> Profile:
    """The profile with a slot of a layer as it is in the other."""
    layer = other.layer(layer_id)
    assignment = layer.slots.get(slot) if layer is not None else None
    if assignment is not None:
        profile = _with_needed(profile, other, assignment_references(assignment))
    return bound(profile, layer_id, slot, assignment)


def copy_layer(profile: Profile, other: Profile, layer_id: str) -> Profile:
    """The profile with a layer that only one of the two has: added on top, or removed."""
    reference = Reference(Kind.LAYER, layer_id)
    return _with_needed(profile, other, [reference]) if other.layer(layer_id) else removed(profile, reference)


def copy_layer_setting(profile: Profile, other: Profile, layer_id: str, name: str) -> Profile:
    """The profile with one setting of a layer as it is in the other."""
    there = other.layer(layer_id)
    if there is None:
        return profile
    if name == "together":
        profile = _with_needed(profile, other, (it for pair in there.together for it in action_references(pair)))
    own = getattr(there, name)
    if isinstance(own, Action):
        profile = _with_needed(profile, other, action_references(own))
    if name == "based_on" and there.based_on is not None:
        profile = _with_needed(profile, other, [Reference(Kind.LAYER, there.based_on)])
    return layer_changed(profile, layer_id, **{name: own})


def copy_move(profile: Profile, other: Profile, move_id: str) -> Profile:
    """The profile with a move as it is in the other: with its key and name, added, or removed."""
    move = other.move(move_id)
    if move is None:
        return removed(profile, Reference(Kind.MOVE, move_id))
    known = {found.id for found in (*profile.moves, move)}
    move = replace(move, together=tuple(found for found in move.together if found in known))
    if profile.move(move_id) is None:
        return replace(profile, moves=(*profile.moves, move))
    return replace(profile, moves=tuple(move if found.id == move_id else found for found in profile.moves))


def copy_shared_part(profile: Profile, other: Profile, reference: Reference) -> Profile:
    """The profile with a sequence, carousel or ring as it is in the other: changed, added, or removed."""
    part = find(other, reference)
    if part is None:
        return removed(profile, reference)
    field = reference.kind.value
    parts = tuple(found for found in getattr(profile, field) if found.id != reference.id)
    return _with_needed(replace(profile, **{field: (*parts, part)}), other, named_references(part))


def copy_setting(profile: Profile, other: Profile, control: str, name: str) -> Profile:
    """The profile with one setting of a control's feel as it is in the other."""
    return feel_set(profile, control, **{name: getattr(getattr(other.feel, control), name)})


def _with_needed(profile: Profile, other: Profile, needed: Iterable[Reference]) -> Profile:
    """The profile with all that is needed, and what that refers to, as far as it lacks it."""
    waiting = list(needed)
    while waiting:
        wanted = waiting.pop()
        found = find(other, wanted)
        if found is None or find(profile, wanted) is not None:
            continue
        if wanted.kind is Kind.MOVE:
            profile = copy_move(profile, other, wanted.id)
            continue
        field = wanted.kind.value
        profile = replace(profile, **{field: (*getattr(profile, field), found)})
        waiting += named_references(found)
    return profile

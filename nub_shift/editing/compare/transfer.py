"""Copying from one profile into another: a slot, layer, move or shared part, with everything it refers to."""

from __future__ import annotations

from collections.abc import Iterable

from msgspec.structs import replace

from nub_shift.editing.edits.bindings import bind, change_layer, set_feel
from nub_shift.editing.edits.removal import remove
from nub_shift.model.profile.actions import Action
from nub_shift.model.profile.profile import Profile
from nub_shift.model.references.named import Kind, Named, Reference, find
from nub_shift.model.references.walk import action_references, named_references, reacting_references

PARTS = (Kind.SEQUENCE, Kind.CAROUSEL, Kind.RING)


def copy_slot(profile: Profile, other: Profile, layer_id: str, slot: str) -> Profile:
    """Returns the profile with a slot of a layer from the other."""
    layer = other.layer(layer_id)
    assignment = layer.slots.get(slot) if layer is not None else None
    if assignment is not None:
        profile = _with_needed(profile, other, reacting_references(assignment))
    return bind(profile, layer_id, slot, assignment)


def copy_layer(profile: Profile, other: Profile, layer_id: str) -> Profile:
    """Returns the profile with a layer that only one of the two has added or removed."""
    reference = Reference(Kind.LAYER, layer_id)
    return _with_needed(profile, other, [reference]) if other.layer(layer_id) else remove(profile, reference)


def copy_layer_setting(profile: Profile, other: Profile, layer_id: str, name: str) -> Profile:
    """Returns the profile with one setting of a layer from the other."""
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
    return change_layer(profile, layer_id, **{name: own})


def copy_move(profile: Profile, other: Profile, move_id: str) -> Profile:
    """Returns the profile with a move from the other: with its key and name, added, or removed."""
    move = other.move(move_id)
    if move is None:
        return remove(profile, Reference(Kind.MOVE, move_id))
    known = {found.id for found in (*profile.moves, move)}
    move = replace(move, together=tuple(found for found in move.together if found in known))
    return _with(profile, Reference(Kind.MOVE, move_id), move, other)


def copy_shared_part(profile: Profile, other: Profile, reference: Reference) -> Profile:
    """Returns the profile with a sequence, carousel or ring from the other: changed, added, or removed."""
    part = find(other, reference)
    if part is None:
        return remove(profile, reference)
    return _with_needed(_with(profile, reference, part, other), other, named_references(part))


def copy_order(profile: Profile, other: Profile, kind: Kind) -> Profile:
    """Returns the profile with moves, layers or parts in the order of the other; those missing there keep their
    position.
    """
    rank = {found.id: at for at, found in enumerate(getattr(other, kind.value))}
    here = getattr(profile, kind.value)
    sorted_here = iter(sorted((found for found in here if found.id in rank), key=lambda found: rank[found.id]))
    return replace(profile, **{kind.value: tuple(next(sorted_here) if it.id in rank else it for it in here)})


def copy_field(profile: Profile, other: Profile, name: str) -> Profile:
    """Returns the profile with the title, notes or colour of the other."""
    return replace(profile, **{name: getattr(other, name)})


def copy_setting(profile: Profile, other: Profile, control: str, name: str) -> Profile:
    """Returns the profile with one setting of a control's feel from the other."""
    return set_feel(profile, control, **{name: getattr(getattr(other.feel, control), name)})


def _with(profile: Profile, reference: Reference, part: Named, other: Profile) -> Profile:
    """Returns the profile with a part in the place of its namesake, or after its predecessor in the other."""
    field = reference.kind.value
    here, order = getattr(profile, field), [found.id for found in getattr(other, field)]
    known = [found.id for found in here]
    if reference.id in known:
        return replace(profile, **{field: tuple(part if found.id == reference.id else found for found in here)})
    before = [found for found in order[: order.index(reference.id)] if found in known]
    at = known.index(before[-1]) + 1 if before else 0
    return replace(profile, **{field: (*here[:at], part, *here[at:])})


def _with_needed(profile: Profile, other: Profile, needed: Iterable[Reference]) -> Profile:
    """Returns the profile with all needed parts that it lacks, and their references."""
    waiting = list(needed)
    while waiting:
        wanted = waiting.pop()
        found = find(other, wanted)
        if found is None or find(profile, wanted) is not None:
            continue
        if wanted.kind is Kind.MOVE:
            profile = copy_move(profile, other, wanted.id)
            continue
        profile = _with(profile, wanted, found, other)
        waiting += named_references(found)
    return profile

"""Taking over from one profile into another: one slot, layer, move or part, with all that it refers to."""

from __future__ import annotations

from collections.abc import Iterator
from typing import Any

from msgspec.structs import replace

from nub_shift.editing.edits import layers as layer_edits
from nub_shift.editing.edits import moves as move_edits
from nub_shift.editing.edits import shared_parts as part_edits
from nub_shift.editing.edits.bindings import bound, feel_set, layer_changed
from nub_shift.model.actions import Action, Assignment, reactions_of
from nub_shift.model.profile import Layer, Profile

PARTS = {"sequences": "sequence", "carousels": "carousel", "rings": "ring"}


def copy_slot(profile: Profile, other: Profile, layer_id: str, slot: str) -> Profile:
    """The profile with a slot of a layer as it is in the other."""
    layer = other.layer(layer_id)
    assignment = layer.slots.get(slot) if layer is not None else None
    if assignment is not None:
        profile = _with_needed(profile, other, list(_actions_of(assignment)))
    return bound(profile, layer_id, slot, assignment)


def copy_layer(profile: Profile, other: Profile, layer_id: str) -> Profile:
    """The profile with a layer that only one of the two has: added on top, or removed."""
    layer = other.layer(layer_id)
    if layer is None:
        return layer_edits.removed(profile, layer_id)
    return _with_needed(profile, other, [Action(stay=layer_id)])


def copy_layer_setting(profile: Profile, other: Profile, layer_id: str, name: str) -> Profile:
    """The profile with one setting of a layer as it is in the other."""
    there = other.layer(layer_id)
    if there is None:
        return profile
    if name == "together":
        profile = _with_needed(profile, other, list(there.together))
    if name == "based_on" and there.based_on is not None:
        profile = _with_needed(profile, other, [Action(stay=there.based_on)])
    return layer_changed(profile, layer_id, **{name: getattr(there, name)})


def copy_move(profile: Profile, other: Profile, move_id: str) -> Profile:
    """The profile with a move as it is in the other: with its key and name, added, or removed."""
    move = other.move(move_id)
    if move is None:
        return move_edits.removed(profile, move_id)
    known = {found.id for found in (*profile.moves, move)}
    move = replace(move, together=tuple(found for found in move.together if found in known))
    if profile.move(move_id) is None:
        return replace(profile, moves=(*profile.moves, move))
    return replace(profile, moves=tuple(move if found.id == move_id else found for found in profile.moves))


def copy_shared_part(profile: Profile, other: Profile, name: str, part_id: str) -> Profile:
    """The profile with a sequence, carousel or ring as it is in the other: changed, added, or removed."""
    part = _find(other, name, part_id)
    if part is None:
        return part_edits.removed(profile, PARTS[name], part_id)
    parts = tuple(found for found in getattr(profile, name) if found.id != part_id)
    entries = getattr(part, "entries", ())
    return _with_needed(replace(profile, **{name: (*parts, part)}), other, list(entries))


def copy_setting(profile: Profile, other: Profile, control: str, name: str) -> Profile:
    """The profile with one setting of a control's feel as it is in the other."""
    return feel_set(profile, control, **{name: getattr(getattr(other.feel, control), name)})


def _with_needed(profile: Profile, other: Profile, actions: list[Action]) -> Profile:
    """The profile with all that actions refer to, and what that refers to, as far as it lacks it."""
    waiting = [need for action in actions for need in _needs(action)]
    while waiting:
        name, wanted = waiting.pop()
        found = _find(other, name, wanted)
        if found is None or _find(profile, name, wanted) is not None:
            continue
        if name == "moves":
            profile = copy_move(profile, other, wanted)
            continue
        profile = replace(profile, **{name: (*getattr(profile, name), found)})
        waiting += [need for action in _actions_in(found) for need in _needs(action)]
        if isinstance(found, Layer) and found.based_on is not None:
            waiting.append(("layers", found.based_on))
    return profile


def _find(profile: Profile, name: str, wanted: str) -> Any:
    return next((part for part in getattr(profile, name) if part.id == wanted), None)


def _actions_in(part: Any) -> Iterator[Action]:
    """All that a layer, carousel or ring does; a sequence refers to nothing."""
    if isinstance(part, Layer):
        yield from part.together
        for assignment in part.slots.values():
            yield from _actions_of(assignment)
    yield from getattr(part, "entries", ())


def _actions_of(assignment: Assignment) -> Iterator[Action]:
    yield assignment
    yield from (action for name, action in reactions_of(assignment).items() if name != "press")


def _needs(does: Action) -> Iterator[tuple[str, str]]:
    """The lists and ids of what an action refers to."""
    if does.move is not None:
        yield "moves", does.move
    if does.sequence is not None:
        yield "sequences", does.sequence
    if does.carousel is not None:
        yield "carousels", does.carousel.id
    ring = getattr(does, "ring", None)
    if ring is not None:
        yield "rings", ring
    for layer in (does.layer, does.stay, *does.next):
        if layer is not None:
            yield "layers", layer

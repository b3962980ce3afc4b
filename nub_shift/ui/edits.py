"""Edits as functions from a profile to a profile."""

from __future__ import annotations

from msgspec.structs import replace

from nub_shift.model.controls import WAYS
from nub_shift.model.keys import keys_label
from nub_shift.model.profile import Assignment, Move, PointerSpeed, Profile


def bound(profile: Profile, layer_id: str, slot: str, assignment: Assignment | None) -> Profile:
    """The profile with `slot` of a layer given something to do; None empties it, so that the layer below shows."""
    return _changed(profile, layer_id, {slot: assignment})


def movement_on_stick(profile: Profile, layer_id: str, stick: str) -> Profile | None:
    """The stick as movement keys: the game's four walking moves. None if the move list does not have all four."""
    walking = {move.direction.value: move.id for move in profile.moves if move.direction is not None}
    if set(walking) != set(WAYS):
        return None
    slots: dict[str, Assignment | None] = {f"{stick}.{way}": Assignment(move=walking[way]) for way in WAYS}
    slots[stick] = None
    return _changed(profile, layer_id, slots)


def look_on_stick(profile: Profile, layer_id: str, stick: str) -> Profile:
    """The stick as pointer motion; its directions are emptied."""
    slots: dict[str, Assignment | None] = dict.fromkeys((f"{stick}.{way}" for way in WAYS), None)
    slots[stick] = Assignment(pointer=PointerSpeed())
    return _changed(profile, layer_id, slots)


def assignment_for_keys(profile: Profile, codes: tuple[str, ...]) -> Assignment:
    """An assignment for pressed keys: the game's move if exactly one expects just these, plain keys otherwise."""
    moves = [move for move in profile.moves if set(move.keys) == set(codes)]
    return Assignment(move=moves[0].id) if len(moves) == 1 else Assignment(keys=codes)


def reached_moves(profile: Profile) -> dict[str, list[tuple[str, str]]]:
    """For each move that some slot starts: the (layer id, slot) pairs."""
    found: dict[str, list[tuple[str, str]]] = {}
    looks = [move.id for move in profile.moves if move.look]
    for layer in profile.layers:
        for slot, assignment in layer.slots.items():
            if assignment.move is not None:
                found.setdefault(assignment.move, []).append((layer.id, slot))
            elif assignment.pointer is not None:
                for move_id in looks:
                    found.setdefault(move_id, []).append((layer.id, slot))
            else:
                for move in profile.moves:
                    if _expects(move, assignment):
                        found.setdefault(move.id, []).append((layer.id, slot))
    return found


def assignment_label(profile: Profile, assignment: Assignment | None) -> str:
    """What an assignment does, in words, as "Leap" or "Ctrl + C"."""
    if assignment is None:
        return "Nothing"
    if assignment.move is not None:
        move = profile.move(assignment.move)
        return move.label if move is not None else assignment.move
    if assignment.keys:
        return keys_label(assignment.keys)
    if assignment.wheel is not None:
        return f"Wheel {assignment.wheel.value}"
    if assignment.pointer is not None:
        return "Move the pointer"
    if assignment.layer is not None:
        layer = profile.layer(assignment.layer)
        return f"Layer {layer.label if layer is not None else assignment.layer}"
    return "Silence"


def _expects(move: Move, assignment: Assignment) -> bool:
    if assignment.keys:
        return set(assignment.keys) == set(move.keys)
    return assignment.wheel is not None and assignment.wheel == move.wheel


def _changed(profile: Profile, layer_id: str, slots: dict[str, Assignment | None]) -> Profile:
    layers = []
    for layer in profile.layers:
        if layer.id == layer_id:
            merged: dict[str, Assignment | None] = {**layer.slots, **slots}
            kept = {slot: assignment for slot, assignment in merged.items() if assignment is not None}
            layer = replace(layer, slots=kept)
        layers.append(layer)
    return replace(profile, layers=tuple(layers))

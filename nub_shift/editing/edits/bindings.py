"""Edits of slot assignments, as functions from profile to profile."""

from __future__ import annotations

from typing import Any

from msgspec.structs import replace

from nub_shift.model.controls import DIAGONALS, SURFACE_SLOT, WAYS
from nub_shift.model.profile.effects import DoMove, Drag, PointerSpeed, PressKeys
from nub_shift.model.profile.profile import Profile
from nub_shift.model.profile.reactions import Assignment
from nub_shift.model.slot_names import slot_name
from nub_shift.translation import tr

# Common movement keys of games; on the number pad one for each of nine places, except the middle.
STICK_KEYS: dict[str, dict[str, str]] = {
    tr("Keys W A S D"): {"up": "KEY_W", "left": "KEY_A", "down": "KEY_S", "right": "KEY_D"},
    tr("Arrow keys"): {way: f"KEY_{way.upper()}" for way in WAYS},
    tr("Number pad, nine ways"): {
        **{"up": "KEY_KP8", "down": "KEY_KP2", "left": "KEY_KP4", "right": "KEY_KP6"},
        **{"up_left": "KEY_KP7", "up_right": "KEY_KP9", "down_left": "KEY_KP1", "down_right": "KEY_KP3"},
    },
}


def bind(profile: Profile, layer_id: str, slot: str, assignment: Assignment | None) -> Profile:
    """Returns the profile with `slot` of a layer assigned; None empties the slot, which shows the layer below."""
    return _changed(profile, layer_id, {slot: assignment})


def bind_movement(profile: Profile, layer_id: str, stick: str) -> Profile:
    """Returns the profile with the game's four walking moves on a stick.

    Without directions in the move list, the moves with common movement keys; otherwise these keys themselves.
    """
    walking = {move.direction.value: move.id for move in profile.moves if move.direction is not None}
    if set(walking) != set(WAYS):
        expected = {move.keys for move in profile.moves}
        usual = list(STICK_KEYS.values())
        known = (codes for codes in usual if all((code,) in expected for code in codes.values()))
        return bind_stick_keys(profile, layer_id, stick, next(known, usual[0]))
    slots: dict[str, Assignment | None] = {slot_name(stick, way): Assignment.of(DoMove(walking[way])) for way in WAYS}
    slots |= dict.fromkeys((stick, *(slot_name(stick, diagonal) for diagonal in DIAGONALS)))
    return _changed(profile, layer_id, slots)


def bind_stick_keys(profile: Profile, layer_id: str, stick: str, codes: dict[str, str]) -> Profile:
    """Returns the profile with keys on a stick by direction, or the game's moves that expect exactly these."""
    slots: dict[str, Assignment | None] = dict.fromkeys(
        (stick, *(slot_name(stick, way) for way in (*WAYS, *DIAGONALS)))
    )
    slots |= {slot_name(stick, way): assignment_for_keys(profile, (code,)) for way, code in codes.items()}
    made = _changed(profile, layer_id, slots)
    if codes.keys().isdisjoint(DIAGONALS):
        return made
    directions = replace(getattr(profile.feel, stick).directions, ways=8)
    return set_feel(made, stick, directions=directions)


def bind_look(profile: Profile, layer_id: str, stick: str) -> Profile:
    """Returns the profile with a stick as pointer motion, or dragging on a touch surface; its directions are
    emptied.
    """
    slots: dict[str, Assignment | None] = dict.fromkeys(slot_name(stick, way) for way in (*WAYS, *DIAGONALS))
    slots[stick] = Assignment.of_use(Drag() if stick == SURFACE_SLOT else PointerSpeed())
    return _changed(profile, layer_id, slots)


def set_feel(profile: Profile, control: str, **values: Any) -> Profile:
    """Returns the profile with some settings of a control's feel."""
    feel = replace(getattr(profile.feel, control), **values)
    return replace(profile, feel=replace(profile.feel, **{control: feel}))


def assignment_for_keys(profile: Profile, codes: tuple[str, ...]) -> Assignment:
    """Returns an assignment of keys: the game's move if exactly one expects these, plain keys otherwise."""
    moves = [move for move in profile.moves if set(move.keys) == set(codes)]
    return Assignment.of(DoMove(moves[0].id) if len(moves) == 1 else PressKeys(codes))


def change_layer(profile: Profile, layer_id: str, **values: Any) -> Profile:
    """Returns the profile with some settings of a layer."""
    layers = (replace(layer, **values) if layer.id == layer_id else layer for layer in profile.layers)
    return replace(profile, layers=tuple(layers))


def _changed(profile: Profile, layer_id: str, slots: dict[str, Assignment | None]) -> Profile:
    layer = profile.layer(layer_id)
    merged: dict[str, Assignment | None] = {**(layer.slots if layer is not None else {}), **slots}
    kept = {slot: assignment for slot, assignment in merged.items() if assignment is not None}
    return change_layer(profile, layer_id, slots=kept)

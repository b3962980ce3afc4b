"""Edits of whole layers."""

from __future__ import annotations

from functools import partial

from msgspec.structs import replace

from nub_shift.editing.edits.bindings import layer_changed
from nub_shift.editing.edits.ids import fresh_id
from nub_shift.editing.edits.slots import without
from nub_shift.model.actions import Action, Assignment
from nub_shift.model.profile import BASE_LAYER, Layer, Profile

MAX_LAYERS = 24


def added(profile: Profile, label: str) -> tuple[Profile, str]:
    """The profile with another empty layer on top, and its id."""
    made = Layer(id=fresh_id(label, [layer.id for layer in profile.layers]), label=label)
    return replace(profile, layers=(*profile.layers, made)), made.id


def duplicated(profile: Profile, layer_id: str) -> tuple[Profile, str]:
    """The profile with a copy of a layer above it, and the copy's id."""
    layers = list(profile.layers)
    place = _place(profile, layer_id)
    label = f"{layers[place].label} copy"[:60]
    copy = replace(layers[place], id=fresh_id(label, [layer.id for layer in layers]), label=label)
    layers.insert(place + 1, copy)
    return replace(profile, layers=tuple(layers)), copy.id


def renamed(profile: Profile, layer_id: str, label: str) -> Profile:
    """The profile with another name for a layer; what brings it on is untouched."""
    return layer_changed(profile, layer_id, label=label)


def paced(profile: Profile, layer_id: str, pace: float | None) -> Profile:
    """The profile with another pointer speed while a layer is on."""
    return layer_changed(profile, layer_id, pace=pace)


def hued(profile: Profile, layer_id: str, hue: int | None) -> Profile:
    """The profile with a layer shown in another hue; None is the one that falls to its place."""
    return layer_changed(profile, layer_id, hue=hue)


def based(profile: Profile, layer_id: str, basis: str | None) -> Profile:
    """The profile with a layer that has all that another has, but for what it says itself."""
    return layer_changed(profile, layer_id, based_on=basis)


def made_like(profile: Profile, layer_id: str, other_id: str) -> Profile:
    """The profile with a layer that does what another does; it keeps its name and what brings it on."""
    other = profile.layers[_place(profile, other_id)]
    basis = other.based_on if other.based_on != layer_id else None
    return layer_changed(
        profile, layer_id, slots=other.slots, together=other.together, feel=other.feel, pace=other.pace, based_on=basis
    )


def moved(profile: Profile, layer_id: str, by: int) -> Profile:
    """The profile with a layer some places further up; the base layer stays the first."""
    layers = list(profile.layers)
    place = _place(profile, layer_id)
    target = min(max(place + by, 1), len(layers) - 1)
    if place == 0 or target == place:
        return profile
    layers.insert(target, layers.pop(place))
    return replace(profile, layers=tuple(layers))


def removed(profile: Profile, layer_id: str) -> Profile:
    """The profile without a layer, and without anything that would bring it on or is based on it."""
    if layer_id == BASE_LAYER:
        return profile
    layers = []
    for layer in profile.layers:
        if layer.id == layer_id:
            continue
        slots = {slot: _without(assignment, layer_id) for slot, assignment in layer.slots.items()}
        kept = {slot: assignment for slot, assignment in slots.items() if assignment is not None}
        pairs = tuple(pair for pair in layer.together if not _brings(layer_id, pair))
        basis = None if layer.based_on == layer_id else layer.based_on
        layers.append(replace(layer, slots=kept, together=pairs, based_on=basis))
    carousels = tuple(
        replace(carousel, entries=entries)
        for carousel in profile.carousels
        if (entries := tuple(entry for entry in carousel.entries if not _brings(layer_id, entry)))
    )
    return replace(profile, layers=tuple(layers), carousels=carousels)


def _without(assignment: Assignment, layer_id: str) -> Assignment | None:
    """An assignment without what brings a layer on; None if nothing else is left."""
    rest = tuple(name for name in assignment.next if name != layer_id) if len(assignment.next) > 2 else ()
    return without(assignment, partial(_brings, layer_id), {"layer": None, "stay": None, "next": rest})


def _brings(layer_id: str, does: Action) -> bool:
    return layer_id in (does.layer, does.stay) or layer_id in does.next


def _place(profile: Profile, layer_id: str) -> int:
    return [layer.id for layer in profile.layers].index(layer_id)

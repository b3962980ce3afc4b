"""Edits of whole layers."""

from __future__ import annotations

from typing import Literal

from msgspec.structs import replace

from nub_shift.editing.edits.bindings import change_layer
from nub_shift.editing.edits.ids import fresh_id
from nub_shift.model.profile.actions import Action
from nub_shift.model.profile.profile import Layer, Profile
from nub_shift.model.profile.schema_types import MAX_LABEL
from nub_shift.translation import tr

When = Literal["enter", "leave"]


def new_id(profile: Profile, label: str) -> str:
    """Returns an id for a new layer of that name."""
    return fresh_id(label, [layer.id for layer in profile.layers])


def add(profile: Profile, layer_id: str, label: str) -> Profile:
    """Returns the profile with another empty layer on top."""
    return replace(profile, layers=(*profile.layers, Layer(id=layer_id, label=label)))


def copy_label(profile: Profile, layer_id: str) -> str:
    """Returns the name of a copy of a layer."""
    return tr("{title} copy", title=profile.layers[_index(profile, layer_id)].label)[:MAX_LABEL]


def duplicate(profile: Profile, layer_id: str, copy_id: str) -> Profile:
    """Returns the profile with a copy of a layer above it."""
    layers = list(profile.layers)
    index = _index(profile, layer_id)
    layers.insert(index + 1, replace(layers[index], id=copy_id, label=copy_label(profile, layer_id)))
    return replace(profile, layers=tuple(layers))


def rename(profile: Profile, layer_id: str, label: str) -> Profile:
    """Returns the profile with a layer renamed; its activation is unchanged."""
    return change_layer(profile, layer_id, label=label)


def set_pace(profile: Profile, layer_id: str, pace: float | None) -> Profile:
    """Returns the profile with another pointer speed for a layer."""
    return change_layer(profile, layer_id, pace=pace)


def set_hue(profile: Profile, layer_id: str, hue: int | None) -> Profile:
    """Returns the profile with another hue for a layer; None selects the hue of its position."""
    return change_layer(profile, layer_id, hue=hue)


def set_basis(profile: Profile, layer_id: str, basis: str | None) -> Profile:
    """Returns the profile with another basis for a layer, whose assignments it inherits."""
    return change_layer(profile, layer_id, based_on=basis)


def set_transition(profile: Profile, layer_id: str, when: When, action: Action | None) -> Profile:
    """Returns the profile with an action at the activation or deactivation of a layer."""
    return change_layer(profile, layer_id, **{when: action})


def copy_content(profile: Profile, layer_id: str, other_id: str) -> Profile:
    """Returns the profile with the content of another layer copied to a layer, which keeps its name and activation."""
    other = profile.layers[_index(profile, other_id)]
    basis = other.based_on if other.based_on != layer_id else None
    own = {name: getattr(other, name) for name in Layer.__struct_fields__ if name not in ("id", "label", "hue")}
    return change_layer(profile, layer_id, **own | {"based_on": basis})


def move(profile: Profile, layer_id: str, by: int) -> Profile:
    """Returns the profile with a layer moved up by some positions; the base layer stays the first."""
    layers = list(profile.layers)
    index = _index(profile, layer_id)
    target = min(max(index + by, 1), len(layers) - 1)
    if index == 0 or target == index:
        return profile
    layers.insert(target, layers.pop(index))
    return replace(profile, layers=tuple(layers))


def _index(profile: Profile, layer_id: str) -> int:
    return [layer.id for layer in profile.layers].index(layer_id)

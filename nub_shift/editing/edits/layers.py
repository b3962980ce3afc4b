"""Edits of whole layers."""

from __future__ import annotations

from typing import Literal

from msgspec.structs import replace

from nub_shift.editing.edits.bindings import layer_changed
from nub_shift.editing.edits.ids import fresh_id
from nub_shift.model.profile.actions import Action
from nub_shift.model.profile.profile import Layer, Profile
from nub_shift.model.profile.schema_types import MAX_LABEL
from nub_shift.translation import tr

When = Literal["enter", "leave"]


def new_id(profile: Profile, label: str) -> str:
    """An id for a new layer of that name."""
    return fresh_id(label, [layer.id for layer in profile.layers])


def added(profile: Profile, layer_id: str, label: str) -> Profile:
    """The profile with another empty layer on top."""
    return replace(profile, layers=(*profile.layers, Layer(id=layer_id, label=label)))


def copy_label(profile: Profile, layer_id: str) -> str:
    """Returns the name of a copy of a layer."""
    return tr("{title} copy", title=profile.layers[_index(profile, layer_id)].label)[:MAX_LABEL]


def duplicated(profile: Profile, layer_id: str, copy_id: str) -> Profile:
    """The profile with a copy of a layer above it."""
    layers = list(profile.layers)
    index = _index(profile, layer_id)
    layers.insert(index + 1, replace(layers[index], id=copy_id, label=copy_label(profile, layer_id)))
    return replace(profile, layers=tuple(layers))


def renamed(profile: Profile, layer_id: str, label: str) -> Profile:
    """The profile with another name for a layer; what brings it on is untouched."""
    return layer_changed(profile, layer_id, label=label)


def paced(profile: Profile, layer_id: str, pace: float | None) -> Profile:
    """The profile with another pointer speed while a layer is on."""
    return layer_changed(profile, layer_id, pace=pace)


def hued(profile: Profile, layer_id: str, hue: int | None) -> Profile:
    """The profile with a layer shown in another hue; None is the one of its position."""
    return layer_changed(profile, layer_id, hue=hue)


def based(profile: Profile, layer_id: str, basis: str | None) -> Profile:
    """The profile with a layer that has all that another has, but for what it says itself."""
    return layer_changed(profile, layer_id, based_on=basis)


def doing(profile: Profile, layer_id: str, when: When, action: Action | None) -> Profile:
    """The profile with something that a layer does once as it comes on, or goes."""
    return layer_changed(profile, layer_id, **{when: action})


def made_like(profile: Profile, layer_id: str, other_id: str) -> Profile:
    """The profile with a layer that does what another does; it keeps its name and what brings it on."""
    other = profile.layers[_index(profile, other_id)]
    basis = other.based_on if other.based_on != layer_id else None
    own = {name: getattr(other, name) for name in Layer.__struct_fields__ if name not in ("id", "label", "hue")}
    return layer_changed(profile, layer_id, **own | {"based_on": basis})


def moved(profile: Profile, layer_id: str, by: int) -> Profile:
    """The profile with a layer some positions further up; the base layer stays the first."""
    layers = list(profile.layers)
    index = _index(profile, layer_id)
    target = min(max(index + by, 1), len(layers) - 1)
    if index == 0 or target == index:
        return profile
    layers.insert(target, layers.pop(index))
    return replace(profile, layers=tuple(layers))


def _index(profile: Profile, layer_id: str) -> int:
    return [layer.id for layer in profile.layers].index(layer_id)

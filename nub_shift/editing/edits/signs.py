"""Edits of the signs on the screen during play."""

from __future__ import annotations

from typing import Any

from msgspec.structs import replace

from nub_shift.model.profile.profile import Profile
from nub_shift.model.profile.signs import SignKind


def change_signs(profile: Profile, **settings: Any) -> Profile:
    """Returns the profile with these settings of `Signs`."""
    return replace(profile, signs=replace(profile.signs, **settings))


def show_kind(profile: Profile, kind: SignKind, shown: bool) -> Profile:
    """Returns the profile with signs of a kind shown or hidden."""
    silent = [other for other in SignKind if other in profile.signs.silent and other is not kind]
    return change_signs(profile, silent=tuple(silent if shown else (*silent, kind)))


def show_layer_sign(profile: Profile, layer_id: str, shown: bool) -> Profile:
    """Returns the profile with the sign of a layer shown or hidden."""
    layers = (replace(layer, silent=not shown) if layer.id == layer_id else layer for layer in profile.layers)
    return replace(profile, layers=tuple(layers))

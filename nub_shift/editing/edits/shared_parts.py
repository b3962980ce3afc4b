"""Edits of what slots share: carousels, rings, sequences; and of two slots together."""

from __future__ import annotations

from typing import Any

from msgspec.structs import replace

from nub_shift.editing.edits.bindings import layer_changed
from nub_shift.model.actions import Action, Together
from nub_shift.model.named import Reference
from nub_shift.model.profile import Profile


def changed(profile: Profile, reference: Reference, **values: Any) -> Profile:
    """The profile with other settings of a carousel, ring or sequence."""
    named = getattr(profile, reference.kind.value)
    made = tuple(replace(found, **values) if found.id == reference.id else found for found in named)
    return replace(profile, **{reference.kind.value: made})


def together(
    profile: Profile, layer_id: str, slots: tuple[str, str], action: Action | None, within_ms: int = 60
) -> Profile:
    """The profile with what two slots of a layer do when both are pressed within a time; None takes it away."""
    layer = profile.layer(layer_id)
    rest = tuple(pair for pair in layer.together if set(pair.slots) != set(slots)) if layer is not None else ()
    if action is not None:
        rest = (*rest, Together(**action.own_fields, slots=slots, within_ms=within_ms))
    return layer_changed(profile, layer_id, together=rest)


def partners(profile: Profile, layer_id: str, slot: str) -> list[tuple[str, Together]]:
    """The slots that one does something with together in a layer, with what that is."""
    layer = profile.layer(layer_id)
    pairs = layer.together if layer is not None else ()
    return [(next(other for other in pair.slots if other != slot), pair) for pair in pairs if slot in pair.slots]

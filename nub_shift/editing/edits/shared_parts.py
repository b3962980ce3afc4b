"""Edits of what slots share: carousels, rings, sequences; and of two slots together."""

from __future__ import annotations

from typing import Any

from msgspec.structs import replace

from nub_shift.editing.edits.bindings import layer_changed
from nub_shift.editing.edits.slots import action_fields, without
from nub_shift.model.actions import Action, Together
from nub_shift.model.profile import Profile

_KINDS = {"carousel": "carousels", "ring": "rings", "sequence": "sequences"}


def changed(profile: Profile, kind: str, part_id: str, **values: Any) -> Profile:
    """The profile with other settings of a carousel, ring or sequence."""
    parts = tuple(replace(part, **values) if part.id == part_id else part for part in getattr(profile, _KINDS[kind]))
    return replace(profile, **{_KINDS[kind]: parts})


def removed(profile: Profile, kind: str, part_id: str) -> Profile:
    """The profile without a carousel, ring or sequence, and without what used it."""

    def is_gone(action: Action) -> bool:
        return _uses(action, kind, part_id)

    rest = tuple(part for part in getattr(profile, _KINDS[kind]) if part.id != part_id)
    layers = []
    for layer in profile.layers:
        slots = {slot: without(assignment, is_gone, {kind: None}) for slot, assignment in layer.slots.items()}
        kept = {slot: assignment for slot, assignment in slots.items() if assignment is not None}
        pairs = tuple(pair for pair in layer.together if not is_gone(pair))
        layers.append(replace(layer, slots=kept, together=pairs))
    return replace(profile, layers=tuple(layers), **{_KINDS[kind]: rest})


def together(
    profile: Profile, layer_id: str, slots: tuple[str, str], action: Action | None, within_ms: int = 60
) -> Profile:
    """The profile with what two slots of a layer do when both are pressed within a time; None takes it away."""
    layer = profile.layer(layer_id)
    rest = tuple(pair for pair in layer.together if set(pair.slots) != set(slots)) if layer is not None else ()
    if action is not None:
        rest = (*rest, Together(**action_fields(action), slots=slots, within_ms=within_ms))
    return layer_changed(profile, layer_id, together=rest)


def partners(profile: Profile, layer_id: str, slot: str) -> list[tuple[str, Together]]:
    """The slots that one does something with together in a layer, with what that is."""
    layer = profile.layer(layer_id)
    pairs = layer.together if layer is not None else ()
    return [(next(other for other in pair.slots if other != slot), pair) for pair in pairs if slot in pair.slots]


def _uses(action: Action, kind: str, part_id: str) -> bool:
    if kind == "carousel":
        return action.carousel is not None and action.carousel.id == part_id
    return getattr(action, kind, None) == part_id

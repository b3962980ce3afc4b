"""Edits of shared parts (carousels, rings, sequences), and of combinations of slots."""

from __future__ import annotations

from typing import Any

from msgspec.structs import replace

from nub_shift.editing.edits.bindings import change_layer
from nub_shift.model.controls import CONTROL_OF_SLOT
from nub_shift.model.controls import Kind as ControlKind
from nub_shift.model.profile.actions import Action
from nub_shift.model.profile.feel import Stages, TriggerFeel, changed_feel
from nub_shift.model.profile.profile import Profile
from nub_shift.model.profile.reactions import Order, Reaction, Together
from nub_shift.model.references.named import Reference
from nub_shift.model.slot_names import SlotName, slot_name


def change(profile: Profile, reference: Reference, **values: Any) -> Profile:
    """Returns the profile with some settings of a carousel, ring or sequence."""
    named = getattr(profile, reference.kind.value)
    made = tuple(replace(found, **values) if found.id == reference.id else found for found in named)
    return replace(profile, **{reference.kind.value: made})


def together(profile: Profile, layer_id: str, pair: Together) -> Profile:
    """Returns the profile with the combination of a layer's slots replaced or removed."""
    layer = profile.layer(layer_id)
    rest = tuple(found for found in layer.together if set(found.slots) != set(pair.slots)) if layer is not None else ()
    return change_layer(profile, layer_id, together=(*rest, pair) if pair.reactions else rest)


def set_together_action(
    profile: Profile, layer_id: str, slots: tuple[str, ...], reaction: Reaction, action: Action | None
) -> Profile:
    """Returns the profile with an action for one reaction of a combination; None removes the action."""
    pair = _together_of(profile, layer_id, slots) or Together(slots=slots)
    return together(profile, layer_id, pair.with_reaction(reaction, action))


def add_third(profile: Profile, layer_id: str, pair: tuple[str, str], third: str) -> Profile:
    """Returns the profile with a third slot added to a combination of two."""
    found = _together_of(profile, layer_id, pair)
    if found is None:
        return profile
    without = together(profile, layer_id, Together(slots=pair))
    return together(without, layer_id, replace(found, slots=(*found.slots, third)))


def _together_of(profile: Profile, layer_id: str, slots: tuple[str, ...]) -> Together | None:
    """Returns a layer's actions of these slots together, in whatever order."""
    return next((pair for pair in partners(profile, layer_id, slots[0]) if set(pair.slots) == set(slots)), None)


def partners(profile: Profile, layer_id: str, slot: str) -> list[Together]:
    """Returns the combinations of a slot in a layer."""
    layer = profile.layer(layer_id)
    return [pair for pair in (layer.together if layer is not None else ()) if slot in pair.slots]


def press_wait_ms(profile: Profile, layer_id: str, slot: str) -> int:
    """Returns the milliseconds that the press of a slot waits for a partner, or for the deep stage of its trigger."""
    pairs = profile.shown_together(layer_id, slot)
    waits = [pair.within_ms for pair in pairs if pair.order is Order.ANY]
    control = CONTROL_OF_SLOT[slot]
    if control.kind is ControlKind.TRIGGER and SlotName.parse(slot).part == "light":
        layer = profile.layer(layer_id)
        feel = changed_feel(profile.feel, layer.feel) if layer is not None else profile.feel
        trigger: TriggerFeel = getattr(feel, control.name)
        deep = slot_name(control.name, "deep")
        if trigger.stages is Stages.EITHER and any(deep in found.slots for found in profile.layers):
            waits.append(trigger.either_ms)
    return max(waits, default=0)

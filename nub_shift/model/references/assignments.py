"""Look-up of what a profile has on a slot."""

from __future__ import annotations

from nub_shift.model.profile.actions import Action
from nub_shift.model.profile.profile import BASE_LAYER, Profile
from nub_shift.model.profile.reactions import Assignment, Reaction


def own_assignment(profile: Profile, layer_id: str, slot: str) -> Assignment | None:
    """Returns the layer's own assignment of the slot."""
    layer = profile.layer(layer_id)
    return layer.slots.get(slot) if layer is not None else None


def shown_assignment(profile: Profile, layer_id: str, slot: str) -> Assignment | None:
    """Returns the assignment of the slot in the layer: its own, else that of the base layer."""
    own, layer = own_assignment(profile, layer_id, slot), profile.layer(layer_id)
    hidden = layer is not None and slot in layer.hidden_below
    return own if own is not None or hidden else own_assignment(profile, BASE_LAYER, slot)


def action_of(assignment: Assignment | None, reaction: Reaction) -> Action | None:
    """Returns the action of a reaction."""
    return assignment.reactions.get(reaction) if assignment is not None else None

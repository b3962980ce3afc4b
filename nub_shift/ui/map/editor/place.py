"""The selected slot with its assignment, as the sentence and its menus show it."""

from __future__ import annotations

from dataclasses import dataclass

from nub_shift.model.profile.profile import Profile
from nub_shift.model.profile.reactions import Assignment, Reaction


@dataclass(frozen=True)
class Place:
    """The slot to show.

    Attributes:
        profile: present profile.
        layer, slot, reaction: selected reaction of a slot in a layer.
        assignment: present assignment of the slot.
        whole: whether the slot stands for a whole stick or surface, or for turning the pad.
        is_entry: whether the assignment is the selected entry of a carousel or ring, which has no other reaction.
    """

    profile: Profile
    layer: str
    slot: str
    reaction: Reaction
    assignment: Assignment | None
    whole: bool
    is_entry: bool = False

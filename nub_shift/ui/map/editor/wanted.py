"""Where something is to be done, and what is called with what a person chooses for it."""

from __future__ import annotations

from collections.abc import Callable
from dataclasses import dataclass

from nub_shift.editing.document import Edit
from nub_shift.model.profile.actions import Action
from nub_shift.model.profile.effects import Effect, StickUse
from nub_shift.model.profile.profile import Profile
from nub_shift.model.profile.reactions import Assignment, Reaction
from nub_shift.model.references.named import Reference


@dataclass(frozen=True)
class Place:
    """Target of an edit.

    Attributes:
        profile: as it is.
        layer, slot, reaction: which slot of which layer, and when.
        assignment: what the slot does there.
        whole: the slot stands for a whole stick or surface, or for turning the pad.
        is_entry: the assignment is the chosen entry of a carousel or ring, which has no other reaction.
    """

    profile: Profile
    layer: str
    slot: str
    reaction: Reaction
    assignment: Assignment | None
    whole: bool
    is_entry: bool = False


@dataclass(frozen=True)
class Wanted:
    """Callbacks for a choice.

    Attributes:
        effect, use: with what the slot, or the whole stick, is to do.
        layer: for a new layer that is on while the slot is held.
        partner: for the control that is pressed next.
        together: with slots that do something together, and the reaction of these that the next key or move is for.
        third: with two slots that do something together, for a third one that is pressed next.
        group: with a group whose moves become a ring of a whole stick, or a carousel; "" for those in none.
        part: with a carousel or ring whose entries, or a sequence whose steps, are to be changed.
        example: with a sequence to begin with, as it is written.
        besides: for one thing more, which begins with what the slot does.
        action: with what is set of an action, and the action as it is then.
        edit: with what is done, and the edit.
    """

    effect: Callable[[Effect], object]
    use: Callable[[StickUse], object]
    layer: Callable[[], object]
    partner: Callable[[], object]
    third: Callable[[str, str], object]
    together: Callable[[tuple[str, ...], Reaction], object]
    group: Callable[[str], object]
    part: Callable[[Reference], object]
    example: Callable[[str], object]
    besides: Callable[[], object]
    action: Callable[[str, Action], object]
    edit: Callable[[str, Edit], object]

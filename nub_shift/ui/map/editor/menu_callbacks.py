"""Target of an edit, and callbacks for the choices of a menu."""

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
        profile: present profile.
        layer, slot, reaction: target.
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


@dataclass(frozen=True)
class MenuCallbacks:
    """Callbacks for a choice.

    Attributes:
        effect, use: the chosen effect, or use of a whole control.
        layer: a new layer, active while the slot is held.
        partner: a combination with the next pressed control.
        together: combination and reaction for the next key or move.
        third: two combined slots, to be joined by the next pressed control.
        group: group whose moves become a ring or a carousel; "" for those without a group.
        part: carousel, ring or sequence to edit.
        example: written sequence to begin with.
        besides: the next input is added beside the slot's action.
        action: description, and changed action.
        edit: description and edit.
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

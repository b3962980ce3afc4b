"""Edits of one slot: its reactions, their actions and manners."""

from __future__ import annotations

from collections.abc import Callable, Sequence
from typing import TypeAlias

from msgspec.structs import replace

from nub_shift.editing.edits.bindings import bind
from nub_shift.editing.edits.ids import fresh_id
from nub_shift.model.controls import CONTROL_OF_SLOT, MOTION_SLOT, Finger
from nub_shift.model.profile.actions import Action, Manner, with_manner
from nub_shift.model.profile.effects import (
    CarouselStep,
    ChooseFromRing,
    DoMove,
    HoldLayer,
    MotionSwitch,
    Silence,
    Step,
    StickUse,
    SwitchMotion,
    Turn,
)
from nub_shift.model.profile.listed import Carousel, Ring, RingEntry
from nub_shift.model.profile.profile import Move, Profile
from nub_shift.model.profile.reactions import Assignment, Reaction, with_time
from nub_shift.model.profile.schema_types import MAX_SHORT_LABEL
from nub_shift.model.references.assignments import action_of, own_assignment, shown_assignment
from nub_shift.model.references.walk import SlotOrigin, layer_actions
from nub_shift.translation import tr

SOONEST_MS = 20  # shortest time of a hold
# Creates the layer, carousel, or sequence that an action uses, and returns the profile with it and the action.
Making: TypeAlias = Callable[[Profile], tuple[Profile, Action]]
_LEFT = (Finger.LEFT_INDEX, Finger.LEFT_THUMB)


def set_action(profile: Profile, layer_id: str, slot: str, reaction: Reaction, action: Action | None) -> Profile:
    """Returns the profile with an action for one reaction of a slot; None removes the action. Other reactions stay."""
    before = own_assignment(profile, layer_id, slot) or Assignment()
    if action is not None and isinstance(before.effect, Silence):
        before = Assignment()  # an action replaces silence
    made = before.without_use().with_reaction(reaction, action)
    if isinstance(made.effect, Silence):
        made = Assignment.of(Silence(), tap_ms=before.tap_ms)  # silence excludes other actions
    return bind(profile, layer_id, slot, made if made.reactions else None)


def move_action(profile: Profile, layer_id: str, slot: str, before: Reaction, after: Reaction) -> Profile:
    """Returns the profile with a slot's action moved from one reaction to another; an inherited assignment is copied
    first.
    """
    assignment = shown_assignment(profile, layer_id, slot)
    action = action_of(assignment, before)
    if assignment is None or action is None or before is after:
        return profile
    made = assignment.without_use().with_reaction(before, None).with_reaction(after, action)
    return bind(profile, layer_id, slot, made)


def change_action(
    profile: Profile, layer_id: str, slot: str, reaction: Reaction, change: Callable[[Action], Action]
) -> Profile:
    """Returns the profile with the action of a reaction changed; an inherited assignment is copied first."""
    assignment = shown_assignment(profile, layer_id, slot)
    action = action_of(assignment, reaction)
    if assignment is None or action is None:
        return profile
    return bind(profile, layer_id, slot, assignment.with_reaction(reaction, change(action.bare)))


def add_action(profile: Profile, layer_id: str, slot: str, reaction: Reaction, action: Action) -> Profile:
    """Returns the profile with another action beside that of a reaction."""
    return change_action(
        profile, layer_id, slot, reaction, lambda now: replace(now, also=(*now.also, replace(action.bare, also=())))
    )


def set_use(profile: Profile, layer_id: str, slot: str, use: StickUse) -> Profile:
    """Returns the profile with another use of a whole stick, surface or motion."""
    return bind(profile, layer_id, slot, Assignment.of_use(use))


def change_use(profile: Profile, layer_id: str, slot: str, use: StickUse) -> Profile:
    """Returns the profile with other settings of one use of a whole control; its other uses stay."""
    shown = shown_assignment(profile, layer_id, slot)
    others = [other for other in (shown.uses if shown is not None else ()) if type(other) is not type(use)]
    return set_uses(profile, layer_id, slot, [*others, use])


def set_uses(profile: Profile, layer_id: str, slot: str, uses: Sequence[StickUse]) -> Profile:
    """Returns the profile with all uses of a whole control replaced."""
    return bind(profile, layer_id, slot, Assignment.of_uses(uses))


def set_manner(
    profile: Profile, layer_id: str, slot: str, reaction: Reaction, manner: Manner, rate_hz: float
) -> Profile:
    """Returns the profile with another manner for the action of a reaction; an inherited assignment is copied first."""

    def kept(action: Action) -> Action:
        light_hz = min(action.light_hz, rate_hz) if action.light_hz is not None else None
        return with_manner(replace(action, rate_hz=rate_hz, light_hz=light_hz), manner)

    return change_action(profile, layer_id, slot, reaction, kept)


def set_time(profile: Profile, layer_id: str, slot: str, reaction: Reaction, milliseconds: int) -> Profile:
    """Returns the profile with another time for a reaction that has one."""
    assignment = own_assignment(profile, layer_id, slot)
    if assignment is None:
        return profile
    return bind(profile, layer_id, slot, with_time(assignment, reaction, milliseconds))


def turn_while_held(profile: Profile, layer_id: str, slot: str) -> Profile | None:
    """Returns the profile in which turning the pad moves the pointer while a slot is held; the slot's other actions
    stay.

    A slot that activates a layer does so within this layer. A slot with another press action does so as its hold.
    Returns None if its hold is assigned, too.
    """
    press = action_of(shown_assignment(profile, layer_id, slot), Reaction.PRESS)
    effect = press.effect if press is not None else None
    if isinstance(effect, HoldLayer):
        return bind(profile, effect.layer, MOTION_SLOT, Assignment.of_use(Turn()))
    made = bind(profile, layer_id, MOTION_SLOT, Assignment.of_use(Turn(on=False)))
    switch = Action.of(SwitchMotion(MotionSwitch.ON))
    if effect is None or isinstance(effect, SwitchMotion):
        return set_action(made, layer_id, slot, Reaction.PRESS, switch)
    if action_of(shown_assignment(profile, layer_id, slot), Reaction.HOLD) is not None:
        return None
    made = change_action(made, layer_id, slot, Reaction.PRESS, lambda action: action)  # copies an inherited assignment
    made = set_action(made, layer_id, slot, Reaction.HOLD, switch)
    return set_time(made, layer_id, slot, Reaction.HOLD, SOONEST_MS)


def _playable(profile: Profile, group: str) -> list[Move]:
    """Returns the moves of a group that can be pressed."""
    return [move for move in profile.moves if move.group == group and move.sent is not None]


def groups_to_list(profile: Profile) -> list[str]:
    """Returns the groups that can become a carousel or a ring, in order; "" stands for moves without a group."""
    groups = dict.fromkeys(move.group for move in profile.moves)
    return [group for group in groups if len(_playable(profile, group)) > 1]


def set_ring(profile: Profile, layer_id: str, slot: str, group: str) -> Profile:
    """Returns the profile with a ring of a group's moves on a whole stick; an equal ring is reused."""
    moves = _playable(profile, group)[:36]
    ring_id = fresh_id(group or "ring", [ring.id for ring in profile.rings])
    entries = tuple(RingEntry.of(DoMove(move.id), label=move.label[:MAX_SHORT_LABEL]) for move in moves)
    known = next((ring for ring in profile.rings if ring.entries == entries), None)
    ring = known or Ring(id=ring_id, label=group or tr("Ring"), entries=entries)
    rings = profile.rings if known is not None else (*profile.rings, ring)
    return set_use(replace(profile, rings=rings), layer_id, slot, ChooseFromRing(ring.id))


def carousel_step(profile: Profile, layer_id: str, slot: str, group: str) -> tuple[Profile, Action]:
    """Returns the profile with a carousel of a group's moves, and the step that suits a slot; an equal carousel is
    reused.

    Controls of the left hand step back and others forward, unless another slot already steps in that direction.
    """
    steps = tuple(Action.of(DoMove(move.id)) for move in _playable(profile, group)[:64])
    shared = next((found for found in profile.carousels if found.entries == steps), None)
    carousel = shared or Carousel(
        id=fresh_id(group or "carousel", [found.id for found in profile.carousels]),
        label=group or tr("Carousel"),
        entries=steps,
    )
    carousels = profile.carousels if shared is not None else (*profile.carousels, carousel)
    step = Step.BACK if CONTROL_OF_SLOT[slot].finger in _LEFT else Step.FORWARD
    if step in _steps_taken(profile, layer_id, slot, carousel.id):
        step = Step.FORWARD if step is Step.BACK else Step.BACK
    return replace(profile, carousels=carousels), Action.of(CarouselStep(id=carousel.id, step=step))


def _steps_taken(profile: Profile, layer_id: str, slot: str, carousel: str) -> set[Step]:
    """Returns the directions in which other slots of a layer step a carousel."""
    layer = profile.layer(layer_id)
    return {
        action.effect.step
        for origin, action in (layer_actions(layer) if layer is not None else ())
        if isinstance(origin, SlotOrigin)
        and origin.slot != slot
        and isinstance(action.effect, CarouselStep)
        and action.effect.id == carousel
    }

"""Edits of one slot: its reactions, what each does, and how that is kept up."""

from __future__ import annotations

from collections.abc import Callable
from typing import Any

from msgspec.structs import asdict, replace

from nub_shift.editing.edits.bindings import bound
from nub_shift.editing.edits.ids import fresh_id
from nub_shift.model.actions import (
    REACTIONS,
    Action,
    Assignment,
    Carousel,
    CarouselStep,
    DoubleTap,
    Hold,
    Manner,
    MotionSwitch,
    Ring,
    RingEntry,
    Step,
    Turn,
    has_effect,
    reactions_of,
)
from nub_shift.model.controls import CONTROL_OF_SLOT, MOTION_SLOT, STICK_SLOTS, Finger
from nub_shift.model.profile import BASE_LAYER, Profile
from nub_shift.model.references import WHOLE_USES

PRESS = "press"
_KINDS: dict[str, type[Action]] = {"hold": Hold, "double_tap": DoubleTap}
SOONEST_MS = 20  # no hold is sooner
_OWN_FIELDS = Action.__struct_fields__
_LEFT = (Finger.LEFT_INDEX, Finger.LEFT_THUMB)


def action_fields(action: Action) -> dict[str, Any]:
    """What an action says as an action, without what else a hold, an assignment or a ring's entry says."""
    return {field: getattr(action, field) for field in _OWN_FIELDS}


def or_nothing(assignment: Assignment) -> Assignment | None:
    """An assignment, or None if nothing is left of it."""
    whole = any(getattr(assignment, name) is not None for name in (*WHOLE_USES, "turn"))
    return assignment if whole or reactions_of(assignment) else None


def without(assignment: Assignment, is_gone: Callable[[Action], bool], emptied: dict[str, Any]) -> Assignment | None:
    """An assignment without the reactions that are gone; `emptied` is what its own effect becomes if that is."""
    changes: dict[str, Any] = {
        name: None for name in REACTIONS if (part := getattr(assignment, name)) is not None and is_gone(part)
    }
    if is_gone(assignment):
        changes |= emptied
    return or_nothing(replace(assignment, **changes))


def own_assignment(profile: Profile, layer_id: str, slot: str) -> Assignment | None:
    """What the layer itself has for the slot."""
    layer = profile.layer(layer_id)
    return layer.slots.get(slot) if layer is not None else None


def shown_assignment(profile: Profile, layer_id: str, slot: str) -> Assignment | None:
    """What the slot does in the layer: its own, else what the base layer shows."""
    own = own_assignment(profile, layer_id, slot)
    return own if own is not None else own_assignment(profile, BASE_LAYER, slot)


def action_of(assignment: Assignment | None, reaction: str) -> Action | None:
    """What starts with a reaction."""
    return reactions_of(assignment).get(reaction) if assignment is not None else None


def given(profile: Profile, layer_id: str, slot: str, reaction: str, action: Action | None) -> Profile:
    """The profile with something to do for one reaction of a slot; the others stay. None takes it away."""
    before = own_assignment(profile, layer_id, slot) or Assignment()
    others = {name: getattr(before, name) for name in REACTIONS}
    press = action if reaction == PRESS else action_of(before, PRESS)
    if reaction != PRESS:
        others[reaction] = None if action is None else _as_kind(reaction, action, others[reaction])
    if press is not None and press.silence:
        others = dict.fromkeys(REACTIONS)  # silence stands alone
    made = Assignment(**(_fields(press) if press is not None else {}), **others, tap_ms=before.tap_ms)
    return bound(profile, layer_id, slot, made if reactions_of(made) else None)


def changed(profile: Profile, layer_id: str, slot: str, reaction: str, **values: Any) -> Profile:
    """The profile with other settings of what a reaction of a slot does; what comes from below is taken over."""
    assignment = shown_assignment(profile, layer_id, slot)
    if assignment is None:
        return profile
    if reaction == PRESS:
        return bound(profile, layer_id, slot, replace(assignment, **values))
    action = action_of(assignment, reaction)
    if action is None:
        return profile
    return bound(profile, layer_id, slot, replace(assignment, **{reaction: replace(action, **values)}))


def kept_up(profile: Profile, layer_id: str, slot: str, reaction: str, manner: Manner, rate_hz: float) -> Profile:
    """The profile with another manner for what a reaction of a slot does; what comes from below is taken over."""
    return changed(profile, layer_id, slot, reaction, manner=manner, rate_hz=rate_hz)


def timed(profile: Profile, layer_id: str, slot: str, reaction: str, milliseconds: int) -> Profile:
    """The profile with another time for a slot's tap, hold or double tap."""
    assignment = own_assignment(profile, layer_id, slot)
    if assignment is None:
        return profile
    if reaction == "tap":
        return bound(profile, layer_id, slot, replace(assignment, tap_ms=milliseconds))
    action = action_of(assignment, reaction)
    field = {"hold": "after_ms", "double_tap": "within_ms"}.get(reaction)
    if action is None or field is None:
        return profile
    return bound(profile, layer_id, slot, replace(assignment, **{reaction: replace(action, **{field: milliseconds})}))


def turning_while(profile: Profile, layer_id: str, slot: str) -> Profile | None:
    """The profile in which turning the pad moves the pointer while a slot is held; what the slot does besides stays.

    A slot that brings a layer on does it in that layer. One whose press does something else does it as soon as it
    counts as held. None if it does something else then, too.
    """
    press = action_of(shown_assignment(profile, layer_id, slot), PRESS)
    if press is not None and press.layer is not None:
        return bound(profile, press.layer, MOTION_SLOT, Assignment(turn=Turn()))
    made = bound(profile, layer_id, MOTION_SLOT, Assignment(turn=Turn(on=False)))
    switch = Action(motion=MotionSwitch.ON)
    if press is None or press.motion is not None:
        return given(made, layer_id, slot, PRESS, switch)
    if action_of(shown_assignment(profile, layer_id, slot), "hold") is not None:
        return None
    made = changed(made, layer_id, slot, PRESS)  # what comes from below is taken over
    return timed(given(made, layer_id, slot, "hold", switch), layer_id, slot, "hold", SOONEST_MS)


def group_on_slot(profile: Profile, layer_id: str, slot: str, group: str) -> Profile | None:
    """The slot given all moves of a group: a step of a carousel, or on a whole stick a ring.

    A carousel of just these moves is made once and shared. A control of the left hand steps back and others forward,
    unless that way is taken already. None if the group has no two moves that are keys.
    """
    moves = [move for move in profile.moves if move.group == group and (move.keys or move.wheel is not None)]
    if len(moves) < 2:
        return None
    if slot in STICK_SLOTS:
        ring_id = fresh_id(group or "ring", [ring.id for ring in profile.rings])
        entries = tuple(RingEntry(move=move.id, label=move.label[:40]) for move in moves[:36])
        known = next((ring for ring in profile.rings if ring.entries == entries), None)
        ring = known or Ring(id=ring_id, label=group or "Ring", entries=entries)
        rings = profile.rings if known is not None else (*profile.rings, ring)
        return bound(replace(profile, rings=rings), layer_id, slot, Assignment(ring=ring.id))
    steps = tuple(Action(move=move.id) for move in moves[:64])
    shared = next((found for found in profile.carousels if found.entries == steps), None)
    carousel = shared or Carousel(
        id=fresh_id(group or "carousel", [found.id for found in profile.carousels]),
        label=group or "Carousel",
        entries=steps,
    )
    carousels = profile.carousels if shared is not None else (*profile.carousels, carousel)
    step = Step.BACK if CONTROL_OF_SLOT[slot].finger in _LEFT else Step.FORWARD
    layer = profile.layer(layer_id)
    taken = {
        action.carousel.step
        for name, assignment in (layer.slots.items() if layer is not None else ())
        for action in reactions_of(assignment).values()
        if name != slot and action.carousel is not None and action.carousel.id == carousel.id
    }
    if step in taken:
        step = Step.FORWARD if step is Step.BACK else Step.BACK
    action = Action(carousel=CarouselStep(id=carousel.id, step=step))
    return given(replace(profile, carousels=carousels), layer_id, slot, PRESS, action)


def _fields(action: Action) -> dict[str, Any]:
    """The same, or nothing if the action does nothing."""
    return action_fields(action) if has_effect(action) else {}


def _as_kind(reaction: str, action: Action, before: Action | None) -> Action:
    """An action as what stands at a reaction, with the time that was set there."""
    kind = _KINDS.get(reaction, Action)
    times = {name: value for name, value in asdict(before).items() if name not in _OWN_FIELDS} if before else {}
    return kind(**_fields(action), **times)

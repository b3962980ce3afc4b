"""Checks of a well-formed profile: every reference exists, and no settings contradict each other."""

from __future__ import annotations

from collections.abc import Iterator, Mapping
from itertools import islice
from operator import is_

from msgspec import UNSET

from nub_shift.keyboard.layout import LayoutSource
from nub_shift.model.checks.action_checks import (
    action_problems,
    changes_layers,
    count_fault,
    effects_named,
    instant_problems,
)
from nub_shift.model.checks.activation_checks import comes_on_problems
from nub_shift.model.checks.feel_checks import feel_problems
from nub_shift.model.checks.sequence_checks import carousel_problems, ring_problems, sequence_problems
from nub_shift.model.controls import CONTROL_OF_SLOT, DIAGONALS, MOTION_SLOT, STICK_SLOTS, SURFACE_SLOT
from nub_shift.model.problems import MAX_PROBLEMS, Problem
from nub_shift.model.profile.effects import ChooseFromRing
from nub_shift.model.profile.feel import FeelChange
from nub_shift.model.profile.listed import Confirm
from nub_shift.model.profile.profile import BASE_LAYER, MAX_LAYERS, Layer, Move, Profile
from nub_shift.model.profile.reactions import Assignment, Reacting, Reaction, Together
from nub_shift.model.references.effect_facts import use_problems
from nub_shift.model.references.name_checks import (
    duplicates,
    key_problems,
    slot_problems,
    slot_suggestion,
    suggestion,
    typing_problems,
)
from nub_shift.model.references.named import Kind
from nub_shift.model.references.profile_index import ProfileIndex
from nub_shift.model.slot_names import SlotName, slot_name
from nub_shift.translation import tr

MAX_LISTED = 200
MAX_PAIRS = 60
# Maximum number of parts with an id, by kind.
MOST = {
    Kind.MOVE: 500,
    Kind.SEQUENCE: MAX_LISTED,
    Kind.CAROUSEL: MAX_LISTED,
    Kind.RING: MAX_LISTED,
}
# Keys of a table for uses of a whole stick or touch surface.
_WHOLE_NAMES = ("pointer", "position", "flick", "ring", "drag")
# Keys of a table for uses of turning and tilting the pad; both can choose from a ring.
_MOTION_NAMES = ("turn", "tilt", "ring")

# Slots of diagonals, which a four-way stick never presses.
PARTED_BY_FOUR = frozenset(slot_name(stick, diagonal) for stick in STICK_SLOTS for diagonal in DIAGONALS)


def reference_problems(profile: Profile, layout: LayoutSource) -> list[Problem]:
    """Returns every missing reference in `profile`, and every pair of contradicting settings.

    `layout` decides which characters a text may contain. At most `MAX_PROBLEMS` are searched; a profile with too many
    parts of a kind gets only that fault.
    """
    return ReferenceCheck().problems(profile, layout)


class ReferenceCheck:
    """Checks profiles that differ in little, without checking an unchanged sound layer again.

    A layer counts as unchanged while everything that layers refer to is unchanged too.
    """

    def __init__(self) -> None:
        self._shared: tuple[object, ...] = ()
        self._right: dict[int, Layer] = {}  # by id(); the layer is stored too, so that its id stays its own

    def problems(self, profile: Profile, layout: LayoutSource) -> list[Problem]:
        """Returns the same as `reference_problems`."""
        too_many = list(_counts(profile))
        if too_many:
            return too_many
        shared = (
            *(profile.moves, profile.sequences, profile.carousels, profile.rings, profile.game, profile.feel),
            *(part for layer in profile.layers for part in (layer.id, layer.based_on, layer.feel)),
        )
        same = len(shared) == len(self._shared) and all(map(is_, shared, self._shared))
        right = self._right if same else {}
        found = list(islice(_all(profile, layout, right), MAX_PROBLEMS))
        self._shared = shared
        self._right = {id(layer): layer for layer in profile.layers} if not found else {}
        return found


def _counts(profile: Profile) -> Iterator[Problem]:
    for kind, most in MOST.items():
        yield from _too_many(kind.value, len(getattr(profile, kind.value)), most)
    for layer in profile.layers:
        yield from _too_many(f"layers.{layer.id}.together", len(layer.together), MAX_PAIRS)


def _all(profile: Profile, layout: LayoutSource, right: Mapping[int, Layer]) -> Iterator[Problem]:
    index = ProfileIndex.of(profile)
    yield from _twice("moves", [move.id for move in profile.moves])
    ids = {move.id for move in profile.moves}
    for move in profile.moves:
        yield from _move(move, ids, layout)
    yield from _twice("sequences", [sequence.id for sequence in profile.sequences])
    yield from sequence_problems(index, layout)
    yield from _twice("carousels", [carousel.id for carousel in profile.carousels])
    for carousel in profile.carousels:
        yield from carousel_problems(carousel, index)
    yield from _twice("rings", [ring.id for ring in profile.rings])
    for ring in profile.rings:
        yield from ring_problems(ring, index)
    yield from _layer_list(profile.layers)
    for layer in profile.layers:
        if id(layer) not in right:
            yield from _layer(layer, index)
    yield from feel_problems(profile)
    yield from comes_on_problems(profile.comes_on)


def _move(move: Move, ids: set[str], layout: LayoutSource) -> Iterator[Problem]:
    path = f"moves.{move.id}"
    inputs = sum((bool(move.keys), move.wheel is not None, bool(move.text), move.look))
    if inputs != 1:
        wrong = tr("says nothing of what the game expects") if inputs == 0 else tr("expects several things at once")
        yield Problem(path, wrong, tr("give one of keys, wheel, text, look = true"))
    yield from key_problems(f"{path}.keys", move.keys)
    yield from typing_problems(f"{path}.text", move.text, layout)
    for wanted in move.together:
        if wanted not in ids or wanted == move.id:
            others = sorted(ids - {move.id})
            yield Problem(
                f"{path}.together", tr("there is no other move {wanted!r}", wanted=wanted), suggestion(wanted, others)
            )


def _layer_list(layers: tuple[Layer, ...]) -> Iterator[Problem]:
    ids = [layer.id for layer in layers]
    yield from _twice("layers", ids)
    if not ids or ids[0] != BASE_LAYER:
        first = tr("the first layer is {id!r}", id=ids[0]) if ids else tr("there is no layer")
        yield Problem("layers", first, tr("expected the first layer to have the id {id!r}", id=BASE_LAYER))
    if len(ids) > MAX_LAYERS:
        yield Problem(
            "layers", tr("there are {count} layers", count=len(ids)), tr("expected at most {most}", most=MAX_LAYERS)
        )


def _basis(layer: Layer, profile: Profile) -> Iterator[Problem]:
    path = f"layers.{layer.id}.based_on"
    seen = [layer.id]
    while layer.based_on is not None:
        found = profile.layer(layer.based_on)
        if found is None or found.id == BASE_LAYER:
            others = [other.id for other in profile.layers[1:] if other.id not in seen]
            wrong = tr("there is no layer {based_on!r} to be based on", based_on=layer.based_on)
            yield Problem(path, wrong, suggestion(layer.based_on, others))
            return
        if found.id in seen:
            yield Problem(
                path,
                tr("goes round in a circle: {circle}", circle=" → ".join([*seen, found.id])),
                tr("end the circle somewhere"),
            )
            return
        seen.append(found.id)
        layer = found


def _layer(layer: Layer, index: ProfileIndex) -> Iterator[Problem]:
    own = [name for name in ("based_on", "pace", "feel") if getattr(layer, name) not in (None, FeelChange())]
    if layer.id == BASE_LAYER and own:
        right = tr("the profile's feel is the one of the base layer") if "feel" in own else tr("leave it out")
        yield Problem("layers.base", tr("the base layer has {own}", own=tr(" and ").join(own)), right)
    yield from _basis(layer, index.profile)
    for slot, assignment in layer.slots.items():
        path = f"layers.{layer.id}.slots.{slot}"
        if slot not in CONTROL_OF_SLOT:
            yield Problem(path, tr("no control has a slot {slot!r}", slot=slot), slot_suggestion(slot))
            continue
        yield from _assignment(path, slot, assignment, index)
    yield from _own_actions(layer, index)
    seen: dict[object, int] = {}
    for number, pair in enumerate(layer.together):
        path = f"layers.{layer.id}.together[{number}]"
        first = seen.setdefault(pair.gesture, number)
        if first != number:
            yield Problem(
                f"{path}.slots", tr("is the same as together[{first}]", first=first), tr("keep one of the two")
            )
        yield from _pair(path, pair, index)


def _own_actions(layer: Layer, index: ProfileIndex) -> Iterator[Problem]:
    for name, action in (("enter", layer.enter), ("leave", layer.leave)):
        path = f"layers.{layer.id}.{name}"
        if action is None:
            continue
        if layer.id == BASE_LAYER:
            yield Problem(path, tr("the base layer neither comes nor goes"), tr("leave it out"))
        if changes_layers(action, index):
            yield Problem(path, tr("changes layers while layers change"), tr("bring that layer on from a slot"))
        if name == "leave":
            yield from instant_problems(path, "leaving", action, index)
        yield from action_problems(path, action, index)


def _assignment(path: str, slot: str, assignment: Assignment, index: ProfileIndex) -> Iterator[Problem]:
    given = effects_named(assignment)
    further = [reaction for reaction in Reaction if assignment.further(reaction) is not None]
    names = given + [reaction.value for reaction in further]
    if slot in STICK_SLOTS:
        yield from _whole_stick(path, slot, assignment, names, index)
        return
    if slot == MOTION_SLOT or assignment.turn is not None or assignment.tilt is not None:
        yield from _whole_motion(path, slot, assignment, names, index)
        return
    if any(getattr(assignment, name) is not None for name in _WHOLE_NAMES):
        yield Problem(
            path, tr("only a whole stick can do that"), tr("use one of {names}", names=", ".join(sorted(STICK_SLOTS)))
        )
        return
    yield from _reacting(path, assignment, index)
    if slot in PARTED_BY_FOUR and not _has_eight_ways(SlotName.parse(slot).control, index.profile):
        control = SlotName.parse(slot).control
        yield Problem(
            path,
            tr("{control} has four ways only", control=control),
            tr("expected feel.{control}.directions.ways = 8", control=control),
        )


def _reacting(path: str, reacting: Reacting, index: ProfileIndex) -> Iterator[Problem]:
    """Yields the faults of the actions of a slot or a combination."""
    given = effects_named(reacting)
    further = {reaction: action for reaction in Reaction if (action := reacting.further(reaction)) is not None}
    if reacting.silence and (further or len(given) > 1):
        names = given + [reaction.value for reaction in further]
        yield Problem(path, count_fault(names), tr("silence stands alone"))
        return
    if given or not further:
        yield from action_problems(path, reacting, index)
    for reaction, action in further.items():
        yield from action_problems(f"{path}.{reaction.value}", action, index)
        if reaction in (Reaction.TAP, Reaction.RELEASE):
            yield from instant_problems(f"{path}.{reaction.value}", f"a {reaction.value}", action, index)
    hold, long_hold = reacting.hold, reacting.long_hold
    if hold is not None and long_hold is not None and long_hold.after_ms <= hold.after_ms:
        yield Problem(
            f"{path}.long_hold.after_ms",
            tr("is no longer than the hold"),
            tr("expected more than {ms}", ms=hold.after_ms),
        )


def _has_eight_ways(control: str, profile: Profile) -> bool:
    """Returns whether the stick has eight directions in any layer."""
    ways = {getattr(profile.feel, control).directions.ways}
    for layer in profile.layers:
        change = getattr(layer.feel, control, UNSET)
        directions = change.directions if change is not UNSET else UNSET
        ways.add(directions.ways if directions is not UNSET else UNSET)
    return 8 in ways


def _whole_stick(
    path: str, slot: str, assignment: Assignment, others: list[str], index: ProfileIndex
) -> Iterator[Problem]:
    given = [name for name in _WHOLE_NAMES if getattr(assignment, name) is not None] + others
    yield from _uses(path, assignment, index)
    if given == ["drag"] and slot != SURFACE_SLOT:
        yield Problem(
            f"{path}.drag",
            tr("no finger can drag on a stick"),
            tr("use the slot {surface_slot}", surface_slot=SURFACE_SLOT),
        )
        return
    if len(given) == 1 and given[0] in (*_WHOLE_NAMES, "scroll", "silence"):
        return
    ways = f"{slot}.up, {slot}.down, {slot}.left, {slot}.right"
    wrong = tr("a whole stick takes no press") if len(given) == 1 else count_fault(given)
    yield Problem(
        path,
        wrong,
        tr("give one of {names}, scroll, silence; for keys use {ways}", names=", ".join(_WHOLE_NAMES), ways=ways),
    )


def _whole_motion(
    path: str, slot: str, assignment: Assignment, others: list[str], index: ProfileIndex
) -> Iterator[Problem]:
    given = [name for name in (*_MOTION_NAMES, *_WHOLE_NAMES) if getattr(assignment, name) is not None]
    given = [*dict.fromkeys(given), *others]
    yield from _uses(path, assignment, index)
    if slot != MOTION_SLOT:
        yield Problem(
            path, tr("only the whole pad can turn or tilt"), tr("use the slot {motion_slot}", motion_slot=MOTION_SLOT)
        )
    elif given not in (["silence"], ["turn"], ["tilt"], ["ring"], ["turn", "tilt"], ["turn", "ring"]):
        yield Problem(path, count_fault(given), tr("give turn, tilt or ring, turn with one of the two, or silence"))
    elif _confirmed(assignment.ring, Confirm.CLICK, index):
        yield Problem(
            f"{path}.ring", tr("is confirmed by a click, which the whole pad has not"), tr("use another confirm")
        )


def _confirmed(ring: str | None, confirm: Confirm, index: ProfileIndex) -> bool:
    return ring in index.rings and index.rings[ring].confirm is confirm


def _uses(path: str, assignment: Assignment, index: ProfileIndex) -> Iterator[Problem]:
    for use in assignment.uses:
        yield from use_problems(path, use, index)
        if not isinstance(use, ChooseFromRing) or not path.startswith(f"layers.{BASE_LAYER}."):
            continue
        if _confirmed(use.ring, Confirm.LET_GO, index):
            wrong = tr("is confirmed as its layer is let go, which the base layer never is")
            yield Problem(f"{path}.ring", wrong, tr("use it in another layer, or another confirm"))


def _pair(path: str, pair: Together, index: ProfileIndex) -> Iterator[Problem]:
    yield from slot_problems(f"{path}.slots", pair.slots)
    yield from (
        Problem(f"{path}.slots", tr("{slot!r} appears twice", slot=slot), tr("name each once"))
        for slot in duplicates(pair.slots)
    )
    yield from _reacting(path, pair, index)


def _too_many(path: str, count: int, most: int) -> list[Problem]:
    return (
        [Problem(path, tr("there are {count}", count=count), tr("expected at most {most}", most=most))]
        if count > most
        else []
    )


def _twice(path: str, ids: list[str]) -> Iterator[Problem]:
    for found in duplicates(ids):
        yield Problem(f"{path}.{found}", tr("appears twice"), tr("give each its own id"))

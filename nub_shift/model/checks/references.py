"""Checks a well-formed profile: that what it refers to exists, and that it does not contradict itself."""

from __future__ import annotations

from collections.abc import Iterator
from itertools import islice
from math import floor, inf

from nub_shift.keyboard.layout import LayoutSource
from nub_shift.model.actions import (
    EFFECT_NAMES,
    Action,
    Assignment,
    Carousel,
    Confirm,
    Manner,
    Reaction,
    Ring,
    Sequence,
    SequenceStep,
    Together,
)
from nub_shift.model.checks.feel_checks import feel_problems
from nub_shift.model.checks.name_checks import doubles, known_keys, suggestion
from nub_shift.model.controls import CONTROL_OF_SLOT, MOTION_SLOT, STICK_SLOTS, SURFACE_SLOT
from nub_shift.model.effect_facts import effect_problems, manners_of, use_problems
from nub_shift.model.effects import CarouselStep, ChangePace, HoldLayer
from nub_shift.model.feel import FeelChange
from nub_shift.model.named import Kind
from nub_shift.model.problems import MAX_PROBLEMS, Problem
from nub_shift.model.profile import BASE_LAYER, MAX_LAYERS, Layer, Move, Profile
from nub_shift.model.walk import sent_input

MAX_LISTED = 200
MAX_PAIRS = 60
# How many there may be of what has an id.
MOST = {
    Kind.MOVE: 500,
    Kind.SEQUENCE: MAX_LISTED,
    Kind.CAROUSEL: MAX_LISTED,
    Kind.RING: MAX_LISTED,
}
# What only a whole stick or touch surface can do, by the keys of its table.
_WHOLE_NAMES = ("pointer", "position", "ring", "drag")


def reference_problems(profile: Profile, layout: LayoutSource) -> list[Problem]:
    """Every name in `profile` that refers to nothing, and every pair of settings that contradict each other.

    `layout` tells which characters a typed text may have. At most `MAX_PROBLEMS` are looked for, and none but their
    number in a profile that has too many of something.
    """
    too_many = list(_counts(profile))
    return too_many or list(islice(_all(profile, layout), MAX_PROBLEMS))


def _counts(profile: Profile) -> Iterator[Problem]:
    for kind, most in MOST.items():
        yield from _too_many(kind.value, len(getattr(profile, kind.value)), most)
    for layer in profile.layers:
        yield from _too_many(f"layers.{layer.id}.together", len(layer.together), MAX_PAIRS)


def _all(profile: Profile, layout: LayoutSource) -> Iterator[Problem]:
    yield from _twice("moves", [move.id for move in profile.moves])
    for move in profile.moves:
        yield from _move(move, profile)
    yield from _twice("sequences", [sequence.id for sequence in profile.sequences])
    for sequence in profile.sequences:
        yield from _sequence(sequence, layout)
    yield from _twice("carousels", [carousel.id for carousel in profile.carousels])
    for carousel in profile.carousels:
        yield from _carousel(carousel, profile)
    yield from _twice("rings", [ring.id for ring in profile.rings])
    for ring in profile.rings:
        yield from _ring(ring, profile)
    yield from _layer_list(profile.layers)
    for layer in profile.layers:
        yield from _layer(layer, profile)
    yield from feel_problems(profile)


def _move(move: Move, profile: Profile) -> Iterator[Problem]:
    path = f"moves.{move.id}"
    inputs = sum((bool(move.keys), move.wheel is not None, move.look))
    if inputs != 1:
        wrong = "says nothing of what the game expects" if inputs == 0 else "expects several things at once"
        yield Problem(path, wrong, "give one of keys, wheel, look = true")
    yield from known_keys(f"{path}.keys", move.keys)
    others = [other.id for other in profile.moves if other.id != move.id]
    for wanted in move.together:
        if wanted not in others:
            yield Problem(f"{path}.together", f"there is no other move {wanted!r}", suggestion(wanted, others))


def _sequence(sequence: Sequence, layout: LayoutSource) -> Iterator[Problem]:
    for index, step in enumerate(sequence.steps):
        path = f"sequences.{sequence.id}.steps[{index}]"
        given = _said_by(step)
        if len(given) != 1:
            yield Problem(path, _stand_together(given), "give exactly one of press, release, tap, wait_ms, text")
        for codes in (step.press, step.release, step.tap):
            yield from known_keys(path, codes)
        lacking = sorted(set(step.text).difference(layout().typed)) if step.text else []
        if lacking:
            wrong = f"the keyboard layout {layout().name} cannot type {' '.join(lacking)}"
            yield Problem(f"{path}.text", wrong, "leave those out")


def _said_by(step: SequenceStep) -> list[str]:
    given = [name for name in ("press", "release", "tap", "text") if getattr(step, name)]
    return [*given, "wait_ms"] if step.wait_ms is not None else given


def _carousel(carousel: Carousel, profile: Profile) -> Iterator[Problem]:
    for index, entry in enumerate(carousel.entries):
        path = f"carousels.{carousel.id}.entries[{index}]"
        if any(isinstance(effect, CarouselStep) for effect in entry.effects):
            yield Problem(path, "a carousel steps a carousel", "give it keys, a move or another effect")
        else:
            yield from _action(path, entry, profile)


def _ring(ring: Ring, profile: Profile) -> Iterator[Problem]:
    for index, entry in enumerate(ring.entries):
        path = f"rings.{ring.id}.entries[{index}]"
        yield from _action(path, entry, profile)
        repeats = entry.manner in (Manner.TURBO, Manner.PULSE)
        lasting = repeats or any(isinstance(effect, HoldLayer | ChangePace) for effect in entry.effects)
        if ring.confirm is Confirm.RELEASE and lasting and entry.manner is not Manner.TOGGLE:
            wrong = "lasts, but a ring that is confirmed by release is over at once"
            yield Problem(path, wrong, 'use stay, manner = "toggle", or another confirm')


def _layer_list(layers: tuple[Layer, ...]) -> Iterator[Problem]:
    ids = [layer.id for layer in layers]
    yield from _twice("layers", ids)
    if not ids or ids[0] != BASE_LAYER:
        first = f"the first layer is {ids[0]!r}" if ids else "there is no layer"
        yield Problem("layers", first, f"expected the first layer to have the id {BASE_LAYER!r}")
    if len(ids) > MAX_LAYERS:
        yield Problem("layers", f"there are {len(ids)} layers", f"expected at most {MAX_LAYERS}")


def _basis(layer: Layer, profile: Profile) -> Iterator[Problem]:
    path = f"layers.{layer.id}.based_on"
    seen = [layer.id]
    while layer.based_on is not None:
        found = profile.layer(layer.based_on)
        if found is None or found.id == BASE_LAYER:
            others = [other.id for other in profile.layers[1:] if other.id not in seen]
            wrong = f"there is no layer {layer.based_on!r} to be based on"
            yield Problem(path, wrong, suggestion(layer.based_on, others))
            return
        if found.id in seen:
            yield Problem(path, f"goes round in a circle: {' → '.join([*seen, found.id])}", "end the circle somewhere")
            return
        seen.append(found.id)
        layer = found


def _layer(layer: Layer, profile: Profile) -> Iterator[Problem]:
    own = [name for name in ("based_on", "pace", "feel") if getattr(layer, name) not in (None, FeelChange())]
    if layer.id == BASE_LAYER and own:
        right = "the profile's feel is the one of the base layer" if "feel" in own else "leave it out"
        yield Problem("layers.base", f"the base layer has {' and '.join(own)}", right)
    yield from _basis(layer, profile)
    for slot, assignment in layer.slots.items():
        path = f"layers.{layer.id}.slots.{slot}"
        if slot not in CONTROL_OF_SLOT:
            yield Problem(path, f"no control has a slot {slot!r}", suggestion(slot, CONTROL_OF_SLOT))
            continue
        yield from _assignment(path, slot, assignment, profile)
    for index, pair in enumerate(layer.together):
        yield from _pair(f"layers.{layer.id}.together[{index}]", pair, profile)


def _assignment(path: str, slot: str, assignment: Assignment, profile: Profile) -> Iterator[Problem]:
    given = _effects_named(assignment)
    further = [reaction for reaction in Reaction if assignment.further(reaction) is not None]
    names = given + [reaction.value for reaction in further]
    if slot in STICK_SLOTS:
        yield from _whole_stick(path, slot, assignment, names, profile)
        return
    if slot == MOTION_SLOT or assignment.turn is not None:
        yield from _whole_motion(path, slot, assignment, names)
        return
    if any(getattr(assignment, name) is not None for name in _WHOLE_NAMES):
        yield Problem(path, "only a whole stick can do that", f"use one of {', '.join(sorted(STICK_SLOTS))}")
        return
    if assignment.silence and (further or len(given) > 1):
        yield Problem(path, _stand_together(names), "silence stands alone")
        return
    if given or not further:
        yield from _action(path, assignment, profile)
    for reaction in further:
        action = assignment.further(reaction)
        if action is not None:
            yield from _action(f"{path}.{reaction.value}", action, profile)


def _whole_stick(
    path: str, slot: str, assignment: Assignment, others: list[str], profile: Profile
) -> Iterator[Problem]:
    given = [name for name in _WHOLE_NAMES if getattr(assignment, name) is not None] + others
    for use in assignment.uses:
        yield from use_problems(path, use, profile)
    if given == ["drag"] and slot != SURFACE_SLOT:
        yield Problem(f"{path}.drag", "no finger can drag on a stick", f"use the slot {SURFACE_SLOT}")
        return
    if len(given) == 1 and given[0] in (*_WHOLE_NAMES, "scroll", "silence"):
        return
    ways = f"{slot}.up, {slot}.down, {slot}.left, {slot}.right"
    wrong = "a whole stick takes no press" if len(given) == 1 else _stand_together(given)
    yield Problem(path, wrong, f"give one of {', '.join(_WHOLE_NAMES)}, scroll, silence; for keys use {ways}")


def _whole_motion(path: str, slot: str, assignment: Assignment, others: list[str]) -> Iterator[Problem]:
    if slot != MOTION_SLOT:
        yield Problem(path, "only turning the pad can turn", f"use the slot {MOTION_SLOT}")
    elif (assignment.turn is not None) == bool(others) or (others and others != ["silence"]):
        given = (["turn"] if assignment.turn else []) + others
        yield Problem(path, _stand_together(given), "give one of turn, silence")


def _pair(path: str, pair: Together, profile: Profile) -> Iterator[Problem]:
    for slot in pair.slots:
        if slot not in CONTROL_OF_SLOT or slot in STICK_SLOTS or slot == MOTION_SLOT:
            yield Problem(f"{path}.slots", f"{slot!r} is no slot that is pressed", suggestion(slot, CONTROL_OF_SLOT))
    yield from (Problem(f"{path}.slots", f"{slot!r} stands twice", "name two slots") for slot in doubles(pair.slots))
    yield from _action(path, pair, profile)


def _action(path: str, action: Action, profile: Profile) -> Iterator[Problem]:
    effect = action.effect
    if effect is None or len(action.effects) != 1:
        wrong = _stand_together(_effects_named(action))
        yield Problem(path, wrong, f"give exactly one of {', '.join(EFFECT_NAMES)}")
        return
    if action.manner not in manners_of(effect):
        (name,) = _effects_named(action)
        fit = " or ".join(manner.value for manner in Manner if manner in manners_of(effect))
        yield Problem(f"{path}.manner", f"{name} cannot be kept up as {action.manner.value}", f"expected {fit}")
    yield from effect_problems(path, effect, profile)
    yield from _rate(path, action, profile)


def _rate(path: str, action: Action, profile: Profile) -> Iterator[Problem]:
    """Turbo must leave each key down and up for as long as the game needs to see it."""
    down_ms, up_ms = profile.game.shortest_key_ms, profile.game.shortest_gap_ms
    keys, _ = sent_input(profile, action)
    if action.manner is not Manner.TURBO or not keys:
        return
    fits = min(
        action.duty * 1000 / down_ms if down_ms else inf,
        (1 - action.duty) * 1000 / up_ms if up_ms else inf,
    )
    if action.rate_hz > fits + 1e-9:
        wrong = f"is too fast for keys that are down for {down_ms} ms and up for {up_ms} ms"
        yield Problem(f"{path}.rate_hz", wrong, f"expected at most {floor(fits * 10) / 10:g} with duty {action.duty:g}")


def _effects_named(action: Action) -> list[str]:
    """The names of the effects that an action has."""
    return [name for name in EFFECT_NAMES if getattr(action, name) not in (None, (), "", False)]


def _stand_together(names: list[str]) -> str:
    return f"{' and '.join(names)} stand together" if names else "says nothing"


def _too_many(path: str, count: int, most: int) -> list[Problem]:
    return [Problem(path, f"there are {count}", f"expected at most {most}")] if count > most else []


def _twice(path: str, ids: list[str]) -> Iterator[Problem]:
    for found in doubles(ids):
        yield Problem(f"{path}.{found}", "stands twice", "give each its own id")

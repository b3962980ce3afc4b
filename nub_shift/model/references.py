"""Holds a well-shaped profile against what its names refer to: keys, moves, layers, slots, thresholds."""

from __future__ import annotations

from collections.abc import Iterable, Iterator
from dataclasses import replace
from difflib import get_close_matches
from itertools import pairwise

from nub_shift.keyboard.keys import KEY_BY_CODE
from nub_shift.keyboard.layout import LayoutSource
from nub_shift.model.actions import (
    EFFECT_NAMES,
    REACTIONS,
    Action,
    Assignment,
    Carousel,
    Confirm,
    Manner,
    Ring,
    Sequence,
    Together,
)
from nub_shift.model.controls import CONTROL_OF_SLOT, MOTION_SLOT, STICK_SLOTS, SURFACE_SLOT
from nub_shift.model.feel import Feel, FeelChange, MotionFeel, StickFeel, changed_feel
from nub_shift.model.problems import Problem
from nub_shift.model.profile import BASE_LAYER, Layer, Move, Profile

MAX_LAYERS = 24
MAX_LISTED = 200
# Effects that are done with at their beginning: there is nothing in them to keep up.
_MOMENTARY = ("wheel", "nudge", "carousel", "sequence", "stay", "next", "profile", "silence")
_REPEATABLE = ("wheel", "nudge", "carousel")


# What only a whole stick or touch surface can do.
WHOLE_USES = ("pointer", "position", "ring", "drag")


def reference_problems(profile: Profile, layout: LayoutSource) -> list[Problem]:
    """Every name in `profile` that refers to nothing, and every pair of settings that contradict each other.

    `layout` tells which characters a typed text may have.
    """
    return [
        *_twice("moves", [move.id for move in profile.moves]),
        *(found for move in profile.moves for found in _move(move, profile)),
        *_twice("sequences", [sequence.id for sequence in profile.sequences]),
        *(found for sequence in profile.sequences for found in _sequence(sequence, layout)),
        *_twice("carousels", [carousel.id for carousel in profile.carousels]),
        *(found for carousel in profile.carousels for found in _carousel(carousel, profile)),
        *_too_many("sequences", len(profile.sequences)),
        *_too_many("carousels", len(profile.carousels)),
        *_twice("rings", [ring.id for ring in profile.rings]),
        *(found for ring in profile.rings for found in _ring(ring, profile)),
        *_too_many("rings", len(profile.rings)),
        *_layer_list(profile.layers),
        *(found for layer in profile.layers for found in _layer(layer, profile)),
        *_feels(profile),
    ]


def _move(move: Move, profile: Profile) -> Iterator[Problem]:
    place = f"moves.{move.id}"
    inputs = sum((bool(move.keys), move.wheel is not None, move.look))
    if inputs != 1:
        wrong = "says nothing of what the game expects" if inputs == 0 else "expects several things at once"
        yield Problem(place, wrong, "give one of keys, wheel, look = true")
    yield from _keys(f"{place}.keys", move.keys)
    others = [other.id for other in profile.moves if other.id != move.id]
    for wanted in move.together:
        if wanted not in others:
            yield Problem(f"{place}.together", f"there is no other move {wanted!r}", _suggest(wanted, others))


def _sequence(sequence: Sequence, layout: LayoutSource) -> Iterator[Problem]:
    for index, step in enumerate(sequence.steps):
        place = f"sequences.{sequence.id}.steps[{index}]"
        given = [name for name in ("press", "release", "tap", "text") if getattr(step, name)]
        given += ["wait_ms"] if step.wait_ms is not None else []
        if len(given) != 1:
            yield Problem(place, _together(given), "give exactly one of press, release, tap, wait_ms, text")
        for codes in (step.press, step.release, step.tap):
            yield from _keys(place, codes)
        lacking = sorted(set(step.text).difference(layout().typed)) if step.text else []
        if lacking:
            wrong = f"the keyboard layout {layout().name} cannot type {' '.join(lacking)}"
            yield Problem(f"{place}.text", wrong, "leave those out")


def _carousel(carousel: Carousel, profile: Profile) -> Iterator[Problem]:
    for index, entry in enumerate(carousel.entries):
        place = f"carousels.{carousel.id}.entries[{index}]"
        if entry.carousel is not None:
            yield Problem(place, "a carousel steps a carousel", "give it keys, a move or another effect")
        else:
            yield from _action(place, entry, profile)


def _ring(ring: Ring, profile: Profile) -> Iterator[Problem]:
    for index, entry in enumerate(ring.entries):
        place = f"rings.{ring.id}.entries[{index}]"
        yield from _action(place, entry, profile)
        lasting = entry.manner in (Manner.TURBO, Manner.PULSE) or entry.layer is not None or entry.pace is not None
        if ring.confirm is Confirm.RELEASE and lasting and entry.manner is not Manner.TOGGLE:
            wrong = "lasts, but a ring that is confirmed by release is over at once"
            yield Problem(place, wrong, 'use stay, manner = "toggle", or another confirm')


def _layer_list(layers: tuple[Layer, ...]) -> Iterator[Problem]:
    ids = [layer.id for layer in layers]
    yield from _twice("layers", ids)
    if not ids or ids[0] != BASE_LAYER:
        first = f"the first layer is {ids[0]!r}" if ids else "there is no layer"
        yield Problem("layers", first, f"expected the first layer to have the id {BASE_LAYER!r}")
    if len(ids) > MAX_LAYERS:
        yield Problem("layers", f"there are {len(ids)} layers", f"expected at most {MAX_LAYERS}")


def _basis(layer: Layer, profile: Profile) -> Iterator[Problem]:
    place = f"layers.{layer.id}.based_on"
    seen = [layer.id]
    while layer.based_on is not None:
        found = profile.layer(layer.based_on)
        if found is None or found.id == BASE_LAYER:
            others = [other.id for other in profile.layers[1:] if other.id not in seen]
            yield Problem(
                place, f"there is no layer {layer.based_on!r} to be based on", _suggest(layer.based_on, others)
            )
            return
        if found.id in seen:
            yield Problem(place, f"goes round in a circle: {' → '.join([*seen, found.id])}", "end the circle somewhere")
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
        place = f"layers.{layer.id}.slots.{slot}"
        if slot not in CONTROL_OF_SLOT:
            yield Problem(place, f"no control has a slot {slot!r}", _suggest(slot, CONTROL_OF_SLOT))
            continue
        yield from _assignment(place, slot, assignment, profile)
    for index, pair in enumerate(layer.together):
        yield from _pair(f"layers.{layer.id}.together[{index}]", pair, profile)


def _assignment(place: str, slot: str, assignment: Assignment, profile: Profile) -> Iterator[Problem]:
    given = _given(assignment)
    reactions = [name for name in REACTIONS if getattr(assignment, name) is not None]
    if slot in STICK_SLOTS:
        yield from _whole_stick(place, slot, assignment, given + reactions, profile)
        return
    if slot == MOTION_SLOT or assignment.turn is not None:
        yield from _whole_motion(place, slot, assignment, given + reactions)
        return
    if any(getattr(assignment, name) is not None for name in WHOLE_USES):
        yield Problem(place, "only a whole stick can do that", f"use one of {', '.join(sorted(STICK_SLOTS))}")
        return
    if assignment.silence and (reactions or len(given) > 1):
        yield Problem(place, _together(given + reactions), "silence stands alone")
        return
    if given or not reactions:
        yield from _action(place, assignment, profile)
    for name in reactions:
        yield from _action(f"{place}.{name}", getattr(assignment, name), profile)


def _whole_stick(
    place: str, slot: str, assignment: Assignment, others: list[str], profile: Profile
) -> Iterator[Problem]:
    uses = [name for name in WHOLE_USES if getattr(assignment, name) is not None] + others
    rings = [ring.id for ring in profile.rings]
    if assignment.ring is not None and assignment.ring not in rings:
        yield Problem(f"{place}.ring", f"there is no ring {assignment.ring!r}", _suggest(assignment.ring, rings))
    if assignment.position is not None:
        yield from _keys(f"{place}.position.hold", assignment.position.hold)
    if uses == ["drag"] and slot != SURFACE_SLOT:
        yield Problem(f"{place}.drag", "no finger can drag on a stick", f"use the slot {SURFACE_SLOT}")
        return
    if len(uses) == 1 and uses[0] in (*WHOLE_USES, "scroll", "silence"):
        return
    ways = f"{slot}.up, {slot}.down, {slot}.left, {slot}.right"
    wrong = "a whole stick takes no press" if len(uses) == 1 else _together(uses)
    yield Problem(place, wrong, f"give one of {', '.join(WHOLE_USES)}, scroll, silence; for keys use {ways}")


def _whole_motion(place: str, slot: str, assignment: Assignment, others: list[str]) -> Iterator[Problem]:
    if slot != MOTION_SLOT:
        yield Problem(place, "only turning the pad can turn", f"use the slot {MOTION_SLOT}")
    elif (assignment.turn is not None) == bool(others) or (others and others != ["silence"]):
        yield Problem(place, _together((["turn"] if assignment.turn else []) + others), "give one of turn, silence")


def _pair(place: str, pair: Together, profile: Profile) -> Iterator[Problem]:
    for slot in pair.slots:
        if slot not in CONTROL_OF_SLOT or slot in STICK_SLOTS or slot == MOTION_SLOT:
            yield Problem(f"{place}.slots", f"{slot!r} is no slot that is pressed", _suggest(slot, CONTROL_OF_SLOT))
    yield from (Problem(f"{place}.slots", f"{slot!r} stands twice", "name two slots") for slot in _doubles(pair.slots))
    yield from _action(place, pair, profile)


def _action(place: str, what: Action, profile: Profile) -> Iterator[Problem]:
    given = _given(what)
    if len(given) != 1:
        yield Problem(place, _together(given), f"give exactly one of {', '.join(EFFECT_NAMES)}")
        return
    yield from _keys(f"{place}.keys", what.keys)
    yield from _manner(place, what, given[0])
    layers = [layer.id for layer in profile.layers]
    shifts = layers[1:]
    if what.move is not None:
        yield from _move_named(place, what.move, profile)
    for name, wanted, known in (
        ("layer", what.layer, shifts),
        ("stay", what.stay, layers),
        ("sequence", what.sequence, [sequence.id for sequence in profile.sequences]),
        ("carousel", what.carousel.id if what.carousel is not None else None, [c.id for c in profile.carousels]),
    ):
        if wanted is not None and wanted not in known:
            yield Problem(f"{place}.{name}", f"there is no {_NOUNS[name]} {wanted!r}", _suggest(wanted, known))
    for wanted in what.next:
        if wanted not in layers:
            yield Problem(f"{place}.next", f"there is no layer {wanted!r}", _suggest(wanted, layers))
    yield from (
        Problem(f"{place}.next", f"{double!r} stands twice", "name each once") for double in _doubles(what.next)
    )


_NOUNS = {"layer": "layer to shift to,", "stay": "layer", "sequence": "sequence", "carousel": "carousel"}


def _manner(place: str, action: Action, effect: str) -> Iterator[Problem]:
    manner = action.manner
    if manner in (Manner.HELD, Manner.ONCE):
        return
    fits = effect not in _MOMENTARY or (manner is Manner.TURBO and effect in _REPEATABLE)
    if manner in (Manner.TURBO, Manner.PULSE) and effect in ("layer", "motion", "pace", "scroll", "glide"):
        fits = False
    if not fits:
        yield Problem(f"{place}.manner", f"{effect} cannot be kept up as {manner.value}", "expected held or once")


def _move_named(place: str, move_id: str, profile: Profile) -> Iterator[Problem]:
    move = profile.move(move_id)
    if move is None:
        known = [move.id for move in profile.moves]
        yield Problem(f"{place}.move", f"there is no move {move_id!r}", _suggest(move_id, known))
    elif move.look:
        yield Problem(f"{place}.move", f"{move_id!r} is looking, not a press", "use pointer on a whole stick")


def _feels(profile: Profile) -> Iterator[Problem]:
    """Faults of the profile's feel, and of each layer's that it does not have from there."""
    known = list(_feel(profile.feel))
    yield from known
    for layer in profile.layers[1:]:
        for found in _feel(changed_feel(profile.feel, layer.feel)):
            if found not in known:
                yield replace(found, place=f"layers.{layer.id}.{found.place}")


def _feel(feel: Feel) -> Iterator[Problem]:
    for name in ("left_stick", "right_stick"):
        yield from _stick_feel(f"feel.{name}", getattr(feel, name))
    for name, stages in (
        ("left_trigger", ("light", "deep")),
        ("right_trigger", ("light", "deep")),
        ("slider_1", ("low", "low_deep", "high", "high_deep")),
        ("slider_2", ("low", "low_deep", "high", "high_deep")),
    ):
        for stage in stages:
            found = getattr(getattr(feel, name), stage)
            yield from _stage(f"feel.{name}.{stage}", found.on, found.off)
    yield from _motion_feel(feel.motion)


def _motion_feel(motion: MotionFeel) -> Iterator[Problem]:
    if not motion.slow_dps < motion.fast_dps:
        yield Problem("feel.motion.fast_dps", "is not above slow_dps", f"expected more than {motion.slow_dps:g}")
    if not motion.lean.off_degrees < motion.lean.on_degrees:
        place = "feel.motion.lean.off_degrees"
        yield Problem(place, "is not below on_degrees", f"expected less than {motion.lean.on_degrees:g}")


def _stick_feel(place: str, stick: StickFeel) -> Iterator[Problem]:
    directions = stick.directions
    yield from _stage(f"{place}.directions", directions.on, directions.off)
    yield from _stage(f"{place}.edge", stick.edge.on, stick.edge.off)
    if stick.dead_zone + stick.edge_zone >= 1.0:
        yield Problem(place, "dead zone and edge zone meet", "expected their sum to be below 1")
    narrow = min(directions.diagonal_degrees, 90 - directions.diagonal_degrees)
    if 2 * directions.hysteresis_degrees >= narrow:
        wrong = "is as wide as a direction"
        yield Problem(f"{place}.directions.hysteresis_degrees", wrong, f"expected less than {narrow / 2:g}")
    points = stick.points
    if any(not 0 <= number <= 1 for point in points for number in point):
        yield Problem(f"{place}.points", "a point lies outside", "expected numbers from 0 to 1")
    elif any(x0 >= x1 or y0 > y1 for (x0, y0), (x1, y1) in pairwise(points)):
        yield Problem(
            f"{place}.points", "the curve falls or goes back", "expected rising first numbers, no falling second"
        )


def _stage(place: str, on: float, off: float) -> Iterator[Problem]:
    if not off < on:
        yield Problem(place, f"off ({off:g}) is not below on ({on:g})", "expected off to be below on")
    if off <= 0:
        yield Problem(place, "off is 0 and would never be reached from above", "expected off to be above 0")


def _keys(place: str, codes: tuple[str, ...]) -> Iterator[Problem]:
    for code in codes:
        if code not in KEY_BY_CODE:
            yield Problem(place, f"there is no key {code!r}", _suggest(code, KEY_BY_CODE))
    yield from (Problem(place, f"{code!r} stands twice", "name each key once") for code in _doubles(codes))


def _given(action: Action) -> list[str]:
    """The names of the effects that an action has."""
    return [name for name in EFFECT_NAMES if getattr(action, name) not in (None, (), "", False)]


def _together(names: list[str]) -> str:
    return f"{' and '.join(names)} stand together" if names else "says nothing"


def _too_many(place: str, count: int) -> list[Problem]:
    return [Problem(place, f"there are {count}", f"expected at most {MAX_LISTED}")] if count > MAX_LISTED else []


def _twice(place: str, ids: list[str]) -> Iterator[Problem]:
    for found in _doubles(ids):
        yield Problem(f"{place}.{found}", "stands twice", "give each its own id")


def _doubles(items: Iterable[str]) -> list[str]:
    seen: set[str] = set()
    return [item for item in items if item in seen or seen.add(item)]  # type: ignore[func-returns-value]


def _suggest(name: str, known: Iterable[str]) -> str:
    names = list(known)
    close = get_close_matches(name, names, 1, 0.5)
    if close:
        return f"did you mean {close[0]!r}?"
    return f"expected one of {', '.join(names[:8])}{' …' if len(names) > 8 else ''}" if names else "there is none yet"

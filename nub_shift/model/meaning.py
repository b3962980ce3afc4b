"""Holds a well-shaped profile against what its names refer to: keys, moves, layers, slots, thresholds."""

from __future__ import annotations

from collections.abc import Iterable, Iterator
from difflib import get_close_matches

from nub_shift.model.controls import CONTROL_OF_SLOT, STICK_SLOTS
from nub_shift.model.keys import KEY_BY_CODE
from nub_shift.model.problems import Problem
from nub_shift.model.profile import BASE_LAYER, Assignment, Feel, Layer, Move, Profile

MAX_LAYERS = 24


def meaning_problems(profile: Profile) -> list[Problem]:
    """Every name in `profile` that refers to nothing, and every pair of settings that contradict each other."""
    return [
        *_twice("moves", [move.id for move in profile.moves]),
        *(found for move in profile.moves for found in _move(move)),
        *_layer_list(profile.layers),
        *(found for layer in profile.layers for found in _layer(layer, profile)),
        *_feel(profile.feel),
    ]


def _move(move: Move) -> Iterator[Problem]:
    place = f"moves.{move.id}"
    inputs = sum((bool(move.keys), move.wheel is not None, move.look))
    if inputs != 1:
        wrong = "says nothing of what the game expects" if inputs == 0 else "expects several things at once"
        yield Problem(place, wrong, "give one of keys, wheel, look = true")
    yield from _keys(f"{place}.keys", move.keys)


def _layer_list(layers: tuple[Layer, ...]) -> Iterator[Problem]:
    ids = [layer.id for layer in layers]
    yield from _twice("layers", ids)
    if not ids or ids[0] != BASE_LAYER:
        first = f"the first layer is {ids[0]!r}" if ids else "there is no layer"
        yield Problem("layers", first, f"expected the first layer to have the id {BASE_LAYER!r}")
    if len(ids) > MAX_LAYERS:
        yield Problem("layers", f"there are {len(ids)} layers", f"expected at most {MAX_LAYERS}")


def _layer(layer: Layer, profile: Profile) -> Iterator[Problem]:
    for slot, assignment in layer.slots.items():
        place = f"layers.{layer.id}.slots.{slot}"
        if slot not in CONTROL_OF_SLOT:
            yield Problem(place, f"no control has a slot {slot!r}", _suggest(slot, CONTROL_OF_SLOT))
            continue
        yield from _assignment(place, slot, assignment, profile)


def _assignment(place: str, slot: str, assignment: Assignment, profile: Profile) -> Iterator[Problem]:
    given = [
        name
        for name in ("move", "keys", "wheel", "pointer", "layer", "silence")
        if getattr(assignment, name) not in (None, (), False)
    ]
    if len(given) != 1:
        wrong = f"{' and '.join(given)} stand together" if given else "says nothing"
        yield Problem(place, wrong, "give exactly one of move, keys, wheel, pointer, layer, silence = true")
        return
    yield from _keys(f"{place}.keys", assignment.keys)
    whole_stick = slot in STICK_SLOTS
    if assignment.pointer is not None and not whole_stick:
        yield Problem(place, "only a whole stick can move the pointer", f"use one of {', '.join(sorted(STICK_SLOTS))}")
    if whole_stick and assignment.pointer is None and not assignment.silence:
        ways = f"{slot}.up, {slot}.down, {slot}.left, {slot}.right"
        yield Problem(place, "a whole stick takes pointer or silence", f"for keys use {ways}")
    if assignment.move is not None:
        yield from _move_named(place, assignment.move, profile)
    if assignment.layer is not None:
        yield from _layer_named(place, assignment.layer, profile)


def _move_named(place: str, move_id: str, profile: Profile) -> Iterator[Problem]:
    move = profile.move(move_id)
    if move is None:
        known = [move.id for move in profile.moves]
        yield Problem(f"{place}.move", f"there is no move {move_id!r}", _suggest(move_id, known))
    elif move.look:
        yield Problem(f"{place}.move", f"{move_id!r} is looking, not a press", "use pointer on a whole stick")


def _layer_named(place: str, layer_id: str, profile: Profile) -> Iterator[Problem]:
    others = [layer.id for layer in profile.layers if layer.id != BASE_LAYER]
    if layer_id not in others:
        yield Problem(f"{place}.layer", f"there is no layer {layer_id!r} to shift to", _suggest(layer_id, others))


def _feel(feel: Feel) -> Iterator[Problem]:
    for name in ("left_stick", "right_stick"):
        stick = getattr(feel, name)
        yield from _stage(f"feel.{name}.directions", stick.directions.on, stick.directions.off)
        if stick.dead_zone + stick.edge_zone >= 1.0:
            yield Problem(f"feel.{name}", "dead zone and edge zone meet", "expected their sum to be below 1")
        narrow = min(stick.directions.diagonal_degrees, 90 - stick.directions.diagonal_degrees)
        if 2 * stick.directions.hysteresis_degrees >= narrow:
            place = f"feel.{name}.directions.hysteresis_degrees"
            yield Problem(place, "is as wide as a direction", f"expected less than {narrow / 2:g}")
    for name in ("left_trigger", "right_trigger"):
        stage = getattr(feel, name).light
        yield from _stage(f"feel.{name}.light", stage.on, stage.off)


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

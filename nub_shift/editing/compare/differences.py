"""Differences between two profiles in words, each with an edit that copies it over."""

from __future__ import annotations

from collections.abc import Callable, Iterator
from dataclasses import dataclass
from functools import partial

from msgspec.structs import fields, replace

from nub_shift.editing.compare import transfer as transfer
from nub_shift.editing.words.feel_labels import feel_label
from nub_shift.editing.words.labels import KIND_WORDS, layer_words, slot_words
from nub_shift.keyboard.layout import Layout
from nub_shift.model.controls import CONTROL_BY_NAME, slot_label
from nub_shift.model.profile.profile import Layer, Profile
from nub_shift.model.references.named import Kind, Reference, find, label_of
from nub_shift.translation import tr

LAYER_SETTINGS = {
    "label": tr("Name"),
    "based_on": tr("What it is based on"),
    "pace": tr("Look speed"),
    "together": tr("Slots pressed together"),
    "feel": tr("Feel"),
    "enter": tr("What it does as it comes on"),
    "leave": tr("What it does as it goes"),
    "hue": tr("Colour"),
    "silent": tr("Whether a sign is shown for it"),
}
GAME_SETTINGS = {
    "counts_per_turn": tr("Counts a turn"),
    "frame_rate_hz": tr("Frame rate"),
    "shortest_key_ms": tr("Shortest key press"),
    "shortest_gap_ms": tr("Shortest gap between presses"),
    "reads_pads": tr("Reads pads itself"),
    "recap": tr("Whether sessions are counted"),
    "grip": tr("How the pad is held"),
}
_FIELDS = {
    "notes": (tr("Notes"), tr("The notes differ")),
    "colour": (tr("Notes"), tr("The colour differs")),
    "signs": (tr("Game"), tr("What is shown on the screen differs")),
    "comes_on": (tr("Game"), tr("When it comes on by itself differs")),
    "pads": (tr("Feel"), tr("What single pads have for themselves differs")),
}


# Path in a profile: part, id, and so on; a nested path begins with the outer one.
Place = tuple[str, ...]


@dataclass(frozen=True)
class Difference:
    """One difference.

    Attributes:
        place: path in the profile.
        head: heading: "Moves", a layer, "Feel".
        text: description, such as "South: Leap → Nothing", from the one profile to the other.
        copy_over: edit that makes the one profile equal to the other at this path.
    """

    place: Place
    head: str
    text: str
    copy_over: Callable[[Profile], Profile]


def differences(one: Profile, other: Profile, layout: Layout) -> list[Difference]:
    """Returns all differences from one profile to another, in the order of a profile's parts."""
    return [
        *_titles(one, other),
        *_moves(one, other),
        *_layers(one, other, layout),
        *_parts(one, other),
        *_orders(one, other),
        *_settings(one, other),
    ]


def overlap(one: Place, other: Place) -> bool:
    """Returns whether two paths are equal, or one contains the other."""
    return all(mine == theirs for mine, theirs in zip(one, other, strict=False))


def _titles(one: Profile, other: Profile) -> Iterator[Difference]:
    if one.title != other.title:
        titled = partial(transfer.copy_field, other=other, name="title")
        yield Difference(("title",), tr("Title"), f"{one.title} → {other.title}", titled)


def _moves(one: Profile, other: Profile) -> Iterator[Difference]:
    mine, theirs = ({move.id: move for move in side.moves} for side in (one, other))
    for move_id in dict.fromkeys([*mine, *theirs]):
        here, there = mine.get(move_id), theirs.get(move_id)
        if here == there:
            continue
        label = (here or there or one.moves[0]).label
        both = here is not None and there is not None
        what = tr("another key, name or group") if both else _only(there is not None)
        copy_over = partial(transfer.copy_move, other=other, move_id=move_id)
        yield Difference(("moves", move_id), tr("Moves"), f"{label}: {what}", copy_over)


def _layers(one: Profile, other: Profile, layout: Layout) -> Iterator[Difference]:
    for layer_id in dict.fromkeys([*(layer.id for layer in one.layers), *(layer.id for layer in other.layers)]):
        here, there = one.layer(layer_id), other.layer(layer_id)
        head = layer_words((here or there or one.layers[0]).label)
        if here is None or there is None:
            copy_over = partial(transfer.copy_layer, other=other, layer_id=layer_id)
            yield Difference(("layers", layer_id), head, _only(there is not None), copy_over)
        else:
            yield from _in_layer(head, one, here, other, there, layout)


def _in_layer(
    head: str, one: Profile, here: Layer, other: Profile, there: Layer, layout: Layout
) -> Iterator[Difference]:
    for slot in dict.fromkeys([*here.slots, *there.slots]):
        mine, theirs = here.slots.get(slot), there.slots.get(slot)
        if mine != theirs:
            before, after = slot_words(one, slot, mine, layout), slot_words(other, slot, theirs, layout)
            words = f"{before} → {after}" if before != after else tr("{before}, set differently", before=before)
            text = f"{slot_label(slot)}: {words}"
            copy_over = partial(transfer.copy_slot, other=other, layer_id=here.id, slot=slot)
            yield Difference(("layers", here.id, "slots", *slot.split(".")), head, text, copy_over)
    for name, label in LAYER_SETTINGS.items():
        if getattr(here, name) != getattr(there, name):
            copy_over = partial(transfer.copy_layer_setting, other=other, layer_id=here.id, name=name)
            yield Difference(("layers", here.id, name), head, tr("{label} differs", label=label), copy_over)


def _parts(one: Profile, other: Profile) -> Iterator[Difference]:
    for kind in transfer.PARTS:
        named = [*getattr(one, kind.value), *getattr(other, kind.value)]
        for reference in dict.fromkeys(Reference(kind, part.id) for part in named):
            here, there = find(one, reference), find(other, reference)
            if here != there:
                what = tr("differs") if here is not None and there is not None else _only(there is not None)
                copy_over = partial(transfer.copy_shared_part, other=other, reference=reference)
                label = label_of(one if here is not None else other, reference)
                yield Difference((kind.value, reference.id), KIND_WORDS[kind], f"{label}: {what}", copy_over)


def _orders(one: Profile, other: Profile) -> Iterator[Difference]:
    """Yields a difference if the common parts have another order."""
    for kind in (Kind.MOVE, Kind.LAYER, *transfer.PARTS):
        mine, theirs = ([part.id for part in getattr(side, kind.value)] for side in (one, other))
        if [found for found in mine if found in theirs] != [found for found in theirs if found in mine]:
            copy_over = partial(transfer.copy_order, other=other, kind=kind)
            yield Difference(("order", kind.value), KIND_WORDS[kind], tr("Another order"), copy_over)


def _settings(one: Profile, other: Profile) -> Iterator[Difference]:
    for control in fields(one.feel):
        mine, theirs = getattr(one.feel, control.name), getattr(other.feel, control.name)
        for setting in fields(mine):
            here, there = getattr(mine, setting.name), getattr(theirs, setting.name)
            if here != there:
                name = f"{CONTROL_BY_NAME[control.name].label}: {feel_label(control.name, (setting.name,))}"
                plain = all(isinstance(value, int | float | str) for value in (here, there))
                text = f"{name}: {here} → {there}" if plain else tr("{name} differs", name=name)
                copy_over = partial(transfer.copy_setting, other=other, control=control.name, name=setting.name)
                yield Difference(("feel", control.name, setting.name), tr("Feel"), text, copy_over)
    for name, label in GAME_SETTINGS.items():
        if getattr(one.game, name) != getattr(other.game, name):
            yield Difference(
                ("game", name),
                tr("Game"),
                tr("{label} differs", label=label),
                partial(_game_taken, other=other, name=name),
            )
    for name, (head, text) in _FIELDS.items():
        if getattr(one, name) != getattr(other, name):
            copy_over = partial(transfer.copy_field, other=other, name=name)
            yield Difference((name,), head, text, copy_over)


def _game_taken(profile: Profile, other: Profile, name: str) -> Profile:
    return replace(profile, game=replace(profile.game, **{name: getattr(other.game, name)}))


def _only(there: bool) -> str:
    return tr("only in the other one") if there else tr("only in the open one")

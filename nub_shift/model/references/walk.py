"""The one walk over a profile: every action with its origin, references, and changes of all actions at once.

Used by everything that needs all actions of a profile: removing, renaming, coverage, clashes, activation of layers,
comparing and copying.
"""

from __future__ import annotations

from collections.abc import Callable, Iterator
from dataclasses import dataclass
from typing import TypeVar, assert_never

from msgspec.structs import replace

from nub_shift.model.controls import MOTION_SLOT, STICK_SLOTS
from nub_shift.model.profile.actions import Action
from nub_shift.model.profile.effects import ClickWheel, DoMove, PressKeys, Sent, StickUse
from nub_shift.model.profile.listed import Carousel, Ring, RingEntry, Sequence, SequenceStep
from nub_shift.model.profile.profile import Layer, Move, Profile
from nub_shift.model.profile.reactions import Assignment, Reacting, Reaction
from nub_shift.model.references.effect_facts import effect_references, use_references
from nub_shift.model.references.named import Kind, Named, Reference


@dataclass(frozen=True)
class SlotOrigin:
    """A reaction of a slot in a layer."""

    layer: str
    slot: str
    reaction: Reaction


@dataclass(frozen=True)
class PairOrigin:
    """A reaction of several slots of a layer together."""

    layer: str
    slots: tuple[str, ...]
    reaction: Reaction


@dataclass(frozen=True)
class CarouselOrigin:
    """An entry of a carousel, counted from 0."""

    carousel: str
    index: int


@dataclass(frozen=True)
class RingOrigin:
    """An entry of a ring, counted from 0."""

    ring: str
    index: int


@dataclass(frozen=True)
class LayerOrigin:
    """An action of a layer at activation, or deactivation."""

    layer: str
    leaves: bool


Origin = SlotOrigin | PairOrigin | CarouselOrigin | RingOrigin | LayerOrigin


def actions_in(profile: Profile) -> Iterator[tuple[Origin, Action]]:
    """Yields every action of a profile: of its layers from the lowest, then of carousels and rings.

    An action that begins with another is yielded separately, with the same origin.
    """
    for layer in profile.layers:
        yield from layer_actions(layer)
    yield from entry_actions(profile)


def entry_actions(profile: Profile) -> Iterator[tuple[CarouselOrigin | RingOrigin, Action]]:
    """Yields every action of carousels and rings."""
    for carousel in profile.carousels:
        for index, entry in enumerate(carousel.entries):
            yield from ((CarouselOrigin(carousel.id, index), part) for part in entry.parts)
    for ring in profile.rings:
        for index, entry in enumerate(ring.entries):
            yield from ((RingOrigin(ring.id, index), part) for part in entry.parts)


def layer_actions(layer: Layer) -> Iterator[tuple[SlotOrigin | PairOrigin | LayerOrigin, Action]]:
    """Yields every action that a layer itself has."""
    for slot, assignment in layer.slots.items():
        for reaction, action in assignment.reactions.items():
            yield from ((SlotOrigin(layer.id, slot, reaction), part) for part in action.parts)
    for pair in layer.together:
        for reaction, action in pair.reactions.items():
            yield from ((PairOrigin(layer.id, pair.slots, reaction), part) for part in action.parts)
    for leaves, own in ((False, layer.enter), (True, layer.leave)):
        if own is not None:
            yield from ((LayerOrigin(layer.id, leaves), part) for part in own.parts)


_WHOLES = STICK_SLOTS | {MOTION_SLOT}


def uses_in(profile: Profile) -> Iterator[tuple[str, str, StickUse]]:
    """Yields the uses of whole sticks, surfaces and motion: layer id, slot, use."""
    for layer in profile.layers:
        yield from ((layer.id, slot, use) for slot, use in layer_uses(layer))


def layer_uses(layer: Layer) -> Iterator[tuple[str, StickUse]]:
    """Yields the uses in one layer: slot, use."""
    for slot, assignment in layer.slots.items():
        for use in assignment.uses if slot in _WHOLES else ():
            yield slot, use


def reacting_references(reacting: Reacting) -> Iterator[Reference]:
    """Yields the references of an assignment, or of several slots together, in all reactions."""
    for action in reacting.reactions.values():
        yield from action_references(action)
    for use in reacting.uses if isinstance(reacting, Assignment) else ():
        yield from use_references(use)


def action_references(action: Action) -> Iterator[Reference]:
    """Yields the references of an action."""
    for part in action.parts:
        for effect in part.effects:
            yield from effect_references(effect)


def named_references(named: Named) -> Iterator[Reference]:
    """Yields the references of a move, layer, sequence, carousel or ring."""
    match named:
        case Move():
            yield from (Reference(Kind.MOVE, move) for move in named.together)
        case Layer():
            if named.based_on is not None:
                yield Reference(Kind.LAYER, named.based_on)
            for pair in named.together:
                yield from reacting_references(pair)
            for own in (named.enter, named.leave):
                if own is not None:
                    yield from action_references(own)
            for assignment in named.slots.values():
                yield from reacting_references(assignment)
        case Sequence():
            for step in named.steps:
                yield from step_references(step)
        case Carousel() | Ring():
            for entry in named.entries:
                yield from action_references(entry)
        case _:
            assert_never(named)


def step_references(step: SequenceStep) -> Iterator[Reference]:
    """Yields the references of a step of a sequence."""
    if step.move is not None:
        yield Reference(Kind.MOVE, step.move)
    if step.carousel is not None:
        yield Reference(Kind.CAROUSEL, step.carousel.id)


ChangeAction = Callable[[Action], Action | None]
B = TypeVar("B", Action, RingEntry)
R = TypeVar("R", bound=Reacting)


def map_actions(profile: Profile, change: ChangeAction) -> Profile:
    """Returns the profile with every action changed; None removes the action, and its slot or pair if nothing else is
    left.

    `change` gets bare actions, one by one also where several begin together. A removed entry may leave too few entries
    in its carousel or ring; `editing.edits.removal` handles that.
    """
    layers = []
    for layer in profile.layers:
        slots = {slot: map_reacting(assignment, change) for slot, assignment in layer.slots.items()}
        pairs = tuple(made for pair in layer.together if (made := map_reacting(pair, change)) is not None)
        kept = {slot: assignment for slot, assignment in slots.items() if assignment is not None}
        own = {
            name: _changed_whole(action, change) if (action := getattr(layer, name)) is not None else None
            for name in ("enter", "leave")
        }
        layers.append(replace(layer, slots=kept, together=pairs, **own))
    carousels = tuple(replace(it, entries=_changed_all(it.entries, change)) for it in profile.carousels)
    rings = tuple(replace(it, entries=_changed_all(it.entries, change)) for it in profile.rings)
    return replace(profile, layers=tuple(layers), carousels=carousels, rings=rings)


def map_reacting(reacting: R, change: ChangeAction) -> R | None:
    """Returns the assignment or pair with every action changed or removed; None if nothing is left."""
    made = reacting
    for reaction, action in reacting.reactions.items():
        if (changed := _changed_whole(action, change)) != action.bare:
            made = made.with_reaction(reaction, changed)
    return made if made.reactions or (isinstance(made, Assignment) and made.uses) else None


def _changed_all(actions: tuple[B, ...], change: ChangeAction) -> tuple[B, ...]:
    return tuple(made for action in actions if (made := _changed(action, change)) is not None)


def _changed_whole(action: Action, change: ChangeAction) -> Action | None:
    """Returns the action with all that begins with it changed; the rest if the first action is removed."""
    made = [found for part in action.parts if (found := change(part.bare)) is not None]
    return replace(made[0], also=tuple(made[1:])) if made else None


def _changed(action: B, change: ChangeAction) -> B | None:
    changed = _changed_whole(action, change)
    return replace(action, **changed.own_fields) if changed is not None else None


def sent_input(profile: Profile, action: Action) -> Sent | None:
    """Returns the keys held by an action, its wheel click or its text, also through its move; None for other
    effects.
    """
    match action.effect:
        case DoMove(move_id):
            move = profile.move(move_id)
            return move.sent if move is not None else None
        case PressKeys() | ClickWheel() as sent:
            return sent
        case _:
            return None


def sent_keys(profile: Profile, action: Action) -> tuple[str, ...]:
    """Returns the keys held by an action, also through its move; empty for other effects."""
    sent = sent_input(profile, action)
    return sent.keys if isinstance(sent, PressKeys) else ()

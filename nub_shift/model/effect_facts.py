"""What the model knows of each effect, and of each use of a whole stick: what it refers to, its manners, its faults."""

from __future__ import annotations

from collections.abc import Iterator
from typing import assert_never

from nub_shift.model.actions import Manner
from nub_shift.model.checks.name_checks import doubles, known_keys, known_name, suggestion
from nub_shift.model.effects import (
    AskForProfile,
    CarouselStep,
    ChangePace,
    ChooseFromRing,
    ClickWheel,
    DoMove,
    Drag,
    Effect,
    Glide,
    HoldLayer,
    NextLayer,
    Nudge,
    PlaySequence,
    PointerPosition,
    PointerSpeed,
    PressKeys,
    Scroll,
    Silence,
    StayOnLayer,
    StickUse,
    SwitchMotion,
    Turn,
)
from nub_shift.model.named import Kind, Reference
from nub_shift.model.problems import Problem
from nub_shift.model.profile import Profile

_ALL_MANNERS = frozenset(Manner)
_PLAIN = frozenset((Manner.HELD, Manner.ONCE))
_SWITCHED = _PLAIN | {Manner.TOGGLE}
_REPEATED = _PLAIN | {Manner.TURBO}


def manners_of(effect: Effect) -> frozenset[Manner]:
    """The manners in which an effect can be kept up.

    What is done with at its beginning has nothing in it to keep up; turbo can do it again and again where that makes
    sense.
    """
    match effect:
        case DoMove() | PressKeys():
            return _ALL_MANNERS
        case HoldLayer() | SwitchMotion() | ChangePace() | Scroll() | Glide():
            return _SWITCHED
        case ClickWheel() | Nudge() | CarouselStep():
            return _REPEATED
        case PlaySequence() | StayOnLayer() | NextLayer() | AskForProfile() | Silence():
            return _PLAIN
        case _:
            assert_never(effect)


def effect_references(effect: Effect) -> tuple[Reference, ...]:
    """What an effect refers to by id."""
    match effect:
        case DoMove(move):
            return (Reference(Kind.MOVE, move),)
        case PlaySequence(sequence):
            return (Reference(Kind.SEQUENCE, sequence),)
        case CarouselStep(carousel):
            return (Reference(Kind.CAROUSEL, carousel),)
        case HoldLayer(layer) | StayOnLayer(layer):
            return (Reference(Kind.LAYER, layer),)
        case NextLayer(layers):
            return tuple(Reference(Kind.LAYER, layer) for layer in layers)
        case PressKeys() | ClickWheel() | Scroll() | Glide() | Nudge() | Silence():
            return ()
        case SwitchMotion() | ChangePace() | AskForProfile():
            return ()
        case _:
            assert_never(effect)


def use_references(use: StickUse) -> tuple[Reference, ...]:
    """What the use of a whole stick refers to by id."""
    match use:
        case ChooseFromRing(ring):
            return (Reference(Kind.RING, ring),)
        case PointerSpeed() | PointerPosition() | Scroll() | Drag() | Turn():
            return ()
        case _:
            assert_never(use)


def looks_about(use: StickUse) -> bool:
    """Whether the use of a whole stick moves the pointer, as looking about needs it."""
    match use:
        case PointerSpeed() | PointerPosition() | Drag() | Turn():
            return True
        case Scroll() | ChooseFromRing():
            return False
        case _:
            assert_never(use)


def effect_problems(path: str, effect: Effect, profile: Profile) -> Iterator[Problem]:
    """What an effect names and there is not, or names twice; `path` is its action's."""
    layers = [layer.id for layer in profile.layers]
    match effect:
        case DoMove(move_id):
            yield from _move_named(path, move_id, profile)
        case PressKeys(codes):
            yield from known_keys(f"{path}.keys", codes)
        case HoldLayer(layer):
            yield from known_name(f"{path}.layer", "layer to shift to,", layer, layers[1:])
        case StayOnLayer(layer):
            yield from known_name(f"{path}.stay", "layer", layer, layers)
        case NextLayer(wanted):
            for layer in wanted:
                yield from known_name(f"{path}.next", "layer", layer, layers)
            for double in doubles(wanted):
                yield Problem(f"{path}.next", f"{double!r} stands twice", "name each once")
        case PlaySequence(sequence):
            yield from known_name(f"{path}.sequence", "sequence", sequence, [found.id for found in profile.sequences])
        case CarouselStep(carousel):
            yield from known_name(f"{path}.carousel", "carousel", carousel, [found.id for found in profile.carousels])
        case ClickWheel() | Scroll() | Glide() | Nudge() | SwitchMotion() | ChangePace() | AskForProfile() | Silence():
            pass
        case _:
            assert_never(effect)


def use_problems(path: str, use: StickUse, profile: Profile) -> Iterator[Problem]:
    """What the use of a whole stick names and there is not; `path` is its assignment's."""
    match use:
        case ChooseFromRing(ring):
            yield from known_name(f"{path}.ring", "ring", ring, [found.id for found in profile.rings])
        case PointerPosition():
            yield from known_keys(f"{path}.position.hold", use.hold)
        case PointerSpeed() | Scroll() | Drag() | Turn():
            pass
        case _:
            assert_never(use)


def _move_named(path: str, move_id: str, profile: Profile) -> Iterator[Problem]:
    move = profile.move(move_id)
    if move is None:
        known = [move.id for move in profile.moves]
        yield Problem(f"{path}.move", f"there is no move {move_id!r}", suggestion(move_id, known))
    elif move.look:
        yield Problem(f"{path}.move", f"{move_id!r} is looking, not a press", "use pointer on a whole stick")

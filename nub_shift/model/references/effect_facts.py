"""Properties of each effect and each use of a whole stick: references, manners, faults."""

from __future__ import annotations

from collections.abc import Iterator
from typing import assert_never

from nub_shift.model.problems import Problem
from nub_shift.model.profile.actions import TURBOS, Manner
from nub_shift.model.profile.effects import (
    CarouselStep,
    ChangePace,
    ChooseFromRing,
    ClickWheel,
    DoMove,
    Drag,
    Effect,
    Flick,
    Glide,
    HoldLayer,
    MotionSwitch,
    NextLayer,
    Nudge,
    PlacePointer,
    PlaySequence,
    PointerPosition,
    PointerSpeed,
    PressKeys,
    RequestProfile,
    Scroll,
    Silence,
    StayOnLayer,
    StickUse,
    SwitchMotion,
    Tilt,
    Turn,
    TurnBy,
    TypeText,
)
from nub_shift.model.profile.listed import Runs
from nub_shift.model.profile.profile import BASE_LAYER
from nub_shift.model.references.name_checks import duplicates, key_problems, name_problems, suggestion
from nub_shift.model.references.named import Kind, Reference
from nub_shift.model.references.profile_index import ProfileIndex
from nub_shift.translation import tr

_ALL_MANNERS = frozenset(Manner)
_PLAIN = frozenset((Manner.HELD, Manner.ONCE))
_LASTING = frozenset((Manner.HELD, Manner.TOGGLE, Manner.LOCK))
_REPEATED = _PLAIN | TURBOS


def manners_of(effect: Effect, index: ProfileIndex) -> frozenset[Manner]:
    """Returns the possible manners of an effect.

    An effect that ends at once has nothing to keep up, but turbo may repeat it. An effect that only lasts has no
    outcome if it ends at once.
    """
    match effect:
        case DoMove(move) if move in index.moves and isinstance(index.moves[move].sent, TypeText):
            return _PLAIN
        case DoMove() | PressKeys():
            return _ALL_MANNERS
        case SwitchMotion(MotionSwitch.RECENTRE):
            return _PLAIN
        case HoldLayer() | SwitchMotion() | ChangePace() | Scroll() | Glide():
            return _LASTING
        case ClickWheel() | Nudge() | TurnBy() | CarouselStep():
            return _REPEATED
        case PlacePointer(back=True):
            return _LASTING
        case PlaySequence():
            return _PLAIN | {Manner.TOGGLE}
        case PlacePointer() | StayOnLayer() | NextLayer() | RequestProfile() | Silence():
            return _PLAIN
        case _:
            assert_never(effect)


def needs_duration(effect: Effect, index: ProfileIndex) -> bool:
    """Returns whether the effect has an outcome only while it lasts, so that ending at once would be no effect at all.

    Not true of keys, which stay down for the shortest time.
    """
    match effect:
        case HoldLayer() | ChangePace() | Scroll() | Glide():
            return True
        case SwitchMotion(switch):
            return switch is not MotionSwitch.RECENTRE
        case PlaySequence(wanted):
            return wanted in index.sequences and index.sequences[wanted].runs is Runs.WHILE_HELD
        case PlacePointer(back=back):
            return back
        case DoMove() | PressKeys() | ClickWheel() | Nudge() | TurnBy() | CarouselStep() | Silence():
            return False
        case StayOnLayer() | NextLayer() | RequestProfile():
            return False
        case _:
            assert_never(effect)


def effect_references(effect: Effect) -> tuple[Reference, ...]:
    """Returns the references of an effect."""
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
        case PressKeys() | ClickWheel() | Scroll() | Glide() | Nudge() | TurnBy() | PlacePointer() | Silence():
            return ()
        case SwitchMotion() | ChangePace() | RequestProfile():
            return ()
        case _:
            assert_never(effect)


def use_references(use: StickUse) -> tuple[Reference, ...]:
    """Returns the references of the use of a whole stick."""
    match use:
        case ChooseFromRing(ring):
            return (Reference(Kind.RING, ring),)
        case PointerPosition():
            return (Reference(Kind.MOVE, use.hold_move),) if use.hold_move is not None else ()
        case PointerSpeed() | Scroll() | Drag() | Turn() | Tilt() | Flick():
            return ()
        case _:
            assert_never(use)


def moves_pointer(use: StickUse) -> bool:
    """Returns whether the use moves the pointer in order to look around."""
    match use:
        case PointerSpeed() | PointerPosition() | Drag() | Turn() | Tilt() | Flick():
            return True
        case Scroll() | ChooseFromRing():
            return False
        case _:
            assert_never(use)


def effect_problems(path: str, effect: Effect, index: ProfileIndex) -> Iterator[Problem]:
    """Yields names in an effect that do not exist or are repeated; `path` is the path of the action."""
    match effect:
        case DoMove(move_id):
            yield from move_problems(f"{path}.move", move_id, index)
        case PressKeys(codes):
            yield from key_problems(f"{path}.keys", codes)
        case HoldLayer(layer):
            others = index.layers.keys() - {BASE_LAYER} if layer == BASE_LAYER else index.layers
            yield from name_problems(f"{path}.layer", "layer to shift to,", layer, others)
        case StayOnLayer(layer):
            yield from name_problems(f"{path}.stay", "layer", layer, index.layers)
        case NextLayer(wanted):
            for layer in wanted:
                yield from name_problems(f"{path}.next", "layer", layer, index.layers)
            for double in duplicates(wanted):
                yield Problem(f"{path}.next", tr("{double!r} appears twice", double=double), tr("name each once"))
        case PlaySequence(sequence):
            yield from name_problems(f"{path}.sequence", "sequence", sequence, index.sequences)
        case CarouselStep(carousel):
            yield from name_problems(f"{path}.carousel", "carousel", carousel, index.carousels)
        case ClickWheel() | Scroll() | Glide() | Nudge() | TurnBy() | PlacePointer():
            pass
        case SwitchMotion() | ChangePace() | RequestProfile() | Silence():
            pass
        case _:
            assert_never(effect)


def use_problems(path: str, use: StickUse, index: ProfileIndex) -> Iterator[Problem]:
    """Yields names in the use of a whole stick that do not exist; `path` is the path of the assignment."""
    match use:
        case ChooseFromRing(ring):
            yield from name_problems(f"{path}.ring", "ring", ring, index.rings)
        case PointerPosition():
            yield from key_problems(f"{path}.position.hold", use.hold)
            if use.hold_move is not None:
                yield from move_problems(f"{path}.position.hold_move", use.hold_move, index)
                move = index.moves.get(use.hold_move)
                if use.hold or (move is not None and not move.keys):
                    wrong = tr("is beside hold") if use.hold else tr("has no keys that could be held")
                    yield Problem(f"{path}.position.hold_move", wrong, tr("give hold, or a move that has keys"))
        case PointerSpeed() | Scroll() | Drag() | Turn() | Tilt() | Flick():
            pass
        case _:
            assert_never(use)


def move_problems(path: str, move_id: str, index: ProfileIndex) -> Iterator[Problem]:
    """Yields a fault unless the move exists and can be pressed."""
    move = index.moves.get(move_id)
    if move is None:
        yield Problem(path, tr("there is no move {move_id!r}", move_id=move_id), suggestion(move_id, index.moves))
    elif move.look:
        yield Problem(
            path, tr("{move_id!r} is looking, not a press", move_id=move_id), tr("use pointer on a whole stick")
        )

"""Checks of sequences, carousels and rings."""

from __future__ import annotations

from collections.abc import Iterator

from nub_shift.keyboard.layout import LayoutSource
from nub_shift.model.checks.action_checks import (
    action_problems,
    changes_layers,
    count_fault,
    instant_problems,
    steps_carousel,
)
from nub_shift.model.problems import Problem
from nub_shift.model.profile.effects import PlaySequence, PressKeys
from nub_shift.model.profile.listed import Carousel, Confirm, Ring, Sequence, SequenceStep, StepAct
from nub_shift.model.profile.profile import Move
from nub_shift.model.references.name_checks import key_problems, name_problems, suggestion, typing_problems
from nub_shift.model.references.profile_index import ProfileIndex
from nub_shift.translation import tr

_STEP_NAMES = ("press", "release", "tap", "hold", "move", "wheel", "nudge", "carousel", "wait_ms", "text")


def sequence_problems(index: ProfileIndex, layout: LayoutSource) -> Iterator[Problem]:
    """Yields the faults of all sequences of a profile."""
    carousels = {name: list(_not_to_be_stepped(carousel, index)) for name, carousel in index.carousels.items()}
    for sequence in index.profile.sequences:
        yield from _sequence(sequence, index.moves, carousels, layout)


def _sequence(
    sequence: Sequence, moves: dict[str, Move], carousels: dict[str, list[str]], layout: LayoutSource
) -> Iterator[Problem]:
    for number, step in enumerate(sequence.steps):
        path = f"sequences.{sequence.id}.steps[{number}]"
        given = [name for name in _STEP_NAMES if getattr(step, name) not in (None, (), "")]
        if len(given) != 1:
            yield Problem(path, count_fault(given), tr("give exactly one of {names}", names=", ".join(_STEP_NAMES)))
        for codes in (step.press, step.release, step.tap, step.hold):
            yield from key_problems(path, codes)
        yield from _move(path, step, moves)
        if step.carousel is not None:
            yield from name_problems(f"{path}.carousel", "carousel", step.carousel.id, carousels)
            for wrong in carousels.get(step.carousel.id, ()):
                yield Problem(f"{path}.carousel", wrong, tr("step it from a slot"))
        yield from typing_problems(f"{path}.text", step.text, layout)


def _move(path: str, step: SequenceStep, moves: dict[str, Move]) -> Iterator[Problem]:
    if step.move is None:
        if step.act is not StepAct.TAP:
            yield Problem(
                f"{path}.act", tr("says nothing without a move"), tr("use {act} = [keys]", act=step.act.value)
            )
        return
    move = moves.get(step.move)
    if move is None:
        yield Problem(f"{path}.move", tr("there is no move {move!r}", move=step.move), suggestion(step.move, moves))
    elif move.look:
        yield Problem(f"{path}.move", tr("{move!r} is looking, not a press", move=step.move), tr("use nudge"))
    elif not isinstance(move.sent, PressKeys) and step.act is not StepAct.TAP:
        wrong = (
            tr("{move!r} is a text, which cannot be held", move=step.move)
            if move.text
            else tr("{move!r} is a click of the wheel, which cannot be held", move=step.move)
        )
        yield Problem(f"{path}.act", wrong, tr("leave act out"))


def _not_to_be_stepped(carousel: Carousel, index: ProfileIndex) -> Iterator[str]:
    """Yields why a sequence cannot step a carousel."""
    if any(changes_layers(entry, index) for entry in carousel.entries if not steps_carousel(entry)):
        yield tr("has a layer, which no sequence can bring on")
    if any(isinstance(part.effect, PlaySequence) for entry in carousel.entries for part in entry.parts):
        yield tr("has a sequence, which no other can play")


def carousel_problems(carousel: Carousel, index: ProfileIndex) -> Iterator[Problem]:
    """Yields the faults of a carousel's entries."""
    for number, entry in enumerate(carousel.entries):
        path = f"carousels.{carousel.id}.entries[{number}]"
        if steps_carousel(entry):
            yield Problem(path, tr("a carousel steps a carousel"), tr("give it keys, a move or another effect"))
        else:
            yield from action_problems(path, entry, index)


def ring_problems(ring: Ring, index: ProfileIndex) -> Iterator[Problem]:
    """Yields the faults of a ring's entries."""
    for number, entry in enumerate(ring.entries):
        path = f"rings.{ring.id}.entries[{number}]"
        yield from action_problems(path, entry, index)
        if ring.confirm in (Confirm.RELEASE, Confirm.LET_GO):
            yield from instant_problems(
                path, tr("a ring that is confirmed by {confirm}", confirm=ring.confirm.value), entry, index
            )

"""First steps of a newcomer in the order of work, and their completion."""

from __future__ import annotations

from collections.abc import Collection, Mapping
from dataclasses import dataclass
from enum import Enum

from nub_shift.model.profile.feel import Feel
from nub_shift.model.profile.profile import Profile

# Number of assigned moves that completes the step, however many there are.
ENOUGH_MOVES = 5


class Step(Enum):
    """Steps in the order of work."""

    PAD = "pad"
    MOVES = "moves"
    ASSIGN = "assign"
    FEEL = "feel"
    TRY = "try"
    PLAY = "play"
    COMES_ON = "comes_on"


@dataclass(frozen=True)
class Seen:
    """Observed events that no file records.

    Attributes:
        pad: a pad was connected.
        tried: a control was pressed in station Try.
        played: outputs went to a game.
    """

    pad: bool = False
    tried: bool = False
    played: bool = False


def steps_done(profile: Profile, coverage: Mapping[str, Collection[object]], seen: Seen) -> frozenset[Step]:
    """Returns the completed steps; `coverage` has the assignments of each move."""
    assigned = sum(bool(places) for places in coverage.values())
    found = {
        Step.PAD: seen.pad,
        Step.MOVES: bool(profile.moves),
        Step.ASSIGN: bool(profile.moves) and assigned >= min(len(profile.moves), ENOUGH_MOVES),
        Step.FEEL: profile.feel != Feel() or any(profile.pads),
        Step.TRY: seen.tried,
        Step.PLAY: seen.played,
        Step.COMES_ON: bool(profile.comes_on.rules),
    }
    return frozenset(step for step, is_done in found.items() if is_done)

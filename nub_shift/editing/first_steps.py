"""What a newcomer does first, in the order of work, and which of it is done."""

from __future__ import annotations

from collections.abc import Collection, Mapping
from dataclasses import dataclass
from enum import Enum

from nub_shift.model.profile.feel import Feel
from nub_shift.model.profile.profile import Profile

# So many moves that have a control are a beginning, however many are still to come.
ENOUGH_MOVES = 5


class Step(Enum):
    """In the order of work."""

    PAD = "pad"
    MOVES = "moves"
    ASSIGN = "assign"
    FEEL = "feel"
    TRY = "try"
    PLAY = "play"
    COMES_ON = "comes_on"


@dataclass(frozen=True)
class Seen:
    """Events that were seen and that no file records.

    Attributes:
        pad: a pad was there.
        tried: something was pressed in station Try.
        played: outputs went to a game.
    """

    pad: bool = False
    tried: bool = False
    played: bool = False


def steps_done(profile: Profile, coverage: Mapping[str, Collection[object]], seen: Seen) -> frozenset[Step]:
    """The steps that are done; `coverage` says by move where it is assigned."""
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

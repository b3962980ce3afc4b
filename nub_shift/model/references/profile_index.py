"""A profile with its parts by their ids, for whoever asks for many of them: a list would be gone through each time."""

from __future__ import annotations

from collections.abc import Iterable
from dataclasses import dataclass
from typing import TypeVar

from nub_shift.model.profile.listed import Carousel, Ring, Sequence
from nub_shift.model.profile.profile import Layer, Move, Profile

N = TypeVar("N", Move, Layer, Sequence, Carousel, Ring)


@dataclass(frozen=True)
class ProfileIndex:
    """Made once for a profile. Where an id stands twice, the first one counts; that is a fault of its own."""

    profile: Profile
    moves: dict[str, Move]
    layers: dict[str, Layer]
    sequences: dict[str, Sequence]
    carousels: dict[str, Carousel]
    rings: dict[str, Ring]

    @classmethod
    def of(cls, profile: Profile) -> ProfileIndex:
        """The index of a profile."""
        return cls(
            profile,
            _by_id(profile.moves),
            _by_id(profile.layers),
            _by_id(profile.sequences),
            _by_id(profile.carousels),
            _by_id(profile.rings),
        )


def _by_id(parts: Iterable[N]) -> dict[str, N]:
    found: dict[str, N] = {}
    for part in parts:
        found.setdefault(part.id, part)
    return found

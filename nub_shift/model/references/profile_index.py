"""Index of a profile's parts by id, for repeated look-ups."""

from __future__ import annotations

from collections.abc import Iterable
from dataclasses import dataclass
from typing import TypeVar

from nub_shift.model.profile.listed import Carousel, Ring, Sequence
from nub_shift.model.profile.profile import Layer, Move, Profile

N = TypeVar("N", Move, Layer, Sequence, Carousel, Ring)


@dataclass(frozen=True)
class ProfileIndex:
    """Parts of a profile by id. Of repeated ids, which are a fault, the first counts."""

    profile: Profile
    moves: dict[str, Move]
    layers: dict[str, Layer]
    sequences: dict[str, Sequence]
    carousels: dict[str, Carousel]
    rings: dict[str, Ring]

    @classmethod
    def of(cls, profile: Profile) -> ProfileIndex:
        """Builds the index of a profile."""
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

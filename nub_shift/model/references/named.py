"""Parts of a profile that have an id."""

from __future__ import annotations

from dataclasses import dataclass
from enum import Enum

from nub_shift.model.profile.listed import Carousel, Ring, Sequence
from nub_shift.model.profile.profile import Layer, Move, Profile


class Kind(Enum):
    """Kinds of parts of a profile that have an id; the value is the profile's field."""

    MOVE = "moves"
    LAYER = "layers"
    SEQUENCE = "sequences"
    CAROUSEL = "carousels"
    RING = "rings"


Named = Move | Layer | Sequence | Carousel | Ring


@dataclass(frozen=True)
class Reference:
    """Reference to a part of a profile by its id."""

    kind: Kind
    id: str


def find(profile: Profile, reference: Reference) -> Named | None:
    """Returns the part that is referred to, or None."""
    named: tuple[Named, ...] = getattr(profile, reference.kind.value)
    return next((found for found in named if found.id == reference.id), None)


def label_of(profile: Profile, reference: Reference) -> str:
    """Returns the label of a part; the id where no such part exists."""
    found = find(profile, reference)
    return found.label if found is not None else reference.id

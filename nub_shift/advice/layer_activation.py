"""How layers come on: by slots, by two together, by entries of carousels and rings."""

from __future__ import annotations

from collections.abc import Iterable, Iterator
from dataclasses import dataclass

from nub_shift.model.profile.actions import Action, Manner
from nub_shift.model.profile.effects import HoldLayer, NextLayer, StayOnLayer
from nub_shift.model.profile.profile import Profile
from nub_shift.model.references.walk import (
    CarouselOrigin,
    LayerOrigin,
    Origin,
    PairOrigin,
    RingOrigin,
    SlotOrigin,
    actions_in,
)


@dataclass(frozen=True)
class Activation:
    """One way in which a layer comes on.

    Attributes:
        layer: what comes on.
        origin: what does that.
        manner: how it is kept up; None if it comes to stay.
    """

    layer: str
    origin: Origin
    manner: Manner | None

    @property
    def slots(self) -> tuple[str, ...]:
        """Slots that are pressed: one, two together, or none for an entry of a carousel or ring."""
        match self.origin:
            case SlotOrigin(_, slot, _):
                return (slot,)
            case PairOrigin(_, slots):
                return slots
            case CarouselOrigin() | RingOrigin() | LayerOrigin():
                return ()

    @property
    def origin_layer(self) -> str | None:
        """The layer in which its slots do that; None for an entry."""
        match self.origin:
            case SlotOrigin(layer) | PairOrigin(layer) | LayerOrigin(layer):
                return layer
            case CarouselOrigin() | RingOrigin():
                return None

    @property
    def held(self) -> bool:
        """Whether it is on just while its slots are held."""
        return self.manner is Manner.HELD and bool(self.slots)


def layer_activations(profile: Profile) -> Iterator[Activation]:
    """All ways in which layers of a profile come on, layer by layer in which they are."""
    return activations_among(actions_in(profile))


def activations_among(actions: Iterable[tuple[Origin, Action]]) -> Iterator[Activation]:
    """The same, of all actions of a profile that were walked already."""
    for origin, action in actions:
        match action.effect:
            case HoldLayer(layer):
                yield Activation(layer, origin, action.manner)
            case StayOnLayer(layer):
                yield Activation(layer, origin, None)
            case NextLayer(layers):
                for layer in layers:
                    yield Activation(layer, origin, None)
            case _:
                pass

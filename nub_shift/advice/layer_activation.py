"""Activations of layers: by slots, combinations, entries of carousels and rings."""

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
    """One activation of a layer.

    Attributes:
        layer: id of the layer.
        origin: origin of the action.
        manner: manner of the action; None if the layer stays.
    """

    layer: str
    origin: Origin
    manner: Manner | None

    @property
    def slots(self) -> tuple[str, ...]:
        """Pressed slots: one, a combination, or none for an entry of a carousel or ring."""
        match self.origin:
            case SlotOrigin(_, slot, _):
                return (slot,)
            case PairOrigin(_, slots):
                return slots
            case CarouselOrigin() | RingOrigin() | LayerOrigin():
                return ()

    @property
    def origin_layer(self) -> str | None:
        """Layer of the slots; None for an entry."""
        match self.origin:
            case SlotOrigin(layer) | PairOrigin(layer) | LayerOrigin(layer):
                return layer
            case CarouselOrigin() | RingOrigin():
                return None

    @property
    def held(self) -> bool:
        """Whether the layer is active only while the slots are held."""
        return self.manner is Manner.HELD and bool(self.slots)


def layer_activations(profile: Profile) -> Iterator[Activation]:
    """Yields all activations of layers in a profile, by the layer of their slots."""
    return activations_among(actions_in(profile))


def activations_among(actions: Iterable[tuple[Origin, Action]]) -> Iterator[Activation]:
    """Yields the activations among all actions of a profile."""
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

"""How layers come on: by slots, by two together, by entries of carousels and rings."""

from __future__ import annotations

from collections.abc import Iterator
from dataclasses import dataclass

from nub_shift.model.actions import Action, Manner, reactions_of
from nub_shift.model.profile import Profile


@dataclass(frozen=True)
class Activation:
    """One way.

    Attributes:
        layer: what comes on.
        origin: the layer in which the slots do that; empty for an entry of a carousel or ring.
        slots: what is pressed: one slot, two together, or none for an entry.
        reaction: which reaction of the slot; "together" for two, empty for an entry.
        manner: how it is kept up; None if it comes to stay.
    """

    layer: str
    origin: str
    slots: tuple[str, ...]
    reaction: str
    manner: Manner | None

    @property
    def held(self) -> bool:
        """Whether it is on just while its slots are held."""
        return self.manner is Manner.HELD and bool(self.slots)


def layer_activations(profile: Profile) -> Iterator[Activation]:
    """All ways in which layers of a profile come on, layer by layer in which they are."""
    for layer in profile.layers:
        for slot, assignment in layer.slots.items():
            for reaction, does in reactions_of(assignment).items():
                yield from _ways(does, layer.id, (slot,), reaction)
        for pair in layer.together:
            yield from _ways(pair, layer.id, pair.slots, "together")
    for carousel in profile.carousels:
        for entry in carousel.entries:
            yield from _ways(entry, "", (), "")
    for ring in profile.rings:
        for entry in ring.entries:
            yield from _ways(entry, "", (), "")


def _ways(does: Action, origin: str, slots: tuple[str, ...], reaction: str) -> Iterator[Activation]:
    if does.layer is not None:
        yield Activation(does.layer, origin, slots, reaction, does.manner)
    for layer_id in (*((does.stay,) if does.stay is not None else ()), *does.next):
        yield Activation(layer_id, origin, slots, reaction, None)

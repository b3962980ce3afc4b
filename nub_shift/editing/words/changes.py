"""Changes of state during play in words, for people who do not see the screen."""

from __future__ import annotations

from collections.abc import Collection, Iterator
from dataclasses import dataclass

from nub_shift.editing.words.labels import layer_words
from nub_shift.model.controls import slot_label
from nub_shift.model.profile.profile import BASE_LAYER, Profile
from nub_shift.translation import tr


@dataclass(frozen=True)
class Present:
    """State of play.

    Attributes:
        live: whether outputs go to the system.
        layers: ids of active layers.
        toggles: slots with a toggle on.
    """

    live: bool = False
    layers: tuple[str, ...] = (BASE_LAYER,)
    toggles: tuple[str, ...] = ()


def change_words(profile: Profile, before: Present, now: Present) -> str:
    """Returns in words the changes between two states; empty if there is none."""
    labels = {layer.id: layer_words(layer.label) for layer in profile.layers}
    slots = {slot: tr("{slot}: toggle", slot=slot_label(slot)) for slot in {*before.toggles, *now.toggles}}
    words = [] if now.live is before.live else [tr("Live") if now.live else tr("Rehearsal")]
    words += [f"{labels[layer]} {change}" for layer, change in _changes(before.layers, now.layers) if layer in labels]
    words += [f"{slots[slot]} {change}" for slot, change in _changes(before.toggles, now.toggles)]
    return ". ".join(words)


def _changes(before: Collection[str], now: Collection[str]) -> Iterator[tuple[str, str]]:
    yield from ((name, tr("on")) for name in now if name not in before)
    yield from ((name, tr("off")) for name in before if name not in now)

"""Coverage of the game's moves by a profile."""

from __future__ import annotations

from dataclasses import dataclass
from itertools import chain
from operator import is_

from nub_shift.advice.layer_activation import Activation, activations_among
from nub_shift.model.profile.actions import Action
from nub_shift.model.profile.effects import (
    CarouselStep,
    DoMove,
    PlaySequence,
    PressKeys,
    Sent,
    StickUse,
)
from nub_shift.model.profile.listed import Ring
from nub_shift.model.profile.profile import Layer, Move, Profile
from nub_shift.model.references.effect_facts import moves_pointer, use_references
from nub_shift.model.references.named import find
from nub_shift.model.references.walk import (
    LayerOrigin,
    Origin,
    PairOrigin,
    SlotOrigin,
    layer_actions,
    layer_uses,
    sent_input,
)


def move_coverage(profile: Profile) -> dict[str, list[tuple[str, str]]]:
    """Returns the (layer id, slot) pairs that start each move, without repetition; of a combination the first slot.

    For repeated calls use a `Coverage`.
    """
    return Coverage().of(profile)


@dataclass(frozen=True)
class _LayerStarts:
    """Moves and layers started by one layer.

    Attributes:
        layer: the layer, stored so that its id() stays its own.
        actions: moves started by each action.
        activations: layers that it activates.
        uses: moves reached by each whole stick, surface or motion.
    """

    layer: Layer
    actions: list[tuple[Origin, list[str]]]
    activations: list[Activation]
    uses: list[tuple[str, list[str]]]


class Coverage:
    """Computes coverage of profiles that differ in little, reusing results of unchanged layers.

    A layer counts as unchanged while everything that layers refer to is unchanged too.
    """

    def __init__(self) -> None:
        self._shared: tuple[object, ...] = ()
        self._known: dict[int, _LayerStarts] = {}

    def of(self, profile: Profile) -> dict[str, list[tuple[str, str]]]:
        """Returns the same as `move_coverage`."""
        shared = (profile.moves, profile.sequences, profile.carousels, profile.rings)
        same = len(self._shared) == len(shared) and all(map(is_, shared, self._shared))
        known = self._known if same else {}
        expected = _Expected(profile)
        layers = [known.get(id(layer)) or _layer_starts(layer, profile, expected) for layer in profile.layers]
        self._shared, self._known = shared, {id(found.layer): found for found in layers}
        found: dict[str, dict[tuple[str, str], None]] = {}
        ways: dict[str, list[tuple[str, str]]] = {}  # activations of each layer
        for activation in chain.from_iterable(layer.activations for layer in layers):
            if activation.origin_layer is not None and activation.slots:
                ways.setdefault(activation.layer, []).append((activation.origin_layer, activation.slots[0]))
        for origin, moves in chain.from_iterable(layer.actions for layer in layers):
            match origin:
                case SlotOrigin(layer, slot, _) | PairOrigin(layer, (slot, *_)):
                    places = [(layer, slot)]
                case LayerOrigin(layer):
                    places = ways.get(layer, [])
                case _:
                    places = []  # entries count where a slot steps their carousel or opens their ring
            for move_id in moves:
                found.setdefault(move_id, {}).update(dict.fromkeys(places))
        for starts in layers:
            for slot, moves in starts.uses:
                for move_id in moves:
                    found.setdefault(move_id, {})[starts.layer.id, slot] = None
        return {move_id: list(slots) for move_id, slots in found.items() if slots}


def _layer_starts(layer: Layer, profile: Profile, expected: _Expected) -> _LayerStarts:
    actions = list(layer_actions(layer))
    uses = [(slot, _reached_by(use, profile, expected)) for slot, use in layer_uses(layer)]
    started = [(origin, expected.started(action)) for origin, action in actions]
    return _LayerStarts(layer, [one for one in started if one[1]], list(activations_among(actions)), uses)


def _reached_by(use: StickUse, profile: Profile, expected: _Expected) -> list[str]:
    """Returns the moves reached by a whole stick, a surface or turning the pad."""
    found = [move.id for move in profile.moves if move.look] if moves_pointer(use) else []
    for reference in use_references(use):
        ring = find(profile, reference)
        if isinstance(ring, Move):
            found.append(ring.id)
        if isinstance(ring, Ring):
            found += [move for entry in ring.entries for move in expected.started(entry)]
    return found


class _Expected:
    """Moves started by an action: by name, by equal input, or as entries of a carousel."""

    def __init__(self, profile: Profile) -> None:
        self._profile = profile
        self._by_input: dict[object, list[str]] = {}
        self._carousels = {carousel.id: carousel.entries for carousel in profile.carousels}
        self._sequences = {sequence.id: sequence.steps for sequence in profile.sequences}
        for move in profile.moves:
            if move.sent is not None:
                self._by_input.setdefault(_in_any_order(move.sent), []).append(move.id)

    def started(self, action: Action) -> list[str]:
        """Returns ids of the started moves."""
        effect = action.effect
        if isinstance(effect, CarouselStep):
            return [move for entry in self._carousels.get(effect.id, ()) for move in self.started(entry)]
        if isinstance(effect, PlaySequence):
            return [step.move for step in self._sequences.get(effect.sequence, ()) if step.move is not None]
        if isinstance(effect, DoMove):
            return [effect.move]
        sent = sent_input(self._profile, action)
        return self._by_input.get(_in_any_order(sent), []) if sent is not None else []


def _in_any_order(sent: Sent) -> object:
    """Returns an order-independent value of keys."""
    return frozenset(sent.keys) if isinstance(sent, PressKeys) else sent

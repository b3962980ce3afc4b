"""Which moves of the game a profile reaches, and from where."""

from __future__ import annotations

from nub_shift.advice.layer_activation import activations_among
from nub_shift.model.actions import Action
from nub_shift.model.effect_facts import looks_about, use_references
from nub_shift.model.effects import (
    CarouselStep,
    DoMove,
    PlaySequence,
    StickUse,
)
from nub_shift.model.listed import Ring
from nub_shift.model.named import find
from nub_shift.model.profile import Move, Profile
from nub_shift.model.walk import LayerOrigin, LayerWalk, PairOrigin, SlotOrigin, sent_input, uses_in


def move_coverage(profile: Profile, walk: LayerWalk | None = None) -> dict[str, list[tuple[str, str]]]:
    """For each move that some slot starts: the (layer id, slot) pairs, each once; of two slots together the first.

    Whoever asks again and again keeps a `walk`.
    """
    actions = list((walk or LayerWalk()).actions_in(profile))
    found: dict[str, dict[tuple[str, str], None]] = {}
    expected = _Expected(profile)
    ways: dict[str, list[tuple[str, str]]] = {}  # what brings each layer on
    for activation in activations_among(actions):
        if activation.origin_layer is not None and activation.slots:
            ways.setdefault(activation.layer, []).append((activation.origin_layer, activation.slots[0]))
    for origin, action in actions:
        match origin:
            case SlotOrigin(layer, slot, _) | PairOrigin(layer, (slot, *_)):
                for move_id in expected.started(action):
                    found.setdefault(move_id, {})[layer, slot] = None
            case LayerOrigin(layer):
                for way in ways.get(layer, ()):
                    for move_id in expected.started(action):
                        found.setdefault(move_id, {})[way] = None
            case _:
                pass  # entries count where a slot steps or opens what they are in
    for layer, slot, use in uses_in(profile):
        for move_id in _reached_by(use, profile, expected):
            found.setdefault(move_id, {})[layer, slot] = None
    return {move_id: list(slots) for move_id, slots in found.items()}


def _reached_by(use: StickUse, profile: Profile, expected: _Expected) -> list[str]:
    """The moves that a whole stick, a surface or turning the pad reaches."""
    found = [move.id for move in profile.moves if move.look] if looks_about(use) else []
    for reference in use_references(use):
        ring = find(profile, reference)
        if isinstance(ring, Move):
            found.append(ring.id)
        if isinstance(ring, Ring):
            found += [move for entry in ring.entries for move in expected.started(entry)]
    return found


class _Expected:
    """Which moves an action starts: by name, by sending just what they expect, or as entries of a carousel."""

    def __init__(self, profile: Profile) -> None:
        self._profile = profile
        self._by_input: dict[object, list[str]] = {}
        self._carousels = {carousel.id: carousel.entries for carousel in profile.carousels}
        self._sequences = {sequence.id: sequence.steps for sequence in profile.sequences}
        for move in profile.moves:
            for sent in (frozenset(move.keys), move.wheel):
                if sent:
                    self._by_input.setdefault(sent, []).append(move.id)

    def started(self, action: Action) -> list[str]:
        """Ids of the moves."""
        effect = action.effect
        if isinstance(effect, CarouselStep):
            return [move for entry in self._carousels.get(effect.id, ()) for move in self.started(entry)]
        if isinstance(effect, PlaySequence):
            return [step.move for step in self._sequences.get(effect.sequence, ()) if step.move is not None]
        if isinstance(effect, DoMove):
            return [effect.move]
        keys, click = sent_input(self._profile, action)
        return self._by_input.get(frozenset(keys) if keys else click.direction if click is not None else None, [])

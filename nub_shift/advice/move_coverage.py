"""Which moves of the game a profile reaches, and from where."""

from __future__ import annotations

from nub_shift.model.actions import Action, reactions_of
from nub_shift.model.profile import Profile


def move_coverage(profile: Profile) -> dict[str, list[tuple[str, str]]]:
    """For each move that some slot starts: the (layer id, slot) pairs."""
    found: dict[str, list[tuple[str, str]]] = {}
    expected = _Expected(profile)
    for layer in profile.layers:
        places: list[tuple[str, list[Action]]] = [(pair.slots[0], [pair]) for pair in layer.together]
        for slot, assignment in layer.slots.items():
            actions = list(reactions_of(assignment).values())
            actions += [entry for ring in profile.rings if ring.id == assignment.ring for entry in ring.entries]
            places.append((slot, actions))
            if any((assignment.pointer, assignment.position, assignment.turn, assignment.drag)):
                for move in profile.moves:
                    if move.look:
                        found.setdefault(move.id, []).append((layer.id, slot))
        for slot, actions in places:
            for move_id in dict.fromkeys(move for action in actions for move in expected.started(action)):
                found.setdefault(move_id, []).append((layer.id, slot))
    return found


class _Expected:
    """Which moves an action starts: by name, by sending just what they expect, or as entries of a carousel."""

    def __init__(self, profile: Profile) -> None:
        self._by_input: dict[object, list[str]] = {}
        self._carousels = {carousel.id: carousel.entries for carousel in profile.carousels}
        for move in profile.moves:
            for sent in (frozenset(move.keys), move.wheel):
                if sent:
                    self._by_input.setdefault(sent, []).append(move.id)

    def started(self, action: Action) -> list[str]:
        """Ids of the moves."""
        if action.carousel is not None:
            entries = self._carousels.get(action.carousel.id, ())
            return [move for entry in entries for move in self.started(entry)]
        if action.move is not None:
            return [action.move]
        return self._by_input.get(frozenset(action.keys) if action.keys else action.wheel, [])

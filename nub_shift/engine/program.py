"""A profile compiled into tables, once, so that a step costs the same however large the profile is."""

from __future__ import annotations

from nub_shift.engine.effects import Effect, KeysEffect, LayerEffect, Silence, wheel_effect
from nub_shift.model.keys import modifiers_first
from nub_shift.model.profile import Assignment, PointerSpeed, Profile

# Few stacks of layers occur in play; the bound only guards against a profile that makes many.
MAX_SHEETS = 512


class Sheet:
    """What every slot does while one stack of layers is on.

    Attributes:
        effects: slot to effect, for slots that are pressed.
        pointers: stick to pointer speed, for sticks that move the pointer.
        shifts: the slots that bring a layer on.
    """

    def __init__(self, effects: dict[str, Effect], pointers: dict[str, PointerSpeed]) -> None:
        self.effects = effects
        self.pointers = pointers
        self.shifts = frozenset(slot for slot, effect in effects.items() if isinstance(effect, LayerEffect))


class Program:
    """A compiled profile."""

    def __init__(self, profile: Profile) -> None:
        self.profile = profile
        self.layer_ids = tuple(layer.id for layer in profile.layers)
        self._moves = {move.id: move for move in profile.moves}
        self._layers: list[dict[str, Effect | PointerSpeed]] = [
            {slot: self._compiled(assignment) for slot, assignment in layer.slots.items()} for layer in profile.layers
        ]
        self._sheets: dict[tuple[int, ...], Sheet] = {}

    def sheet(self, stack: tuple[int, ...]) -> Sheet:
        """The sheet for the base layer with `stack` (layer indexes, the topmost last) over it."""
        found = self._sheets.get(stack)
        if found is None:
            if len(self._sheets) >= MAX_SHEETS:
                self._sheets.clear()
            found = self._sheets[stack] = self._laid_over(stack)
        return found

    def _laid_over(self, stack: tuple[int, ...]) -> Sheet:
        merged = dict(self._layers[0])
        for layer in stack:
            merged.update(self._layers[layer])
        effects = {slot: item for slot, item in merged.items() if not isinstance(item, PointerSpeed)}
        pointers = {slot: item for slot, item in merged.items() if isinstance(item, PointerSpeed)}
        return Sheet(effects, pointers)

    def _compiled(self, assignment: Assignment) -> Effect | PointerSpeed:
        if assignment.move is not None:
            move = self._moves[assignment.move]
            return wheel_effect(move.wheel) if move.wheel is not None else KeysEffect(modifiers_first(move.keys))
        if assignment.keys:
            return KeysEffect(modifiers_first(assignment.keys))
        if assignment.wheel is not None:
            return wheel_effect(assignment.wheel)
        if assignment.pointer is not None:
            return assignment.pointer
        if assignment.layer is not None:
            return LayerEffect(self.layer_ids.index(assignment.layer))
        return Silence()

"""Carousels: lists of effects with one position shared by several slots."""

from __future__ import annotations

from dataclasses import dataclass

from nub_shift.engine.effect_context import CarouselPosition, Effect, EffectContext, Run, Slot
from nub_shift.engine.effects.plain import Momentary
from nub_shift.model.profile.effects import Step


@dataclass(frozen=True, eq=False)
class CarouselWheel:
    """Compiled carousel. The position is kept in `EffectContext.positions`, through pauses and profile changes.

    Without a step for `rest_us` (0: never) the position returns to the first entry; the next access computes this.
    """

    id: str
    entries: tuple[Effect, ...]
    wrap: bool
    rest_us: int

    def index(self, context: EffectContext, t_us: int) -> int:
        """Returns the index of the current entry, 0 initially and after a rest. An edit may have left fewer entries."""
        position = context.positions.get(self.id)
        if position is None or (self.rest_us and t_us - position.since_us >= self.rest_us):
            return 0
        return min(position.entry, len(self.entries) - 1)

    def set(self, context: EffectContext, t_us: int, index: int) -> None:
        """Sets the position."""
        context.positions[self.id] = CarouselPosition(index, t_us)


@dataclass(frozen=True, eq=False)
class CarouselEffect(Momentary):
    """Steps a carousel by one per press, and holds the effect of the new entry while the slot is held."""

    wheel: CarouselWheel
    step: Step

    @property
    def can_change_layers(self) -> bool:
        return any(entry.can_change_layers for entry in self.wheel.entries)

    def begin(self, context: EffectContext, t_us: int, slot: Slot) -> Run:
        wheel = self.wheel
        index = wheel.index(context, t_us)
        last = len(wheel.entries) - 1
        match self.step:
            case Step.FORWARD:
                index = index + 1 if index < last else (0 if wheel.wrap else last)
            case Step.BACK:
                index = index - 1 if index > 0 else (last if wheel.wrap else 0)
            case Step.FIRST:
                index = 0
        wheel.set(context, t_us, index)
        return wheel.entries[index].begin(context, t_us, slot)


@dataclass(frozen=True, eq=False)
class CarouselPick(Effect):
    """An effect that is also an entry of carousels; using the effect directly moves the carousels to this entry."""

    effect: Effect
    indexes: tuple[tuple[CarouselWheel, int], ...]

    @property
    def can_change_layers(self) -> bool:
        return self.effect.can_change_layers

    def begin(self, context: EffectContext, t_us: int, slot: Slot) -> Run:
        for wheel, index in self.indexes:
            wheel.set(context, t_us, index)
        return self.effect.begin(context, t_us, slot)

    def resume(self, context: EffectContext, t_us: int, slot: Slot, again: bool) -> Run:
        return self.effect.resume(context, t_us, slot, again) if again else self.begin(context, t_us, slot)

"""Carousels: a list of effects with one position that several slots share."""

from __future__ import annotations

from dataclasses import dataclass

from nub_shift.engine.effect_context import CarouselPosition, Effect, EffectContext, Run, Slot
from nub_shift.engine.effects.plain import Momentary
from nub_shift.model.profile.effects import Step


@dataclass(frozen=True, eq=False)
class CarouselWheel:
    """A compiled carousel. Its position lies in `EffectContext.positions`, where it outlives pauses and other profiles.

    It falls back to the first entry once it has rested for `rest_us` (0: never), which nobody need wake up for.
    """

    id: str
    entries: tuple[Effect, ...]
    wrap: bool
    rest_us: int

    def index(self, context: EffectContext, t_us: int) -> int:
        """Returns the index of the current entry, 0 at first and after a rest. An edit may have left fewer entries."""
        position = context.positions.get(self.id)
        if position is None or (self.rest_us and t_us - position.since_us >= self.rest_us):
            return 0
        return min(position.entry, len(self.entries) - 1)

    def set(self, context: EffectContext, t_us: int, index: int) -> None:
        """Stands at `index` from now on."""
        context.positions[self.id] = CarouselPosition(index, t_us)


@dataclass(frozen=True, eq=False)
class CarouselEffect(Momentary):
    """A step of a carousel, and what the entry there does, for as long as the slot is held. One press is one step."""

    wheel: CarouselWheel
    step: Step

    @property
    def brings_layers(self) -> bool:
        return any(entry.brings_layers for entry in self.wheel.entries)

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
class Pick(Effect):
    """An effect that is an entry of carousels as well: doing it directly moves them there."""

    effect: Effect
    indexes: tuple[tuple[CarouselWheel, int], ...]

    @property
    def brings_layers(self) -> bool:
        return self.effect.brings_layers

    def begin(self, context: EffectContext, t_us: int, slot: Slot) -> Run:
        for wheel, index in self.indexes:
            wheel.set(context, t_us, index)
        return self.effect.begin(context, t_us, slot)

    def resume(self, context: EffectContext, t_us: int, slot: Slot, again: bool) -> Run:
        return self.effect.resume(context, t_us, slot, again) if again else self.begin(context, t_us, slot)

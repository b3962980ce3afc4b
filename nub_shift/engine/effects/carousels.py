"""Carousels: a list of effects with one position that several slots share."""

from __future__ import annotations

from dataclasses import dataclass

from nub_shift.engine.agenda import Timer
from nub_shift.engine.effect_context import Effect, EffectContext, Run, Slot
from nub_shift.model.effects import Step


@dataclass(frozen=True, eq=False)
class CarouselWheel:
    """A compiled carousel. Its position lies in `EffectContext.memory` as a `Position`."""

    entries: tuple[Effect, ...]
    wrap: bool
    rest_us: int

    def index(self, context: EffectContext) -> int:
        """Where it stands; at the first entry to begin with."""
        found = context.memory.get(self)
        return found.index if isinstance(found, Position) else 0

    def set(self, context: EffectContext, t_us: int, index: int) -> None:
        """Stands at `index` now, and after a rest at the first entry again."""
        position: Position = context.memory.setdefault(self, Position())
        position.index = index
        if position.timer is not None:
            position.timer.cancel()
            position.timer = None
        if self.rest_us and index:
            position.timer = context.agenda.at(t_us + self.rest_us, lambda due_us: self.set(context, due_us, 0))


class Position:
    """Where a carousel stands."""

    def __init__(self) -> None:
        self.index = 0
        self.timer: Timer | None = None


@dataclass(frozen=True, eq=False)
class CarouselEffect:
    """A step of a carousel, and what the entry there does, for as long as the slot is held."""

    wheel: CarouselWheel
    step: Step
    owns_slot = True

    def begin(self, context: EffectContext, t_us: int, slot: Slot) -> Run:
        wheel = self.wheel
        index = wheel.index(context)
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
class Pick:
    """An effect that is an entry of carousels as well: doing it directly moves them there."""

    effect: Effect
    indexes: tuple[tuple[CarouselWheel, int], ...]

    @property
    def owns_slot(self) -> bool:
        return self.effect.owns_slot

    def begin(self, context: EffectContext, t_us: int, slot: Slot) -> Run:
        for wheel, index in self.indexes:
            wheel.set(context, t_us, index)
        return self.effect.begin(context, t_us, slot)

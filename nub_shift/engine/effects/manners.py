"""How an effect is kept up: once, toggled, in turbo, in pulses. Each wraps another effect."""

from __future__ import annotations

import logging
from dataclasses import dataclass

from nub_shift.engine.agenda import Timer
from nub_shift.engine.effect_context import Effect, EffectContext, Run, Slot
from nub_shift.engine.effects.plain import NOTHING, fire

log = logging.getLogger("nub_shift.engine")

# A pulse shorter than this would be lost on a game that looks once a frame; one that leaves less is held through.
MIN_PULSE_US = 10_000


@dataclass(frozen=True, eq=False)
class Once:
    """Down and up at the press, however long the slot is held."""

    effect: Effect
    owns_slot = True

    def begin(self, context: EffectContext, t_us: int, slot: Slot) -> Run:
        fire(self.effect, context, t_us, slot)
        return NOTHING


@dataclass(frozen=True, eq=False)
class Toggle:
    """On with one press, off with the next. What is on lies in `EffectContext.memory` as a `ToggleRun`."""

    effect: Effect
    regain: bool
    owns_slot = True

    def begin(self, context: EffectContext, t_us: int, slot: Slot) -> Run:
        run = context.memory.pop(self, None)
        if isinstance(run, ToggleRun):
            run.cut(context, t_us)
        else:
            switch_on(self, context, t_us, slot)
        return NOTHING


class ToggleRun:
    """A toggle that is on."""

    def __init__(self, toggle: Toggle, slot: Slot, inner: Run) -> None:
        self.toggle = toggle
        self.slot = slot
        self._inner = inner

    def end(self, context: EffectContext, t_us: int) -> None:
        """Letting its slot go leaves a toggle on."""

    def cut(self, context: EffectContext, t_us: int) -> None:
        log.debug("%s: toggle on -> off", self.slot.name)
        context.loose.pop(self, None)
        context.memory.pop(self.toggle, None)
        self._inner.cut(context, t_us)


def switch_on(toggle: Toggle, context: EffectContext, t_us: int, slot: Slot) -> None:
    """Turns a toggle on, as a press of it or a regained focus does."""
    log.debug("%s: toggle off -> on", slot.name)
    run = ToggleRun(toggle, slot, toggle.effect.begin(context, t_us, slot))
    context.memory[toggle] = run
    context.loose[run] = None


@dataclass(frozen=True, eq=False)
class Turbo:
    """Down and up again and again, the first time at once, never ending in the middle of a press."""

    effect: Effect
    period_us: int
    down_us: int

    @property
    def owns_slot(self) -> bool:
        return self.effect.owns_slot

    def begin(self, context: EffectContext, t_us: int, slot: Slot) -> Run:
        last = context.memory.pop(self, None)
        if isinstance(last, TurboRun):
            last.cut(context, t_us)  # or its last press and the first of this one would be seen as one
        return TurboRun(self, context, t_us, slot)


class TurboRun:
    """A turbo at work. Ended or cut in the middle of a press, it finishes that; cut once more it ends at once."""

    def __init__(self, turbo: Turbo, context: EffectContext, t_us: int, slot: Slot) -> None:
        self._turbo = turbo
        self._context = context
        self._slot = slot
        self._inner: Run | None = None
        self._timer: Timer | None = None
        self.ending = False
        self._press(t_us)

    def end(self, context: EffectContext, t_us: int) -> None:
        if self._inner is None:
            self._give_up(context, t_us)
        elif not self.ending:
            self.ending = True
            context.loose[self] = None
            context.memory[self._turbo] = self

    def cut(self, context: EffectContext, t_us: int) -> None:
        if self.ending:
            self._give_up(context, t_us)
        else:
            self.end(context, t_us)

    def _give_up(self, context: EffectContext, t_us: int) -> None:
        self._forget(context)
        if self._timer is not None:
            self._timer.cancel()
        inner, self._inner = self._inner, None
        if inner is not None:
            inner.cut(context, t_us)

    def _forget(self, context: EffectContext) -> None:
        context.loose.pop(self, None)
        if context.memory.get(self._turbo) is self:
            del context.memory[self._turbo]

    def _press(self, t_us: int) -> None:
        self._inner = self._turbo.effect.begin(self._context, t_us, self._slot)
        self._timer = self._context.agenda.at(t_us + self._turbo.down_us, self._let_go)

    def _let_go(self, t_us: int) -> None:
        inner, self._inner = self._inner, None
        if inner is not None:
            inner.end(self._context, t_us)
        if self.ending:
            self._forget(self._context)
        else:
            self._timer = self._context.agenda.at(t_us + self._turbo.period_us - self._turbo.down_us, self._press)


@dataclass(frozen=True, eq=False)
class Pulse:
    """Down for as much of each period as the slot is pressed deep: a throttle for keys."""

    effect: Effect
    period_us: int

    @property
    def owns_slot(self) -> bool:
        return self.effect.owns_slot

    def begin(self, context: EffectContext, t_us: int, slot: Slot) -> Run:
        return PulseRun(self, context, t_us, slot)


class PulseRun:
    """Pulses at work. Each period asks anew how deep the slot is pressed."""

    def __init__(self, pulse: Pulse, context: EffectContext, t_us: int, slot: Slot) -> None:
        self._pulse = pulse
        self._context = context
        self._slot = slot
        self._inner: Run | None = None
        self._timers: list[Timer] = []
        self._period(t_us)

    def end(self, context: EffectContext, t_us: int) -> None:  # noqa: ARG002 - as all runs
        for timer in self._timers:
            timer.cancel()
        self._let_go(t_us)

    def cut(self, context: EffectContext, t_us: int) -> None:
        self.end(context, t_us)

    def _period(self, t_us: int) -> None:
        period_us = self._pulse.period_us
        down_us = round(period_us * max(0.0, min(self._slot.depth, 1.0)))
        agenda = self._context.agenda
        self._timers = [agenda.at(t_us + period_us, self._period)]
        times = self._context.times
        if down_us < max(MIN_PULSE_US, times.shortest_us):
            self._let_go(t_us)
            return
        if self._inner is None:
            self._inner = self._pulse.effect.begin(self._context, t_us, self._slot)
        if period_us - down_us >= max(MIN_PULSE_US, times.gap_us):
            self._timers.append(agenda.at(t_us + down_us, self._let_go))

    def _let_go(self, t_us: int) -> None:
        inner, self._inner = self._inner, None
        if inner is not None:
            inner.end(self._context, t_us)

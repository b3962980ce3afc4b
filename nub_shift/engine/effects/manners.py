"""How an effect is kept up: once, toggled, in turbo, in pulses. Each wraps another effect."""

from __future__ import annotations

import logging
from dataclasses import dataclass
from typing import Final

from nub_shift.engine.agenda import Act, Timer
from nub_shift.engine.effect_context import Effect, EffectContext, Run, Slot
from nub_shift.engine.effects.plain import KEPT, NOTHING, Momentary, fire
from nub_shift.engine.values import US_PER_SECOND

log = logging.getLogger("nub_shift.engine")

# A pulse, or a gap between two, that is shorter than this would be lost on a game that looks once a frame.
MIN_PULSE_US: Final = 10_000
# How soon a turbo whose rate goes by depth follows that.
FOLLOW_US: Final = 8_000


@dataclass(frozen=True, eq=False)
class Once(Momentary):
    """Down and up at the press, however long the slot is held."""

    effect: Effect

    @property
    def brings_layers(self) -> bool:
        return self.effect.brings_layers

    def begin(self, context: EffectContext, t_us: int, slot: Slot) -> Run:
        return KEPT if fire(self.effect, context, t_us, slot).owns_slot else NOTHING


@dataclass(frozen=True, eq=False)
class Toggle(Momentary):
    """On with one press, off with the next. What is on lies in `EffectContext.memory` as a `ToggleRun`.

    With `lock_us` a press that is shorter than that ends with its release, and only a longer one leaves it on. Of the
    toggles of one `group` the one that comes on ends the others; a press of a slot in `ended_by` ends it.
    """

    effect: Effect
    regain: bool
    group: str | None = None
    ended_by: tuple[str, ...] = ()
    lock_us: int | None = None

    @property
    def brings_layers(self) -> bool:
        return self.effect.brings_layers

    def begin(self, context: EffectContext, t_us: int, slot: Slot) -> Run:
        run = context.memory.get(self)
        if isinstance(run, ToggleRun):
            run.switch_off(context, t_us)
        elif self.lock_us is not None:
            return LockRun(self, slot, self.effect.begin(context, t_us, slot))
        else:
            run = switch_on(self, context, t_us, slot)
        return KEPT if run.changes_layers else NOTHING

    def resume(self, context: EffectContext, t_us: int, slot: Slot, again: bool) -> Run:
        """A press that may lock goes on as one; it locks nothing that is on already."""
        if self.lock_us is None or not again:
            return NOTHING if again else self.begin(context, t_us, slot)
        on = self in context.memory
        return NOTHING if on else LockRun(self, slot, self.effect.resume(context, t_us, slot, again))


class ToggleRun(Run):
    """A toggle that is on. Letting its slot go leaves it on."""

    def __init__(self, toggle: Toggle, slot: Slot, inner: Run) -> None:
        self.toggle = toggle
        self.slot = slot
        self.changes_layers = inner.owns_slot
        self._inner = inner

    def switch_off(self, context: EffectContext, t_us: int) -> None:
        """Ends it as a release would."""
        self._forget(context)
        self._inner.end(context, t_us)

    def cut(self, context: EffectContext, t_us: int) -> None:
        self._forget(context)
        self._inner.cut(context, t_us)

    def _forget(self, context: EffectContext) -> None:
        log.debug("%s: toggle on -> off", self.slot.name)
        context.loose.pop(self, None)
        context.memory.pop(self.toggle, None)


class LockRun(Run):
    """A press that is held, and may lock."""

    def __init__(self, toggle: Toggle, slot: Slot, inner: Run) -> None:
        self._toggle = toggle
        self._slot = slot
        self._inner = inner

    @property
    def owns_slot(self) -> bool:
        return self._inner.owns_slot

    def end(self, context: EffectContext, t_us: int) -> None:
        lock_us = self._toggle.lock_us
        if lock_us is not None and t_us - self._slot.pressed_us >= lock_us and self._toggle not in context.memory:
            keep_on(self._toggle, context, t_us, self._slot, self._inner)
        else:
            self._inner.end(context, t_us)

    def leave(self, context: EffectContext, t_us: int) -> None:
        self._inner.leave(context, t_us)

    def cut(self, context: EffectContext, t_us: int) -> None:
        self._inner.cut(context, t_us)


def switch_on(toggle: Toggle, context: EffectContext, t_us: int, slot: Slot) -> ToggleRun:
    """Turns a toggle on, as a press of it or a regained focus does."""
    return keep_on(toggle, context, t_us, slot, toggle.effect.begin(context, t_us, slot))


def keep_on(toggle: Toggle, context: EffectContext, t_us: int, slot: Slot, inner: Run) -> ToggleRun:
    """Leaves on what has begun; another toggle of the same group ends."""
    log.debug("%s: toggle off -> on", slot.name)
    if toggle.group is not None:
        for other in toggles_on(context):
            if other.toggle.group == toggle.group and other.toggle is not toggle:
                other.switch_off(context, t_us)
    run = ToggleRun(toggle, slot, inner)
    context.memory[toggle] = run
    context.loose[run] = None
    return run


def toggles_on(context: EffectContext) -> list[ToggleRun]:
    """The toggles that are on."""
    return [run for run in context.loose if isinstance(run, ToggleRun)]


@dataclass(frozen=True, eq=False)
class Lingering(Effect):
    """An effect that stays in force for a while after its slot was let go. The next press ends what lingers."""

    effect: Effect
    linger_us: int

    @property
    def brings_layers(self) -> bool:
        return self.effect.brings_layers

    def begin(self, context: EffectContext, t_us: int, slot: Slot) -> Run:
        return self._after(context, t_us, self.effect.begin(context, t_us, slot))

    def resume(self, context: EffectContext, t_us: int, slot: Slot, again: bool) -> Run:
        return self._after(context, t_us, self.effect.resume(context, t_us, slot, again))

    def _after(self, context: EffectContext, t_us: int, inner: Run) -> Run:
        """The new one has begun before the old one ends, so that a key stays down in between."""
        last = context.memory.pop(self, None)
        if isinstance(last, LingerRun):
            last.finish(context, t_us)
        return LingerRun(self, context, inner)


class LingerRun(Run):
    """A run that lingers after its release."""

    def __init__(self, lingering: Lingering, context: EffectContext, inner: Run) -> None:
        self._lingering = lingering
        self._context = context
        self._inner = inner
        self._timer: Timer | None = None

    @property
    def owns_slot(self) -> bool:
        return self._inner.owns_slot

    def end(self, context: EffectContext, t_us: int) -> None:
        self._timer = context.agenda.at(t_us + self._lingering.linger_us, self._on_time)
        context.loose[self] = None
        context.memory[self._lingering] = self

    def leave(self, context: EffectContext, t_us: int) -> None:
        self._inner.leave(context, t_us)

    def cut(self, context: EffectContext, t_us: int) -> None:
        self._forget()
        self._inner.cut(context, t_us)

    def finish(self, context: EffectContext, t_us: int) -> None:
        """Ends it now."""
        self._forget()
        self._inner.end(context, t_us)

    def _on_time(self, t_us: int) -> None:
        self.finish(self._context, t_us)

    def _forget(self) -> None:
        if self._timer is not None:
            self._timer.cancel()
        self._context.loose.pop(self, None)
        if self._context.memory.get(self._lingering) is self:
            del self._context.memory[self._lingering]


def _rate_by_depth(rate_hz: float, light_hz: float | None, slot: Slot) -> float:
    """Returns the rate for the slot's present depth; without `light_hz` it is always `rate_hz`."""
    return rate_hz if light_hz is None else light_hz + (rate_hz - light_hz) * slot.pull


@dataclass(frozen=True, eq=False)
class Turbo(Effect):
    """Down and up again and again, the first time at once, never ending in the middle of a press.

    It goes `rate_hz` times a second, or with `light_hz` that often for a slot that is barely pressed, and more often
    the deeper it is pressed. It is down for the part `duty` of the time. Each press takes at least `shortest_us`, each
    pause `gap_us`, which makes a faster turbo slower: a press that waits in the ledger would follow after its end.
    """

    effect: Effect
    rate_hz: float
    duty: float
    light_hz: float | None = None
    shortest_us: int = 0
    gap_us: int = 0

    @property
    def brings_layers(self) -> bool:
        return self.effect.brings_layers

    def begin(self, context: EffectContext, t_us: int, slot: Slot) -> Run:
        last = context.memory.pop(self, None)
        if isinstance(last, TurboRun):
            last.cut(context, t_us)  # or its last press and the first of this one would be seen as one
        return TurboRun(self, context, t_us, slot)


class TurboRun(Run):
    """A turbo at work. Ended in the middle of a press, it finishes that.

    What it presses may end it: an entry of a carousel that is a toggle of the same group.
    """

    def __init__(self, turbo: Turbo, context: EffectContext, t_us: int, slot: Slot) -> None:
        self._turbo = turbo
        self._context = context
        self._slot = slot
        self._inner: Run | None = None
        self._timer: Timer | None = None
        self._left = 0.0  # of a period, until what comes next
        self._least_us = 0  # when that may come at the earliest
        self._then: Act = self._press
        self._over = False
        self.ending = False
        self._press(t_us)

    @property
    def owns_slot(self) -> bool:
        return self._inner is not None and self._inner.owns_slot

    def end(self, context: EffectContext, t_us: int) -> None:
        if self._inner is None:
            self.cut(context, t_us)
        elif not self.ending:
            self.ending = True
            context.loose[self] = None
            context.memory[self._turbo] = self

    def cut(self, context: EffectContext, t_us: int) -> None:
        self._over = True
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
        inner = self._turbo.effect.begin(self._context, t_us, self._slot)
        if self._over:
            inner.end(self._context, t_us)
            return
        self._inner = inner
        self._begin_part(t_us, self._turbo.duty, self._turbo.shortest_us, self._let_go)

    def _let_go(self, t_us: int) -> None:
        inner, self._inner = self._inner, None
        if inner is not None:
            inner.end(self._context, t_us)
        if self.ending:
            self._forget(self._context)
        elif not self._over:
            self._begin_part(t_us, 1.0 - self._turbo.duty, self._turbo.gap_us, self._press)

    def _begin_part(self, t_us: int, part: float, least_us: int, then: Act) -> None:
        """Has `then` come once that part of a period has passed, and at least so much time."""
        self._left, self._least_us, self._then = part, t_us + least_us, then
        self._go_on(t_us)

    def _go_on(self, t_us: int) -> None:
        """Waits for what is left of the part, and looks again before that where the rate goes by depth."""
        turbo = self._turbo
        rate_hz = _rate_by_depth(turbo.rate_hz, turbo.light_hz, self._slot)
        due_us = max(t_us + round(self._left * US_PER_SECOND / rate_hz), self._least_us)
        if turbo.light_hz is None or due_us - t_us <= FOLLOW_US:
            self._timer = self._context.agenda.at(due_us, self._then)
        else:
            self._left = max(0.0, self._left - FOLLOW_US * rate_hz / US_PER_SECOND)
            self._timer = self._context.agenda.at(t_us + FOLLOW_US, self._go_on)


@dataclass(frozen=True, eq=False)
class Pulse(Effect):
    """Down for as much of the time as the slot is pressed deep: a throttle for keys.

    What is too short to be seen in one period, down or up, is carried over to the next (first-order sigma-delta), over
    as many as it takes, so that over time the key is down for the part that is asked for, however small.
    """

    effect: Effect
    rate_hz: float
    light_hz: float | None = None

    @property
    def brings_layers(self) -> bool:
        return self.effect.brings_layers

    def begin(self, context: EffectContext, t_us: int, slot: Slot) -> Run:
        return PulseRun(self, context, t_us, slot)

    def period_us(self, slot: Slot) -> int:
        """How long a period is that begins now: with `light_hz` it is the shorter the deeper the slot is pressed."""
        return round(US_PER_SECOND / _rate_by_depth(self.rate_hz, self.light_hz, slot))


class PulseRun(Run):
    """Pulses at work. Each period asks anew how deep the slot is pressed."""

    def __init__(self, pulse: Pulse, context: EffectContext, t_us: int, slot: Slot) -> None:
        self._pulse = pulse
        self._context = context
        self._slot = slot
        self._inner: Run | None = None
        self._timers: list[Timer] = []
        self._owed_us = 0.0  # of time down, from the periods before; below 0 it was down for too long
        self._since_us = 0  # when it went down last
        self._rested_us = t_us  # when it has been up for long enough
        self._period(t_us)

    @property
    def owns_slot(self) -> bool:
        return self._inner is not None and self._inner.owns_slot

    def end(self, context: EffectContext, t_us: int) -> None:  # noqa: ARG002 - as all runs
        for timer in self._timers:
            timer.cancel()
        self._let_go(t_us)

    @property
    def _least_up_us(self) -> int:
        """The shortest gap between two pulses that the game sees."""
        return max(MIN_PULSE_US, self._context.times.gap_us)

    def _period(self, t_us: int) -> None:
        """Plans when it goes down and up until the next period, and what is carried over to that."""
        period_us, agenda = self._pulse.period_us(self._slot), self._context.agenda
        least_down_us = max(MIN_PULSE_US, self._context.times.shortest_us)
        least_up_us = self._least_up_us
        wanted_us = period_us * max(0.0, min(self._slot.depth, 1.0)) + self._owed_us
        is_down = self._inner is not None
        begin_us = 0 if is_down else max(0, self._rested_us - t_us)
        room_us = period_us - begin_us
        down_us = 0
        if is_down or (wanted_us >= least_down_us / 2 and room_us > 0):
            down_us = max(0, round(wanted_us), least_down_us - (t_us - self._since_us if is_down else 0))
            if down_us > room_us or (room_us - down_us < least_up_us and wanted_us - room_us > -least_up_us / 2):
                down_us = room_us  # a gap that would be too short comes later
        self._owed_us = wanted_us - down_us
        self._timers = [agenda.at(t_us + period_us, self._period)]
        if not down_us:
            self._let_go(t_us)
        elif begin_us:
            self._timers.append(agenda.at(t_us + begin_us, self._press))
        else:
            self._press(t_us)
        if 0 < down_us < room_us:
            self._timers.append(agenda.at(t_us + begin_us + down_us, self._let_go))

    def _press(self, t_us: int) -> None:
        if self._inner is None:
            self._since_us = t_us
            self._inner = self._pulse.effect.begin(self._context, t_us, self._slot)

    def _let_go(self, t_us: int) -> None:
        inner, self._inner = self._inner, None
        if inner is not None:
            self._rested_us = t_us + self._least_up_us
            inner.end(self._context, t_us)

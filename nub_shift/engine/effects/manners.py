"""Manners, each wrapping another effect: once, toggle, turbo, pulse."""

from __future__ import annotations

import logging
from dataclasses import dataclass
from typing import Final

from nub_shift.engine.agenda import Act, Timer
from nub_shift.engine.effect_context import Effect, EffectContext, Run, Slot
from nub_shift.engine.effects.plain import KEPT, NOTHING, Momentary, fire
from nub_shift.engine.values import US_PER_SECOND

log = logging.getLogger("nub_shift.engine")

# A shorter pulse or gap may fall between two frames of a game.
MIN_PULSE_US: Final = 10_000
# Update interval of a turbo whose rate follows depth.
FOLLOW_US: Final = 8_000


@dataclass(frozen=True, eq=False)
class Once(Momentary):
    """Presses and releases at once, however long the slot is held."""

    effect: Effect

    @property
    def can_change_layers(self) -> bool:
        return self.effect.can_change_layers

    def begin(self, context: EffectContext, t_us: int, slot: Slot) -> Run:
        return KEPT if fire(self.effect, context, t_us, slot).owns_slot else NOTHING


@dataclass(frozen=True, eq=False)
class Toggle(Momentary):
    """Switches on with one press, off with the next. An active toggle is kept in `EffectContext.memory` as a
    `ToggleRun`.

    With `lock_us`, a press shorter than this ends with its release; a longer one leaves the toggle on. Switching on
    ends other toggles of the same `group`; a press of a slot in `ended_by` ends the toggle.
    """

    effect: Effect
    regain: bool
    group: str | None = None
    ended_by: tuple[str, ...] = ()
    lock_us: int | None = None

    @property
    def can_change_layers(self) -> bool:
        return self.effect.can_change_layers

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
        """Resumes a press that may lock; does nothing if the toggle is on already."""
        if self.lock_us is None or not again:
            return NOTHING if again else self.begin(context, t_us, slot)
        on = self in context.memory
        return NOTHING if on else LockRun(self, slot, self.effect.resume(context, t_us, slot, again))


class ToggleRun(Run):
    """A toggle that is on. The release of its slot leaves the toggle on."""

    def __init__(self, toggle: Toggle, slot: Slot, inner: Run) -> None:
        self.toggle = toggle
        self.slot = slot
        self.changes_layers = inner.owns_slot
        self._inner = inner

    def switch_off(self, context: EffectContext, t_us: int) -> None:
        """Switches the toggle off, as a release would."""
        self._forget(context)
        self._inner.end(context, t_us)

    def cut(self, context: EffectContext, t_us: int) -> None:
        self._forget(context)
        self._inner.cut(context, t_us)

    def _forget(self, context: EffectContext) -> None:
        log.debug("%s: toggle on -> off", self.slot.name)
        context.detached.pop(self, None)
        context.memory.pop(self.toggle, None)


class LockRun(Run):
    """A held press that may lock the toggle on."""

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
    """Turns a toggle on, at a press or when the game is in front again."""
    return keep_on(toggle, context, t_us, slot, toggle.effect.begin(context, t_us, slot))


def keep_on(toggle: Toggle, context: EffectContext, t_us: int, slot: Slot, inner: Run) -> ToggleRun:
    """Keeps a begun effect on as a toggle; ends another toggle of the same group."""
    log.debug("%s: toggle off -> on", slot.name)
    if toggle.group is not None:
        for other in toggles_on(context):
            if other.toggle.group == toggle.group and other.toggle is not toggle:
                other.switch_off(context, t_us)
    run = ToggleRun(toggle, slot, inner)
    context.memory[toggle] = run
    context.detached[run] = None
    return run


def toggles_on(context: EffectContext) -> list[ToggleRun]:
    """Returns the toggles that are on."""
    return [run for run in context.detached if isinstance(run, ToggleRun)]


@dataclass(frozen=True, eq=False)
class Lingering(Effect):
    """An effect that stays in force for some time after the release of its slot. The next press ends the lingering
    run.
    """

    effect: Effect
    linger_us: int

    @property
    def can_change_layers(self) -> bool:
        return self.effect.can_change_layers

    def begin(self, context: EffectContext, t_us: int, slot: Slot) -> Run:
        return self._after(context, t_us, self.effect.begin(context, t_us, slot))

    def resume(self, context: EffectContext, t_us: int, slot: Slot, again: bool) -> Run:
        return self._after(context, t_us, self.effect.resume(context, t_us, slot, again))

    def _after(self, context: EffectContext, t_us: int, inner: Run) -> Run:
        """Begins the new run before ending the old one, so that a shared key stays down."""
        last = context.memory.pop(self, None)
        if isinstance(last, LingerRun):
            last.finish(context, t_us)
        return LingerRun(self, context, inner)


class LingerRun(Run):
    """A run that lingers after the release."""

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
        context.detached[self] = None
        context.memory[self._lingering] = self

    def leave(self, context: EffectContext, t_us: int) -> None:
        self._inner.leave(context, t_us)

    def cut(self, context: EffectContext, t_us: int) -> None:
        self._forget()
        self._inner.cut(context, t_us)

    def finish(self, context: EffectContext, t_us: int) -> None:
        """Ends the lingering run now."""
        self._forget()
        self._inner.end(context, t_us)

    def _on_time(self, t_us: int) -> None:
        self.finish(self._context, t_us)

    def _forget(self) -> None:
        if self._timer is not None:
            self._timer.cancel()
        self._context.detached.pop(self, None)
        if self._context.memory.get(self._lingering) is self:
            del self._context.memory[self._lingering]


def _rate_by_depth(rate_hz: float, light_hz: float | None, slot: Slot) -> float:
    """Returns the rate for the slot's present depth; without `light_hz` always `rate_hz`."""
    return rate_hz if light_hz is None else light_hz + (rate_hz - light_hz) * slot.pull


@dataclass(frozen=True, eq=False)
class Turbo(Effect):
    """Presses again and again, the first time at once, and completes a begun press.

    The rate is `rate_hz`; with `light_hz` the rate rises with depth, from `light_hz` for a slot barely pressed. The
    effect is down for the part `duty` of a period. Each press lasts at least `shortest_us`, each gap at least `gap_us`,
    which may lower the rate: a press queued in the ledger would come after the end of the turbo.
    """

    effect: Effect
    rate_hz: float
    duty: float
    light_hz: float | None = None
    shortest_us: int = 0
    gap_us: int = 0

    @property
    def can_change_layers(self) -> bool:
        return self.effect.can_change_layers

    def begin(self, context: EffectContext, t_us: int, slot: Slot) -> Run:
        last = context.memory.pop(self, None)
        if isinstance(last, TurboRun):
            last.cut(context, t_us)  # otherwise its last press and the first of this run would merge
        return TurboRun(self, context, t_us, slot)


class TurboRun(Run):
    """Running turbo. Ending during a press completes this press.

    A press may end the turbo itself: through a carousel's entry that is a toggle of the same group.
    """

    def __init__(self, turbo: Turbo, context: EffectContext, t_us: int, slot: Slot) -> None:
        self._turbo = turbo
        self._context = context
        self._slot = slot
        self._inner: Run | None = None
        self._timer: Timer | None = None
        self._left = 0.0  # part of a period until the next change
        self._least_us = 0  # earliest time of the next change
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
            context.detached[self] = None
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
        context.detached.pop(self, None)
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
        """Schedules `then` after this part of a period and at least `least_us`."""
        self._left, self._least_us, self._then = part, t_us + least_us, then
        self._go_on(t_us)

    def _go_on(self, t_us: int) -> None:
        """Waits for the rest of the part; wakes earlier to read the depth where the rate follows depth."""
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
    """Presses periodically, with the slot's depth as duty: a throttle for keys.

    A press or gap too short to be seen is carried over to the next periods (first-order sigma-delta), so that over time
    the key is down for the requested part, however small.
    """

    effect: Effect
    rate_hz: float
    light_hz: float | None = None

    @property
    def can_change_layers(self) -> bool:
        return self.effect.can_change_layers

    def begin(self, context: EffectContext, t_us: int, slot: Slot) -> Run:
        return PulseRun(self, context, t_us, slot)

    def period_us(self, slot: Slot) -> int:
        """Returns the length of a period that begins now; with `light_hz`, deeper presses make shorter periods."""
        return round(US_PER_SECOND / _rate_by_depth(self.rate_hz, self.light_hz, slot))


class PulseRun(Run):
    """Running pulses. Each period reads the depth of the slot."""

    def __init__(self, pulse: Pulse, context: EffectContext, t_us: int, slot: Slot) -> None:
        self._pulse = pulse
        self._context = context
        self._slot = slot
        self._inner: Run | None = None
        self._timers: list[Timer] = []
        self._owed_us = 0.0  # time down carried over from earlier periods; negative after too much
        self._since_us = 0  # time of the last press
        self._rested_us = t_us  # end of the least gap
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
        """Shortest gap between two pulses that the game can see."""
        return max(MIN_PULSE_US, self._context.times.gap_us)

    def _period(self, t_us: int) -> None:
        """Plans press and release of the next period, and the time carried over."""
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
                down_us = room_us  # a gap too short to be seen is postponed
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

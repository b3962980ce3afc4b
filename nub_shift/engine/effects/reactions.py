"""When effects begin: press, tap, hold, double tap, release, and two slots together.

event                      what follows
-------------------------  ------------------------------------------------------------------------------
press                      press begins; hold's timer starts
press, a tap is waiting    the waiting tap is dropped; press and double tap begin; no hold, no tap after it
hold's timer               hold begins
release                    press, hold and double tap end; release fires
... before hold, in time   tap fires; if there is a double tap, it waits for that first
the wait is over           the waiting tap fires
"""

from __future__ import annotations

import logging
from dataclasses import dataclass

from nub_shift.engine.agenda import Timer
from nub_shift.engine.effect_context import Effect, EffectContext, Run, Slot
from nub_shift.engine.effects.plain import NOTHING, fire

log = logging.getLogger("nub_shift.engine")


@dataclass(frozen=True, eq=False)
class Reactions:
    """Several reactions on one slot. A wait for a second tap lies in `EffectContext.memory` as a `Timer`."""

    press: Effect | None
    tap: Effect | None
    hold: Effect | None
    double_tap: Effect | None
    release: Effect | None
    tap_us: int
    hold_us: int
    double_us: int

    @property
    def owns_slot(self) -> bool:
        return True  # what a gesture has begun it finishes, whatever layers do

    def begin(self, context: EffectContext, t_us: int, slot: Slot) -> Run:
        return self.begin_since(context, t_us, slot, t_us)

    def begin_since(self, context: EffectContext, t_us: int, slot: Slot, pressed_us: int) -> Run:
        """Begins now, for a press that has waited for a partner since `pressed_us`."""
        waiting = context.memory.pop(self, None)
        second = isinstance(waiting, Timer) and not waiting.cancelled
        if isinstance(waiting, Timer):
            waiting.cancel()
        return ReactionRun(self, context, t_us, slot, second, pressed_us)


class ReactionRun:
    """One press of a slot with reactions."""

    def __init__(
        self, reactions: Reactions, context: EffectContext, t_us: int, slot: Slot, second: bool, pressed_us: int
    ) -> None:
        self._reactions = reactions
        self._context = context
        self._slot = slot
        self._pressed_us = pressed_us
        self._may_be_tap = not second
        log.debug("%s: released -> pressed%s", slot.name, " again" if second else "")
        self._timer: Timer | None = None
        self._runs: list[Run] = []
        if reactions.press is not None:
            self._runs.append(reactions.press.begin(context, t_us, slot))
        if second and reactions.double_tap is not None:
            self._runs.append(reactions.double_tap.begin(context, t_us, slot))
        elif reactions.hold is not None:
            self._timer = context.agenda.at(max(t_us, pressed_us + reactions.hold_us), self._hold)

    def end(self, context: EffectContext, t_us: int) -> None:
        reactions = self._reactions
        if self._timer is not None:
            self._timer.cancel()
        for run in reversed(self._runs):
            run.end(context, t_us)
        if reactions.release is not None:
            fire(reactions.release, context, t_us, self._slot)
        if self._may_be_tap and t_us - self._pressed_us <= reactions.tap_us:
            self._tap(t_us)

    def cut(self, context: EffectContext, t_us: int) -> None:
        if self._timer is not None:
            self._timer.cancel()
        for run in reversed(self._runs):
            run.cut(context, t_us)

    def _hold(self, t_us: int) -> None:
        log.debug("%s: pressed -> held", self._slot.name)
        self._may_be_tap = False
        if self._reactions.hold is not None:
            self._runs.append(self._reactions.hold.begin(self._context, t_us, self._slot))

    def _tap(self, t_us: int) -> None:
        log.debug("%s: pressed -> tapped", self._slot.name)
        reactions, context = self._reactions, self._context
        if reactions.double_tap is not None:
            context.memory[reactions] = context.agenda.at(t_us + reactions.double_us + 1, self._wait_is_over)
        elif reactions.tap is not None:
            fire(reactions.tap, context, t_us, self._slot)

    def _wait_is_over(self, t_us: int) -> None:
        self._context.memory.pop(self._reactions, None)
        if self._reactions.tap is not None:
            fire(self._reactions.tap, self._context, t_us, self._slot)


@dataclass(frozen=True, eq=False)
class Pair:
    """Two slots that do something of their own when both are pressed within a time."""

    effect: Effect
    within_us: int


@dataclass(frozen=True, eq=False)
class Paired:
    """A slot that belongs to pairs: its own effect waits until no partner can come any more."""

    own: Effect | None
    pairs: tuple[tuple[str, Pair], ...]  # partner's slot, pair
    owns_slot = True

    def begin(self, context: EffectContext, t_us: int, slot: Slot) -> Run:
        for partner, pair in self.pairs:
            waiting = context.memory.get(("waiting", partner))
            if isinstance(waiting, PairRun) and waiting.waits_for(pair, t_us):
                return waiting.join(pair, t_us, slot)
        return PairRun(self, context, t_us, slot)


class PairRun:
    """One press of a slot that belongs to pairs."""

    def __init__(self, paired: Paired, context: EffectContext, t_us: int, slot: Slot) -> None:
        self._paired = paired
        self._context = context
        self._slot = slot
        self._pressed_us = t_us
        self._run: Run | None = None
        self._key = ("waiting", slot.name)
        context.memory[self._key] = self
        longest_us = max(pair.within_us for _, pair in paired.pairs)
        self._timer = context.agenda.at(t_us + longest_us + 1, self._alone)  # the limit is within

    def waits_for(self, pair: Pair, t_us: int) -> bool:
        """Whether a partner that comes now completes that pair."""
        mine = any(found is pair for _, found in self._paired.pairs)
        return mine and self._run is None and t_us - self._pressed_us <= pair.within_us

    def join(self, pair: Pair, t_us: int, slot: Slot) -> Run:
        """A partner has come: the pair's effect begins, and ends when either of the two is let go."""
        self._stop_waiting()
        joint = JointRun(pair.effect.begin(self._context, t_us, slot))
        self._run = joint
        return joint

    def end(self, context: EffectContext, t_us: int) -> None:
        if self._run is None:
            self._alone(t_us)
        self._stop_waiting()
        if self._run is not None:
            self._run.end(context, t_us)

    def cut(self, context: EffectContext, t_us: int) -> None:
        self._stop_waiting()
        if self._run is not None:
            self._run.cut(context, t_us)

    def _alone(self, t_us: int) -> None:
        """No partner has come in time, or the slot was let go before one could."""
        self._stop_waiting()
        own = self._paired.own
        if isinstance(own, Reactions):
            self._run = own.begin_since(self._context, t_us, self._slot, self._pressed_us)
        else:
            self._run = own.begin(self._context, t_us, self._slot) if own is not None else NOTHING

    def _stop_waiting(self) -> None:
        self._timer.cancel()
        if self._context.memory.get(self._key) is self:
            del self._context.memory[self._key]


class JointRun:
    """A pair's effect, held by both slots; the first release ends it."""

    def __init__(self, inner: Run) -> None:
        self._inner: Run | None = inner

    def end(self, context: EffectContext, t_us: int) -> None:
        inner, self._inner = self._inner, None
        if inner is not None:
            inner.end(context, t_us)

    def cut(self, context: EffectContext, t_us: int) -> None:
        inner, self._inner = self._inner, None
        if inner is not None:
            inner.cut(context, t_us)

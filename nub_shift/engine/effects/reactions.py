"""When effects begin: press, tap, hold, double tap, release.

event                      what follows
-------------------------  ------------------------------------------------------------------------------
press                      press begins; hold's timer starts
press, a tap is waiting    the waiting tap is dropped; press and double tap begin; no hold, no tap after it
hold's timer               hold begins
release                    press, hold and double tap end; release fires
... before hold, in time   tap fires; if there is a double tap, it waits for that first
the wait is over           the waiting tap fires
resumed within a press     press and hold resume, hold's timer by the time of the press
"""

from __future__ import annotations

import logging
from dataclasses import dataclass

from nub_shift.engine.agenda import Timer
from nub_shift.engine.effect_context import Effect, EffectContext, Run, Slot
from nub_shift.engine.effects.plain import EffectBase, fire

log = logging.getLogger("nub_shift.engine")


@dataclass(frozen=True, eq=False)
class Reactions(EffectBase):
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
    def brings_layers(self) -> bool:
        return self.press is not None and self.press.brings_layers

    def begin(self, context: EffectContext, t_us: int, slot: Slot) -> Run:
        waiting = context.memory.pop(self, None)
        second = isinstance(waiting, Timer) and not waiting.cancelled
        if isinstance(waiting, Timer):
            waiting.cancel()
        log.debug("%s: released -> pressed%s", slot.name, " again" if second else "")
        run = ReactionRun(self, context, slot, again=False, may_be_tap=not second)
        if self.press is not None:
            run.runs.append(self.press.begin(context, t_us, slot))
        if second and self.double_tap is not None:
            run.runs.append(self.double_tap.begin(context, t_us, slot))
        else:
            run.await_hold(t_us)
        return run

    def resume(self, context: EffectContext, t_us: int, slot: Slot, again: bool) -> Run:
        run = ReactionRun(self, context, slot, again, may_be_tap=True)
        if self.press is not None:
            run.runs.append(self.press.resume(context, t_us, slot, again))
        run.await_hold(t_us)
        return run


class ReactionRun:
    """One press of a slot with reactions.

    Attributes:
        runs: what has begun.
    """

    def __init__(self, reactions: Reactions, context: EffectContext, slot: Slot, again: bool, may_be_tap: bool) -> None:
        self._reactions = reactions
        self._context = context
        self._slot = slot
        self._again = again
        self._may_be_tap = may_be_tap
        self._timer: Timer | None = None
        self.runs: list[Run] = []

    @property
    def owns_slot(self) -> bool:
        return any(run.owns_slot for run in self.runs)

    def await_hold(self, t_us: int) -> None:
        """Has the hold begin when the press is old enough, which it may be already."""
        if self._reactions.hold is None:
            return
        due_us = self._slot.pressed_us + self._reactions.hold_us
        if due_us <= t_us:
            self._hold(t_us)
        else:
            self._timer = self._context.agenda.at(due_us, self._hold)

    def end(self, context: EffectContext, t_us: int) -> None:
        reactions = self._reactions
        if self._timer is not None:
            self._timer.cancel()
        for run in reversed(self.runs):
            run.end(context, t_us)
        if reactions.release is not None:
            fire(reactions.release, context, t_us, self._slot)
        if self._may_be_tap and t_us - self._slot.pressed_us <= reactions.tap_us:
            self._tap(t_us)

    def leave(self, context: EffectContext, t_us: int) -> None:
        if self._timer is not None:
            self._timer.cancel()
        for run in reversed(self.runs):
            run.leave(context, t_us)

    def cut(self, context: EffectContext, t_us: int) -> None:
        if self._timer is not None:
            self._timer.cancel()
        for run in reversed(self.runs):
            run.cut(context, t_us)

    def _hold(self, t_us: int) -> None:
        log.debug("%s: pressed -> held", self._slot.name)
        self._may_be_tap = False
        hold = self._reactions.hold
        if hold is not None:
            self.runs.append(hold.resume(self._context, t_us, self._slot, self._again))

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

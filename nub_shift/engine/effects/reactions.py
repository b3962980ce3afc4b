"""When effects begin: press, tap, two holds, double and triple tap, release.

event                      what follows
-------------------------  ------------------------------------------------------------------------------
press                      press begins; the first hold's timer starts
press, taps are waiting    they are dropped; press begins, and the double or triple tap that this completes;
                           then there is neither hold nor tap after it
... but a triple may come  as soon as this press is no tap any more: the double tap begins, or without one the
                           waiting tap fires
a hold's timer             that hold begins, in place of the one before it; the next one's timer starts
release                    press, hold and double tap end; release fires if the press was long enough
... before hold, in time   a tap; if further taps may follow, it waits for them first
the wait is over           the waiting tap or double tap fires
resumed within a press     press and hold resume, the hold's timer by the time of the press
"""

from __future__ import annotations

import logging
from dataclasses import dataclass

from nub_shift.engine.agenda import Timer
from nub_shift.engine.effect_context import Effect, EffectContext, Run, Slot
from nub_shift.engine.effects.plain import fire

log = logging.getLogger("nub_shift.engine")


@dataclass(frozen=True, eq=False)
class Reactions(Effect):
    """Several reactions on one slot. Pending taps are kept in `EffectContext.memory` as `WaitingTaps`.

    `holds` are pairs of microseconds since the press and effect, sorted. Each further tap has to come within
    `double_us` or `triple_us` of the release before. `release` needs a press of at least `release_us`.
    """

    press: Effect | None
    tap: Effect | None
    holds: tuple[tuple[int, Effect], ...]
    double_tap: Effect | None
    triple_tap: Effect | None
    release: Effect | None
    tap_us: int
    double_us: int
    triple_us: int
    release_us: int

    @property
    def can_change_layers(self) -> bool:
        return self.press is not None and self.press.can_change_layers

    @property
    def most_taps(self) -> int:
        """Largest number of taps in a row."""
        if self.triple_tap is not None:
            return 3
        return 2 if self.double_tap is not None else 1

    def begin(self, context: EffectContext, t_us: int, slot: Slot) -> Run:
        waiting = context.memory.pop(self, None)
        before = 0
        if isinstance(waiting, WaitingTaps):
            waiting.timer.cancel()
            before = waiting.count
        log.debug("%s: released -> pressed%s", slot.name, " again" if before else "")
        run = ReactionRun(self, context, slot, again=False, taps_before=before)
        if self.press is not None:
            run.runs.append(self.press.begin(context, t_us, slot))
        run.begin_taps(t_us)
        return run

    def resume(self, context: EffectContext, t_us: int, slot: Slot, again: bool) -> Run:
        run = ReactionRun(self, context, slot, again, taps_before=0)
        if self.press is not None:
            run.runs.append(self.press.resume(context, t_us, slot, again))
        run.await_hold(t_us)
        return run

    def fire_taps(self, count: int, context: EffectContext, t_us: int, slot: Slot) -> None:
        """Fires the reaction to this number of taps, after the wait for further ones."""
        if count == 2 and self.double_tap is not None:
            fire(self.double_tap, context, t_us, slot)
        elif self.tap is not None:
            for _ in range(count):
                fire(self.tap, context, t_us, slot)


class WaitingTaps:
    """Taps in a row that may still be followed by another."""

    def __init__(self, reactions: Reactions, context: EffectContext, slot: Slot, count: int, until_us: int) -> None:
        self._reactions = reactions
        self._context = context
        self._slot = slot
        self.count = count
        self.timer: Timer = context.agenda.at(until_us + 1, self._on_time)  # the limit is inclusive

    def _on_time(self, t_us: int) -> None:
        self._context.memory.pop(self._reactions, None)
        self._reactions.fire_taps(self.count, self._context, t_us, self._slot)


class ReactionRun(Run):
    """One press of a slot with reactions.

    Attributes:
        runs: effects that have begun.
    """

    def __init__(self, reactions: Reactions, context: EffectContext, slot: Slot, again: bool, taps_before: int) -> None:
        self._reactions = reactions
        self._context = context
        self._slot = slot
        self._again = again
        self._taps_before = taps_before  # taps before this press that have fired nothing yet
        self._may_be_tap = True
        self._timers: list[Timer] = []
        self._hold: Run | None = None
        self._holds_begun = 0
        self.runs: list[Run] = []

    @property
    def owns_slot(self) -> bool:
        return any(run.owns_slot for run in self.runs)

    def begin_taps(self, t_us: int) -> None:
        """Begins the double or triple tap that this press completes, or waits for its length."""
        reactions, count = self._reactions, self._taps_before + 1
        if count > 1 and count == reactions.most_taps:
            effect = reactions.triple_tap if count == 3 else reactions.double_tap
            self._may_be_tap, self._taps_before = False, 0
            if effect is not None:
                self.runs.append(effect.begin(self._context, t_us, self._slot))
            return
        if count > 1:
            self._timers.append(self._context.agenda.at(self._slot.pressed_us + reactions.tap_us + 1, self._end_tap))
        if count == 1 or reactions.double_tap is None:
            self.await_hold(t_us)

    def await_hold(self, t_us: int) -> None:
        """Schedules the next hold, which may be due already."""
        while self._holds_begun < len(self._reactions.holds):
            due_us = self._slot.pressed_us + self._reactions.holds[self._holds_begun][0]
            if due_us > t_us:
                self._timers.append(self._context.agenda.at(due_us, self._begin_hold))
                return
            self._hold_now(t_us)

    def end(self, context: EffectContext, t_us: int) -> None:
        reactions = self._reactions
        self._stop_waiting()
        for run in reversed(self.runs):
            run.end(context, t_us)
        pressed_us = t_us - self._slot.pressed_us
        if reactions.release is not None and pressed_us >= reactions.release_us:
            fire(reactions.release, context, t_us, self._slot)
        if not (self._may_be_tap and pressed_us <= reactions.tap_us):
            return
        log.debug("%s: pressed -> tapped", self._slot.name)
        count = self._taps_before + 1
        if count < reactions.most_taps:
            within_us = reactions.double_us if count == 1 and reactions.double_tap is not None else reactions.triple_us
            context.memory[reactions] = WaitingTaps(reactions, context, self._slot, count, t_us + within_us)
        else:
            reactions.fire_taps(count, context, t_us, self._slot)

    def leave(self, context: EffectContext, t_us: int) -> None:
        self._stop_waiting()
        for run in reversed(self.runs):
            run.leave(context, t_us)

    def cut(self, context: EffectContext, t_us: int) -> None:
        self._stop_waiting()
        for run in reversed(self.runs):
            run.cut(context, t_us)

    def _stop_waiting(self) -> None:
        for timer in self._timers:
            timer.cancel()

    def _begin_hold(self, t_us: int) -> None:
        self._hold_now(t_us)
        self.await_hold(t_us)

    def _hold_now(self, t_us: int) -> None:
        """Begins the next hold, then ends the one before, so that a shared key stays down."""
        log.debug("%s: pressed -> held", self._slot.name)
        self._end_tap(t_us)
        _, effect = self._reactions.holds[self._holds_begun]
        self._holds_begun += 1
        before = self._hold
        self._hold = effect.resume(self._context, t_us, self._slot, self._again)
        self.runs.append(self._hold)
        if before is not None:
            self.runs.remove(before)
            before.end(self._context, t_us)

    def _end_tap(self, t_us: int) -> None:
        """Handles a press that has become too long for a tap: earlier taps fire as a tap or double tap."""
        self._may_be_tap = False
        before, self._taps_before = self._taps_before, 0
        if not before:
            return
        double_tap = self._reactions.double_tap
        if double_tap is not None:
            self.runs.append(double_tap.resume(self._context, t_us, self._slot, self._again))
        else:
            self._reactions.fire_taps(before, self._context, t_us, self._slot)

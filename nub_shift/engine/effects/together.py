"""Two or three slots together.

event                                    what follows
---------------------------------------  ---------------------------------------------------------------------------
press                                    if all slots of a combination wait, and no larger one can come: it begins
...                                      else the slot waits for as long as a partner may come
the wait is over, or the slot is let go  the largest combination that waits in full begins, else what the slot does
any slot of a combination is let go      it ends
press of the last one, in a given order  if the others are held in that order: it begins, else what the slot does
"""

from __future__ import annotations

from collections.abc import Iterable
from dataclasses import dataclass

from nub_shift.engine.agenda import Timer
from nub_shift.engine.effect_context import Effect, EffectContext, Run, Slot
from nub_shift.engine.effects.plain import NOTHING


@dataclass(frozen=True, eq=False)
class Chord:
    """Effect of several slots together: pressed within a time in any order, or in a given order with the others
    held.
    """

    slots: tuple[str, ...]
    effect: Effect
    within_us: int
    in_order: bool

    def completed_by(self, slot: Slot, pressed: Iterable[Slot]) -> bool:
        """Returns whether a press of this slot completes the chord in its order; `pressed` is sorted by time."""
        held = [other.name for other in pressed if other.name in self.slots and other is not slot]
        return held == list(self.slots[:-1])


@dataclass(frozen=True, eq=False)
class Chorded(Effect):
    """A slot that belongs to chords: its own effect waits as long as a partner may come."""

    own: Effect | None
    free: tuple[Chord, ...]  # chords in any order
    ordered: tuple[Chord, ...]  # ordered chords that end with this slot

    @property
    def can_change_layers(self) -> bool:
        return not self.free and self.own is not None and self.own.can_change_layers

    def begin(self, context: EffectContext, t_us: int, slot: Slot) -> Run:
        for chord in sorted(self.ordered, key=lambda chord: -len(chord.slots)):
            if chord.completed_by(slot, context.pressed):
                return JointRun(chord.effect.begin(context, t_us, slot))
        if not self.free:
            return self.own.begin(context, t_us, slot) if self.own is not None else NOTHING
        run = ChordRun(self, context, t_us, slot)
        run.look(t_us)
        return run

    def resume(self, context: EffectContext, t_us: int, slot: Slot, again: bool) -> Run:
        """Starts the slot's own effect: an earlier press waits for no partner."""
        return self.own.resume(context, t_us, slot, again) if self.own is not None else NOTHING


class ChordRun(Run):
    """One press of a slot that belongs to chords."""

    def __init__(self, chorded: Chorded, context: EffectContext, t_us: int, slot: Slot) -> None:
        self._chorded = chorded
        self._context = context
        self._slot = slot
        self._pressed_us = t_us
        self._run: Run | None = None
        longest_us = max(chord.within_us for chord in chorded.free)
        self._timer: Timer = context.agenda.at(t_us + longest_us + 1, self._on_time)  # the limit is inclusive
        context.waiting[slot.name] = self

    @property
    def owns_slot(self) -> bool:
        return self._run is not None and self._run.owns_slot

    def look(self, t_us: int) -> None:
        """Begins a chord completed by this press, unless a larger one may still come."""
        found = self._complete(t_us)
        if found is not None and not self._may_grow(found, t_us):
            self._join(found, t_us)

    def end(self, context: EffectContext, t_us: int) -> None:
        if self._run is None:
            self._on_time(t_us)
        if self._run is not None:
            self._run.end(context, t_us)

    def leave(self, context: EffectContext, t_us: int) -> None:
        self._stop_waiting()
        if self._run is not None:
            self._run.leave(context, t_us)

    def cut(self, context: EffectContext, t_us: int) -> None:
        self._stop_waiting()
        if self._run is not None:
            self._run.cut(context, t_us)

    def _waits_for(self, chord: Chord, t_us: int) -> bool:
        mine = any(found is chord for found in self._chorded.free)
        return mine and self._run is None and t_us - self._pressed_us <= chord.within_us

    def _complete(self, t_us: int) -> Chord | None:
        """Returns the largest chord of this slot whose slots have all been pressed in time."""
        waiting = self._context.waiting
        found = [
            chord
            for chord in self._chorded.free
            if all(
                name in waiting and waiting[name]._waits_for(chord, self._last_us(chord, t_us)) for name in chord.slots
            )
        ]
        return max(found, key=lambda chord: len(chord.slots), default=None)

    def _last_us(self, chord: Chord, t_us: int) -> int:
        """Returns the time of the last press among the slots of a chord."""
        waiting = self._context.waiting
        return max((waiting[name]._pressed_us for name in chord.slots if name in waiting), default=t_us)

    def _may_grow(self, found: Chord, t_us: int) -> bool:
        return any(set(found.slots) < set(chord.slots) and self._waits_for(chord, t_us) for chord in self._chorded.free)

    def _join(self, chord: Chord, t_us: int) -> None:
        """Begins the effect of a chord, which ends with the first release of its slots."""
        parts = [self._context.waiting[name] for name in chord.slots]
        for part in parts:
            part._stop_waiting()
        joint = JointRun(chord.effect.begin(self._context, t_us, self._slot))
        for part in parts:
            part._run = joint

    def _on_time(self, t_us: int) -> None:
        """Ends the wait for partners."""
        found = self._complete(t_us)
        if found is not None:
            self._join(found, t_us)
            return
        self._stop_waiting()
        own = self._chorded.own
        self._run = own.begin(self._context, t_us, self._slot) if own is not None else NOTHING

    def _stop_waiting(self) -> None:
        self._timer.cancel()
        if self._context.waiting.get(self._slot.name) is self:
            del self._context.waiting[self._slot.name]


class JointRun(Run):
    """A chord's effect, held by all its slots and ended by the first release."""

    def __init__(self, inner: Run) -> None:
        self._inner: Run | None = inner

    @property
    def owns_slot(self) -> bool:
        return True

    def end(self, context: EffectContext, t_us: int) -> None:
        inner, self._inner = self._inner, None
        if inner is not None:
            inner.end(context, t_us)

    def cut(self, context: EffectContext, t_us: int) -> None:
        inner, self._inner = self._inner, None
        if inner is not None:
            inner.cut(context, t_us)

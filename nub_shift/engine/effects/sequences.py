"""Sequences: timed keys after one press."""

from __future__ import annotations

from dataclasses import dataclass
from typing import Final, NamedTuple

from nub_shift.engine.agenda import Timer
from nub_shift.engine.effect_context import Effect, EffectContext, Run, Slot
from nub_shift.engine.effects.plain import NOTHING, fire
from nub_shift.keyboard.keys import MODIFIERS
from nub_shift.model.profile.listed import Again, Runs

MAX_OVERLAP: Final = 8
MAX_QUEUE: Final = 8
# Gap between rounds of a repeated sequence, since one without waits would emit without end.
ROUND_US: Final = 20_000


class Stroke(NamedTuple):
    """Compiled step: presses and releases keys, does the effect, then waits."""

    press: tuple[str, ...]
    release: tuple[str, ...]
    wait_us: int
    text: bool = False  # types a character, which modifiers held by other slots must not change
    effect: Effect | None = None
    while_held: bool = False  # waits for the release of the slot first


@dataclass(frozen=True, eq=False)
class SequenceEffect(Effect):
    """A sequence. Running instances are kept in `EffectContext.memory`."""

    strokes: tuple[Stroke, ...]
    runs: Runs
    again: Again

    def begin(self, context: EffectContext, t_us: int, slot: Slot) -> Run:
        courses: list[SequenceRun] = context.memory.setdefault(self, [])
        if courses and self.runs is Runs.UNTIL_PRESSED:
            for course in list(courses):
                course.cut(context, t_us)
            return NOTHING
        if courses and self.runs is Runs.WHILE_HELD and self.again in (Again.IGNORE, Again.QUEUE):
            courses[0].holders += 1
            return courses[0]
        if courses:
            match self.again:
                case Again.IGNORE:
                    return NOTHING
                case Again.RESTART:
                    for course in list(courses):
                        course.cut(context, t_us)
                case Again.QUEUE:
                    courses[0].queued = min(courses[0].queued + 1, MAX_QUEUE)
                    return NOTHING
                case Again.OVERLAP:
                    if len(courses) >= MAX_OVERLAP:
                        return NOTHING
        return SequenceRun(self, context, t_us, slot, courses)

    def resume(self, context: EffectContext, t_us: int, slot: Slot, again: bool) -> Run:
        return NOTHING if again and self.runs is not Runs.WHILE_HELD else self.begin(context, t_us, slot)


class SequenceRun(Run):
    """A running sequence.

    Attributes:
        queued: number of further runs requested.
        holders: number of slots that hold the sequence, if it runs while held.
    """

    def __init__(
        self, effect: SequenceEffect, context: EffectContext, t_us: int, slot: Slot, courses: list[SequenceRun]
    ) -> None:
        self.queued = 0
        self.holders = 1
        self._effect = effect
        self._context = context
        self._courses = courses
        self._slot = slot
        self._held = True
        self._waits = False  # whether a step waits for the release of the slot
        self._place = 0
        self._down: list[str] = []
        self._masked: tuple[str, ...] = ()
        self._timer: Timer | None = None
        self._last_round = effect.runs is Runs.ONCE
        courses.append(self)
        context.detached[self] = None
        self._play(t_us)

    def end(self, context: EffectContext, t_us: int) -> None:
        """Handles the release of the slot: a sequence that runs while held ends with its last holder, others continue.

        A sequence that waits for the release proceeds to its next step.
        """
        if self not in self._courses:
            return  # finished, or cut by another slot
        if self._effect.runs is Runs.WHILE_HELD:
            self.holders -= 1
            if self.holders == 0:
                self.cut(context, t_us)
        elif self._held:
            self._held = False
            if self._waits:
                self._waits = False
                self._play(t_us)

    def cut(self, context: EffectContext, t_us: int) -> None:
        if self not in self._courses:
            return  # finished already
        if self._timer is not None:
            self._timer.cancel()
        self._courses.remove(self)
        context.detached.pop(self, None)
        self._let_go_keys(t_us)

    def _let_go_keys(self, t_us: int) -> None:
        context = self._context
        for code in reversed(self._down):
            context.ledger.release((code,), t_us, context.times, context.out)
        self._down.clear()
        self._mask((), t_us)

    def _mask(self, codes: tuple[str, ...], t_us: int) -> None:
        """Masks exactly these modifiers, whoever holds them."""
        before, self._masked = self._masked, codes
        context = self._context
        context.ledger.unmask(tuple(code for code in before if code not in codes), t_us, context.out)
        context.ledger.mask(tuple(code for code in codes if code not in before), t_us, context.out)

    def _play(self, t_us: int) -> None:
        """Plays strokes up to the next wait."""
        strokes = self._effect.strokes
        while self._place < len(strokes):
            stroke = strokes[self._place]
            if stroke.while_held and self._held:
                self._waits = True
                return
            if stroke.text and stroke.press and (settled_us := self._hold_modifiers(stroke, t_us)) is not None:
                self._timer = self._context.agenda.at(settled_us, self._play)
                return
            self._place += 1
            self._strike(stroke, t_us)
            if self not in self._courses:
                return  # the effect has ended this run: a carousel's entry that is a toggle of the same group
            if stroke.wait_us:
                self._timer = self._context.agenda.at(t_us + stroke.wait_us, self._play)
                return
        self._round(t_us)

    def _hold_modifiers(self, stroke: Stroke, t_us: int) -> int | None:
        """Holds exactly the modifiers of a character; returns the time at which they are in place, None if they are
        already.
        """
        self._mask(tuple(code for code in MODIFIERS if code not in stroke.press), t_us)
        self._press(tuple(code for code in stroke.press if code in MODIFIERS), t_us)
        return self._context.ledger.settled_us(MODIFIERS)

    def _press(self, codes: tuple[str, ...], t_us: int) -> None:
        context = self._context
        for code in codes:
            if code not in self._down:
                self._down.append(code)
                context.ledger.press((code,), t_us, context.times, context.out)

    def _strike(self, stroke: Stroke, t_us: int) -> None:
        context = self._context
        if not stroke.text:
            self._mask((), t_us)
        self._press(stroke.press, t_us)
        if stroke.effect is not None:
            fire(stroke.effect, context, t_us, self._slot)
        for code in reversed(stroke.release):
            if code in self._down:
                self._down.remove(code)
                context.ledger.release((code,), t_us, context.times, context.out)

    def _round(self, t_us: int) -> None:
        """Ends a round; begins the next one if requested."""
        self._let_go_keys(t_us)
        if self._last_round and not self.queued:
            self.cut(self._context, t_us)
            return
        self.queued = max(0, self.queued - 1)
        self._place = 0
        self._timer = self._context.agenda.at(t_us + ROUND_US, self._play)

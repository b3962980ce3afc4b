"""Stages of triggers, of sliders, and of a stick's radius."""

from __future__ import annotations

from typing import Final

from nub_shift.engine.agenda import Timer
from nub_shift.engine.effect_context import EffectContext, Slot
from nub_shift.engine.reader import Reader
from nub_shift.model.profile.feel import SliderFeel, Stage, Stages, TriggerFeel
from nub_shift.model.slot_names import slot_name

LEAST_SPAN: Final = 1e-3


class Threshold:
    """A stage: reached from `on`, left below `off`. In quick mode the stage also ends when the finger eases by
    `ease`.
    """

    def __init__(self) -> None:
        self.reached = False
        self._turn = 0.0  # deepest pull since the stage was reached, or the least since it was left

    def use(self, stage: Stage, ease: float | None = None) -> None:
        """Sets the thresholds for the following values."""
        self._on = stage.on
        self._off = stage.off
        self._span = max(1.0 - stage.off, LEAST_SPAN)
        self._ease = ease

    def take(self, value: float) -> bool:
        """Returns whether a value from 0 to 1 has reached the stage."""
        if self._ease is None:
            reached = value >= (self._off if self.reached else self._on)
        elif self.reached:
            self._turn = max(self._turn, value)
            reached = value >= self._off and value > self._turn - self._ease
        else:
            self._turn = min(self._turn, value)
            reached = value >= self._on and value >= self._turn + self._ease
        if reached is not self.reached:
            self.reached = reached
            self._turn = value
        return reached

    def depth(self, value: float) -> float:
        """Returns the depth of a value, from 0 where the stage is left to 1."""
        return (value - self._off) / self._span


class StageReader(Threshold):
    """A stage as a slot."""

    def __init__(self, slot: Slot, analogue: bool, changed: list[Slot]) -> None:
        super().__init__()
        self._slot = slot
        self._analogue = analogue
        self._changed = changed

    def note(self, value: float) -> None:
        """Takes a value from 0 to 1 and notes the slot if the stage changes."""
        slot = self._slot
        if self._analogue:
            slot.depth = (value - self._off) / self._span
        if self._ease is None:
            down = self.reached = value >= (self._off if slot.down else self._on)
        else:
            down = self.take(value)
        if down is not slot.down:
            slot.down = down
            self._changed.append(slot)


class TriggerReader(Reader):
    """A trigger with a light and a deep stage, and a rule for the light stage once the deep one is reached.

    With `Stages.EITHER` the decision between light and deep is postponed: for a time after the light stage, or until
    the deep stage or the release. A pull ends by the rule under which it began, whatever feel is set meanwhile.
    """

    def __init__(
        self, name: str, used: frozenset[str], analogue: bool, changed: list[Slot], context: EffectContext
    ) -> None:
        self._name = name
        self._changed = changed
        self._context = context
        self._slots = Slot(slot_name(name, "light")), Slot(slot_name(name, "deep"))
        self._light, self._deep = (StageReader(slot, analogue, changed) for slot in self._slots)
        self._deep_used = slot_name(name, "deep") in used
        self._decided: Slot | None = None
        self._timer: Timer | None = None
        self._pulled_us = 0
        self._stages = self._next_stages = Stages.BOTH

    def use(self, feel: TriggerFeel) -> None:
        """Sets the thresholds for the following values, and the rule for the light stage from the next pull on."""
        ease = feel.ease if feel.quick else None
        self._light.use(feel.light, ease)
        self._deep.use(feel.deep, ease)
        self._next_stages = feel.stages if self._deep_used else Stages.BOTH
        self._either_us = feel.either_ms * 1000

    def take(self, values: dict[str, float], now_us: int) -> None:
        """Takes a pull from 0 to 1."""
        if self._stages is not self._next_stages and not self._is_pulled:
            self._stages = self._next_stages
        value = values[self._name]
        if self._stages is Stages.BOTH:
            self._light.note(value)
            if self._deep_used:
                self._deep.note(value)
            return
        light_slot, deep_slot = self._slots
        light_slot.depth, deep_slot.depth = self._light.depth(value), self._deep.depth(value)
        light, deep = self._light.take(value), self._deep.take(value)
        if self._stages is Stages.REPLACE:
            self._set(light and not deep, deep)
        else:
            self._decide(light, deep, now_us)

    def settle(self) -> None:
        """Decides a pending pull at once, so that nothing begins later by itself."""
        if self._timer is not None and not self._timer.cancelled:
            self._stop_waiting()
            self._on_time(0)

    @property
    def _is_pulled(self) -> bool:
        """Whether a pull is in progress."""
        light, deep = self._slots
        return self._light.reached or self._deep.reached or light.down or deep.down

    def _decide(self, light: bool, deep: bool, now_us: int) -> None:
        light_slot, deep_slot = self._slots
        waits = self._timer is not None and not self._timer.cancelled
        if not light:
            if waits:  # released before the decision: a short light pull
                self._stop_waiting()
                light_slot.began_us = self._pulled_us
                self._set(True, False)
                self._context.agenda.at(now_us, self._let_light_go)
                return
            self._decided = None
        elif self._decided is None:
            if deep:
                self._stop_waiting()
                self._decided = deep_slot
            elif not waits:
                self._pulled_us = now_us
                self._timer = self._context.agenda.at(now_us + self._either_us, self._on_time)
        self._set(self._decided is light_slot and light, self._decided is deep_slot and deep)

    def _on_time(self, t_us: int) -> None:  # noqa: ARG002
        """Decides for the light stage at the end of the wait."""
        self._timer = None
        self._decided = light_slot = self._slots[0]
        light_slot.began_us = self._pulled_us
        self._set(True, False)
        self._context.stale = True

    def _let_light_go(self, t_us: int) -> None:  # noqa: ARG002
        if not self._light.reached:
            self._set(False, False)
            self._context.stale = True

    def _stop_waiting(self) -> None:
        if self._timer is not None:
            self._timer.cancel()
            self._timer = None

    def _set(self, *down: bool) -> None:
        """Sets both slots, presses before releases, so that a key of both stages stays down."""
        news = [slot for slot, wanted in zip(self._slots, down, strict=True) if slot.down is not wanted]
        for slot in news:
            slot.down = not slot.down
        self._changed += sorted(news, key=lambda slot: not slot.down)


class SliderReader(Reader):
    """A slider or sensor with stages on each side of rest."""

    def __init__(self, name: str, analogue: bool, changed: list[Slot]) -> None:
        self._name = name
        self._low = [StageReader(Slot(slot_name(name, stage)), analogue, changed) for stage in ("low", "low_deep")]
        self._high = [StageReader(Slot(slot_name(name, stage)), analogue, changed) for stage in ("high", "high_deep")]

    def use(self, feel: SliderFeel) -> None:
        """Sets the feel for the following positions."""
        stages = (feel.low, feel.low_deep, feel.high, feel.high_deep)
        for reader, stage in zip((*self._low, *self._high), stages, strict=True):
            reader.use(stage)

    def take(self, values: dict[str, float], now_us: int) -> None:  # noqa: ARG002
        """Takes a position from -1 to 1; 0 is rest."""
        value = values[self._name]
        for stage in self._low:
            stage.note(max(0.0, -value))
        for stage in self._high:
            stage.note(max(0.0, value))

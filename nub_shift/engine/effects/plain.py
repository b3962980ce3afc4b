"""Effects that are simply in force from their beginning to their end."""

from __future__ import annotations

from dataclasses import dataclass
from typing import Any, TypeVar

from nub_shift.engine.effect_context import Effect, EffectContext, Run, Slot
from nub_shift.engine.values import WHEEL_CLICK, Pointer, ProfileRequest, Wheel
from nub_shift.model.effects import MotionSwitch, WheelDirection

T = TypeVar("T")


class Plain:
    """Base of effects without a course of their own: the effect is its own run, and being cut is being ended."""

    owns_slot = False

    def end(self, context: EffectContext, t_us: int) -> None:
        """Nothing is left in force, unless a subclass says so."""

    def cut(self, context: EffectContext, t_us: int) -> None:
        """As `end`."""
        self.end(context, t_us)


@dataclass(frozen=True, eq=False)
class KeysEffect(Plain):
    """Keys and mouse buttons, down in order and up in reverse."""

    codes: tuple[str, ...]

    def begin(self, context: EffectContext, t_us: int, slot: Slot) -> Run:  # noqa: ARG002 - one signature for all effects
        context.ledger.press(self.codes, t_us, context.times, context.out)
        return self

    def end(self, context: EffectContext, t_us: int) -> None:
        context.ledger.release(self.codes, t_us, context.times, context.out)


@dataclass(frozen=True, eq=False)
class Several:
    """Several effects at once, as one."""

    effects: tuple[Effect, ...]

    @property
    def owns_slot(self) -> bool:
        return any(effect.owns_slot for effect in self.effects)

    def begin(self, context: EffectContext, t_us: int, slot: Slot) -> Run:
        return _SeveralRuns([effect.begin(context, t_us, slot) for effect in self.effects])


class _SeveralRuns:
    """What several effects have begun."""

    def __init__(self, runs: list[Run]) -> None:
        self._runs = runs

    def end(self, context: EffectContext, t_us: int) -> None:
        for run in reversed(self._runs):
            run.end(context, t_us)

    def cut(self, context: EffectContext, t_us: int) -> None:
        for run in reversed(self._runs):
            run.cut(context, t_us)


@dataclass(frozen=True, eq=False)
class WheelEffect(Plain):
    """One click of the wheel at the press."""

    x: int
    y: int

    def begin(self, context: EffectContext, t_us: int, slot: Slot) -> Run:  # noqa: ARG002
        context.emit(Wheel(t_us, self.x, self.y))
        return self


@dataclass(frozen=True, eq=False)
class NudgeEffect(Plain):
    """Pointer counts at the press."""

    x: int
    y: int

    def begin(self, context: EffectContext, t_us: int, slot: Slot) -> Run:  # noqa: ARG002
        context.emit(Pointer(t_us, self.x, self.y))
        return self


@dataclass(frozen=True, eq=False)
class ProfileEffect(Plain):
    """Asks the runner for another profile."""

    title: str

    def begin(self, context: EffectContext, t_us: int, slot: Slot) -> Run:  # noqa: ARG002
        context.emit(ProfileRequest(t_us, self.title))
        return self


@dataclass(frozen=True, eq=False)
class LayerEffect(Plain):
    """A layer, on while held.

    It owns its slot: the layer that it brings on may give the slot something else, and following that would end the
    layer, which would bring it on again.
    """

    layer: int
    owns_slot = True

    def begin(self, context: EffectContext, t_us: int, slot: Slot) -> Run:  # noqa: ARG002
        context.layers.hold(self.layer)
        return self

    def end(self, context: EffectContext, t_us: int) -> None:  # noqa: ARG002
        context.layers.let_go(self.layer)


@dataclass(frozen=True, eq=False)
class StayEffect(Plain):
    """One of some layers, on to stay, in place of the one before it; each press goes to the next.

    The base layer (0) among them is the place where none of the others is on.
    """

    layers: tuple[int, ...]
    owns_slot = True

    def begin(self, context: EffectContext, t_us: int, slot: Slot) -> Run:  # noqa: ARG002
        now = context.layers.staying
        index = self.layers.index(now) + 1 if now in self.layers else 0
        context.layers.stay(self.layers[index % len(self.layers)])
        return self


@dataclass(frozen=True, eq=False)
class SilenceEffect(Plain):
    """Nothing, on purpose: hides what lower layers have in the slot."""

    def begin(self, context: EffectContext, t_us: int, slot: Slot) -> Run:  # noqa: ARG002
        return self


class TableEntry:
    """Something that is in force as an entry of one of the context's tables."""

    def __init__(self, table: dict[Run, Any]) -> None:
        self._table = table

    def end(self, context: EffectContext, t_us: int) -> None:  # noqa: ARG002
        del self._table[self]
        context.stale = True

    def cut(self, context: EffectContext, t_us: int) -> None:
        self.end(context, t_us)


def _enter(context: EffectContext, table: dict[Run, T], value: T) -> Run:
    run = TableEntry(table)
    table[run] = value
    context.stale = True
    return run


@dataclass(frozen=True, eq=False)
class PaceEffect:
    """A factor on pointer speed while it is in force."""

    factor: float
    owns_slot = False

    def begin(self, context: EffectContext, t_us: int, slot: Slot) -> Run:  # noqa: ARG002
        return _enter(context, context.paces, self.factor)


@dataclass(frozen=True, eq=False)
class ScrollEffect:
    """The wheel turns smoothly while it is in force, at clicks a second for a slot that is pressed all the way."""

    x: float
    y: float
    owns_slot = False

    def begin(self, context: EffectContext, t_us: int, slot: Slot) -> Run:  # noqa: ARG002
        return _enter(context, context.scrolls, (self.x, self.y, slot))


@dataclass(frozen=True, eq=False)
class GlideEffect:
    """The pointer moves while it is in force, at counts a second for a slot that is pressed all the way."""

    x: float
    y: float
    owns_slot = False

    def begin(self, context: EffectContext, t_us: int, slot: Slot) -> Run:  # noqa: ARG002
        return _enter(context, context.glides, (self.x, self.y, slot))


@dataclass(frozen=True, eq=False)
class MotionEffect:
    """Motion is switched on or off while it is in force, or takes its neutral attitude anew."""

    switch: MotionSwitch
    owns_slot = False

    def begin(self, context: EffectContext, t_us: int, slot: Slot) -> Run:  # noqa: ARG002
        if self.switch is MotionSwitch.RECENTRE:
            context.recentre = context.stale = True
            return NOTHING
        return _enter(context, context.motion_switches, self.switch is MotionSwitch.ON)


NOTHING: Run = Plain()

_WHEEL = {
    WheelDirection.UP: WheelEffect(0, WHEEL_CLICK),
    WheelDirection.DOWN: WheelEffect(0, -WHEEL_CLICK),
    WheelDirection.LEFT: WheelEffect(-WHEEL_CLICK, 0),
    WheelDirection.RIGHT: WheelEffect(WHEEL_CLICK, 0),
}


def wheel_effect(way: WheelDirection) -> WheelEffect:
    """One click of the wheel that way."""
    return _WHEEL[way]


def fire(effect: Effect, context: EffectContext, t_us: int, slot: Slot) -> None:
    """Begins an effect and ends it at once; keys stay down for the shortest time."""
    effect.begin(context, t_us, slot).end(context, t_us)

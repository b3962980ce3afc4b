"""Effects that are simply in force from their beginning to their end."""

from __future__ import annotations

from dataclasses import dataclass
from typing import Any, TypeVar

from nub_shift.engine.effect_context import Effect, EffectContext, PaceFactor, Run, Slot, ViewTurn
from nub_shift.engine.tally import count
from nub_shift.engine.values import WHEEL_CLICK, Place, PlaceBack, Pointer, ProfileRequest, Wheel
from nub_shift.model.profile.effects import PaceOf, WheelDirection

T = TypeVar("T")


class Momentary(Effect):
    """Base of effects that are done with at their beginning: one press begins them once."""

    def resume(self, context: EffectContext, t_us: int, slot: Slot, again: bool) -> Run:
        return NOTHING if again else self.begin(context, t_us, slot)


class Kept(Run):
    """Nothing is in force, but what was begun has changed layers, so that the slot does not follow them."""

    @property
    def owns_slot(self) -> bool:
        return True


NOTHING: Run = Run()
KEPT: Run = Kept()


class KeysEffect(Effect):
    """Keys and mouse buttons, down in order and up in reverse."""

    def __init__(self, codes: tuple[str, ...]) -> None:
        self.codes = codes
        self._run = _KeysRun(codes)  # it remembers nothing of a press, so that one does for all

    def begin(self, context: EffectContext, t_us: int, slot: Slot) -> Run:  # noqa: ARG002 - one signature for all effects
        context.ledger.press(self.codes, t_us, context.times, context.out)
        return self._run


@dataclass(frozen=True, eq=False)
class Counted(Effect):
    """Input of a move, counted as it begins."""

    move: str
    effect: Effect

    @property
    def brings_layers(self) -> bool:
        return self.effect.brings_layers

    def begin(self, context: EffectContext, t_us: int, slot: Slot) -> Run:
        count(context.tally.moves, self.move)
        return self.effect.begin(context, t_us, slot)

    def resume(self, context: EffectContext, t_us: int, slot: Slot, again: bool) -> Run:
        if not again:
            count(context.tally.moves, self.move)
        return self.effect.resume(context, t_us, slot, again)


class _KeysRun(Run):
    """Keys that are held down."""

    def __init__(self, codes: tuple[str, ...]) -> None:
        self._codes = codes

    def end(self, context: EffectContext, t_us: int) -> None:
        context.ledger.release(self._codes, t_us, context.times, context.out)


@dataclass(frozen=True, eq=False)
class Several(Effect):
    """Several effects at once, as one: begun in their order, ended in the reverse."""

    effects: tuple[Effect, ...]

    @property
    def brings_layers(self) -> bool:
        return any(effect.brings_layers for effect in self.effects)

    def begin(self, context: EffectContext, t_us: int, slot: Slot) -> Run:
        return _SeveralRuns([effect.begin(context, t_us, slot) for effect in self.effects])

    def resume(self, context: EffectContext, t_us: int, slot: Slot, again: bool) -> Run:
        return _SeveralRuns([effect.resume(context, t_us, slot, again) for effect in self.effects])


class _SeveralRuns(Run):
    """Runs of several effects."""

    def __init__(self, runs: list[Run]) -> None:
        self._runs = runs

    @property
    def owns_slot(self) -> bool:
        return any(run.owns_slot for run in self._runs)

    def end(self, context: EffectContext, t_us: int) -> None:
        for run in reversed(self._runs):
            run.end(context, t_us)

    def leave(self, context: EffectContext, t_us: int) -> None:
        for run in reversed(self._runs):
            run.leave(context, t_us)

    def cut(self, context: EffectContext, t_us: int) -> None:
        for run in reversed(self._runs):
            run.cut(context, t_us)


@dataclass(frozen=True, eq=False)
class WheelEffect(Momentary):
    """One click of the wheel at the press."""

    x: int
    y: int

    def begin(self, context: EffectContext, t_us: int, slot: Slot) -> Run:  # noqa: ARG002
        context.emit(Wheel(t_us, self.x, self.y))
        return NOTHING


@dataclass(frozen=True, eq=False)
class NudgeEffect(Momentary):
    """Pointer counts at the press."""

    x: int
    y: int

    def begin(self, context: EffectContext, t_us: int, slot: Slot) -> Run:  # noqa: ARG002
        context.emit(Pointer(t_us, self.x, self.y))
        return NOTHING


@dataclass(frozen=True, eq=False)
class ProfileEffect(Momentary):
    """Asks the runner for another profile."""

    title: str

    def begin(self, context: EffectContext, t_us: int, slot: Slot) -> Run:  # noqa: ARG002
        context.emit(ProfileRequest(t_us, self.title))
        return NOTHING


@dataclass(frozen=True, eq=False)
class LayerEffect(Effect):
    """A layer, on while held."""

    layer: int

    @property
    def brings_layers(self) -> bool:
        return True

    def begin(self, context: EffectContext, t_us: int, slot: Slot) -> Run:  # noqa: ARG002
        context.layers.hold(self.layer)
        return _LayerRun(self.layer)


class _LayerRun(Run):
    """A layer that is held on.

    It owns its slot: the layer that it brings on may give the slot something else, and following that would end the
    layer, which would bring it on again.
    """

    def __init__(self, layer: int) -> None:
        self._layer = layer

    @property
    def owns_slot(self) -> bool:
        return True

    def end(self, context: EffectContext, t_us: int) -> None:  # noqa: ARG002
        context.layers.let_go(self._layer)


@dataclass(frozen=True, eq=False)
class StayEffect(Momentary):
    """One of some layers, on to stay, in place of the one before it; each press goes to the next.

    The base layer (0) among them is the place where none of the others is on.
    """

    layers: tuple[int, ...]

    @property
    def brings_layers(self) -> bool:
        return True

    def begin(self, context: EffectContext, t_us: int, slot: Slot) -> Run:  # noqa: ARG002
        now = context.layers.staying
        index = self.layers.index(now) + 1 if now in self.layers else 0
        context.layers.stay(self.layers[index % len(self.layers)])
        return KEPT


class SilenceEffect(Effect):
    """Nothing, on purpose: hides what lower layers have in the slot."""

    def begin(self, context: EffectContext, t_us: int, slot: Slot) -> Run:  # noqa: ARG002
        return NOTHING


class TableEntry(Run):
    """Something that is in force as an entry of one of the context's tables."""

    def __init__(self, table: dict[Run, Any]) -> None:
        self._table = table

    def end(self, context: EffectContext, t_us: int) -> None:  # noqa: ARG002
        del self._table[self]
        context.stale = True


def _enter(context: EffectContext, table: dict[Run, T], value: T) -> Run:
    run = TableEntry(table)
    table[run] = value
    context.stale = True
    return run


@dataclass(frozen=True, eq=False)
class PaceEffect(Effect):
    """A factor on pointer speed while it is in force; `by_depth` all of it only for a slot pressed all the way."""

    factor: float
    by_depth: bool = False
    of: PaceOf = PaceOf.ALL

    def begin(self, context: EffectContext, t_us: int, slot: Slot) -> Run:  # noqa: ARG002
        return _enter(context, context.paces, PaceFactor(self.factor, self.of, slot if self.by_depth else None))


@dataclass(frozen=True, eq=False)
class ScrollEffect(Effect):
    """The wheel turns smoothly while it is in force, at clicks a second for a slot that is pressed all the way."""

    x: float
    y: float

    def begin(self, context: EffectContext, t_us: int, slot: Slot) -> Run:  # noqa: ARG002
        return _enter(context, context.scrolls, (self.x, self.y, slot))


@dataclass(frozen=True, eq=False)
class GlideEffect(Effect):
    """The pointer moves while it is in force, at counts a second for a slot that is pressed all the way."""

    x: float
    y: float

    def begin(self, context: EffectContext, t_us: int, slot: Slot) -> Run:  # noqa: ARG002
        return _enter(context, context.glides, (self.x, self.y, slot))


@dataclass(frozen=True, eq=False)
class MotionEffect(Effect):
    """Motion is switched on or off while it is in force."""

    on: bool

    def begin(self, context: EffectContext, t_us: int, slot: Slot) -> Run:  # noqa: ARG002
        return _enter(context, context.motion_switches, self.on)


@dataclass(frozen=True, eq=False)
class TurnByEffect(Momentary):
    """The view turns by so many counts within a time, whatever becomes of the slot."""

    counts: float
    over_us: int

    def begin(self, context: EffectContext, t_us: int, slot: Slot) -> Run:  # noqa: ARG002
        context.turns.append(ViewTurn(self.counts, t_us, self.over_us))
        context.stale = True
        return NOTHING


@dataclass(frozen=True, eq=False)
class PlaceEffect(Effect):
    """The pointer goes somewhere on the screen, and back at the end if it is to."""

    x: float
    y: float
    back: bool

    def begin(self, context: EffectContext, t_us: int, slot: Slot) -> Run:  # noqa: ARG002
        context.emit(Place(t_us, self.x, self.y))
        return _BACK if self.back else NOTHING

    def resume(self, context: EffectContext, t_us: int, slot: Slot, again: bool) -> Run:
        return NOTHING if again and not self.back else self.begin(context, t_us, slot)


class _PlaceRun(Run):
    """The pointer has been placed."""

    def end(self, context: EffectContext, t_us: int) -> None:
        context.emit(PlaceBack(t_us))


_BACK: Run = _PlaceRun()


@dataclass(frozen=True, eq=False)
class While(Effect):
    """An effect that begins only with a press for which other slots are held; one of each of `slots` will do.

    A toggle that is on may be ended without them.
    """

    effect: Effect
    slots: tuple[frozenset[str], ...]

    @property
    def brings_layers(self) -> bool:
        return self.effect.brings_layers

    def begin(self, context: EffectContext, t_us: int, slot: Slot) -> Run:
        return self.effect.begin(context, t_us, slot) if self._may_begin(context) else NOTHING

    def resume(self, context: EffectContext, t_us: int, slot: Slot, again: bool) -> Run:
        return self.effect.resume(context, t_us, slot, again) if self._may_begin(context) else NOTHING

    def _may_begin(self, context: EffectContext) -> bool:
        held = {slot.name for slot in context.pressed}
        return self.effect in context.memory or not any(held.isdisjoint(one) for one in self.slots)


class RecentreEffect(Momentary):
    """Motion takes its neutral attitude anew."""

    def begin(self, context: EffectContext, t_us: int, slot: Slot) -> Run:  # noqa: ARG002
        context.recentre = context.stale = True
        return NOTHING


_WHEEL = {
    WheelDirection.UP: WheelEffect(0, WHEEL_CLICK),
    WheelDirection.DOWN: WheelEffect(0, -WHEEL_CLICK),
    WheelDirection.LEFT: WheelEffect(-WHEEL_CLICK, 0),
    WheelDirection.RIGHT: WheelEffect(WHEEL_CLICK, 0),
}


def wheel_effect(way: WheelDirection) -> WheelEffect:
    """One click of the wheel that way."""
    return _WHEEL[way]


def fire(effect: Effect, context: EffectContext, t_us: int, slot: Slot) -> Run:
    """Begins an effect and ends it at once; keys stay down for the shortest time. Returns what is over."""
    run = effect.begin(context, t_us, slot)
    run.end(context, t_us)
    return run

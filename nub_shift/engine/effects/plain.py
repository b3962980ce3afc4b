"""Effects without timing: in force from beginning to end."""

from __future__ import annotations

from dataclasses import dataclass
from typing import Any, TypeVar

from nub_shift.engine.effect_context import Effect, EffectContext, PaceFactor, Run, Slot, ViewTurn
from nub_shift.engine.tally import count
from nub_shift.engine.values import WHEEL_CLICK, Place, PlaceBack, Pointer, ProfileRequest, Wheel
from nub_shift.model.profile.effects import PaceOf, WheelDirection

T = TypeVar("T")


class Momentary(Effect):
    """Base of effects that end as soon as they have begun, once per press."""

    def resume(self, context: EffectContext, t_us: int, slot: Slot, again: bool) -> Run:
        return NOTHING if again else self.begin(context, t_us, slot)


class OwnedRun(Run):
    """Empty run of an effect that has changed layers, so that its slot does not follow them."""

    @property
    def owns_slot(self) -> bool:
        return True


NOTHING: Run = Run()
KEPT: Run = OwnedRun()


class KeysEffect(Effect):
    """Keys and mouse buttons, pressed in order and released in reverse."""

    def __init__(self, codes: tuple[str, ...]) -> None:
        self.codes = codes
        self._run = _KeysRun(codes)  # has no state of a press, so that one run serves all

    def begin(self, context: EffectContext, t_us: int, slot: Slot) -> Run:  # noqa: ARG002 - one signature for all effects
        context.ledger.press(self.codes, t_us, context.times, context.out)
        return self._run


@dataclass(frozen=True, eq=False)
class CountedInput(Effect):
    """Input of a move, counted at each beginning."""

    move: str
    effect: Effect

    @property
    def can_change_layers(self) -> bool:
        return self.effect.can_change_layers

    def begin(self, context: EffectContext, t_us: int, slot: Slot) -> Run:
        count(context.tally.moves, self.move)
        return self.effect.begin(context, t_us, slot)

    def resume(self, context: EffectContext, t_us: int, slot: Slot, again: bool) -> Run:
        if not again:
            count(context.tally.moves, self.move)
        return self.effect.resume(context, t_us, slot, again)


class _KeysRun(Run):
    """Held keys."""

    def __init__(self, codes: tuple[str, ...]) -> None:
        self._codes = codes

    def end(self, context: EffectContext, t_us: int) -> None:
        context.ledger.release(self._codes, t_us, context.times, context.out)


@dataclass(frozen=True, eq=False)
class EffectGroup(Effect):
    """Several effects as one, begun in order and ended in reverse."""

    effects: tuple[Effect, ...]

    @property
    def can_change_layers(self) -> bool:
        return any(effect.can_change_layers for effect in self.effects)

    def begin(self, context: EffectContext, t_us: int, slot: Slot) -> Run:
        return _GroupRun([effect.begin(context, t_us, slot) for effect in self.effects])

    def resume(self, context: EffectContext, t_us: int, slot: Slot, again: bool) -> Run:
        return _GroupRun([effect.resume(context, t_us, slot, again) for effect in self.effects])


class _GroupRun(Run):
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
    """Turns the wheel by one click at the press."""

    x: int
    y: int

    def begin(self, context: EffectContext, t_us: int, slot: Slot) -> Run:  # noqa: ARG002
        context.emit(Wheel(t_us, self.x, self.y))
        return NOTHING


@dataclass(frozen=True, eq=False)
class NudgeEffect(Momentary):
    """Moves the pointer by counts at the press."""

    x: int
    y: int

    def begin(self, context: EffectContext, t_us: int, slot: Slot) -> Run:  # noqa: ARG002
        context.emit(Pointer(t_us, self.x, self.y))
        return NOTHING


@dataclass(frozen=True, eq=False)
class ProfileEffect(Momentary):
    """Requests another profile from the runner."""

    title: str

    def begin(self, context: EffectContext, t_us: int, slot: Slot) -> Run:  # noqa: ARG002
        context.emit(ProfileRequest(t_us, self.title))
        return NOTHING


@dataclass(frozen=True, eq=False)
class LayerEffect(Effect):
    """Activates a layer while held."""

    layer: int

    @property
    def can_change_layers(self) -> bool:
        return True

    def begin(self, context: EffectContext, t_us: int, slot: Slot) -> Run:  # noqa: ARG002
        context.layers.hold(self.layer)
        return _LayerRun(self.layer)


class _LayerRun(Run):
    """Holder of a layer.

    The run owns its slot: the layer may give the slot another effect, and following the layer would end the layer,
    which would activate it again.
    """

    def __init__(self, layer: int) -> None:
        self._layer = layer

    @property
    def owns_slot(self) -> bool:
        return True

    def end(self, context: EffectContext, t_us: int) -> None:  # noqa: ARG002
        context.layers.drop(self._layer)


@dataclass(frozen=True, eq=False)
class StayEffect(Momentary):
    """Activates one of several layers to stay, in place of the former one; each press chooses the next.

    The base layer (0) among them stands for none of the others.
    """

    layers: tuple[int, ...]

    @property
    def can_change_layers(self) -> bool:
        return True

    def begin(self, context: EffectContext, t_us: int, slot: Slot) -> Run:  # noqa: ARG002
        now = context.layers.staying
        index = self.layers.index(now) + 1 if now in self.layers else 0
        context.layers.stay(self.layers[index % len(self.layers)])
        return KEPT


class SilenceEffect(Effect):
    """Does nothing, and hides the effects of lower layers."""

    def begin(self, context: EffectContext, t_us: int, slot: Slot) -> Run:  # noqa: ARG002
        return NOTHING


class TableEntry(Run):
    """Base of effects that are an entry in one of the context's tables while in force."""

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
    """Sets a factor on pointer speed; with `by_depth` scaled by the depth of the slot."""

    factor: float
    by_depth: bool = False
    of: PaceOf = PaceOf.ALL

    def begin(self, context: EffectContext, t_us: int, slot: Slot) -> Run:  # noqa: ARG002
        return _enter(context, context.paces, PaceFactor(self.factor, self.of, slot if self.by_depth else None))


@dataclass(frozen=True, eq=False)
class ScrollEffect(Effect):
    """Scrolls smoothly, in clicks a second at full depth."""

    x: float
    y: float

    def begin(self, context: EffectContext, t_us: int, slot: Slot) -> Run:  # noqa: ARG002
        return _enter(context, context.scrolls, (self.x, self.y, slot))


@dataclass(frozen=True, eq=False)
class GlideEffect(Effect):
    """Moves the pointer, in counts a second at full depth."""

    x: float
    y: float

    def begin(self, context: EffectContext, t_us: int, slot: Slot) -> Run:  # noqa: ARG002
        return _enter(context, context.glides, (self.x, self.y, slot))


@dataclass(frozen=True, eq=False)
class MotionEffect(Effect):
    """Switches motion on or off."""

    on: bool

    def begin(self, context: EffectContext, t_us: int, slot: Slot) -> Run:  # noqa: ARG002
        return _enter(context, context.motion_switches, self.on)


@dataclass(frozen=True, eq=False)
class TurnByEffect(Momentary):
    """Turns the view by counts within a time, whatever happens to the slot."""

    counts: float
    over_us: int

    def begin(self, context: EffectContext, t_us: int, slot: Slot) -> Run:  # noqa: ARG002
        context.turns.append(ViewTurn(self.counts, t_us, self.over_us))
        context.stale = True
        return NOTHING


@dataclass(frozen=True, eq=False)
class PlaceEffect(Effect):
    """Moves the pointer to a place on the screen, and back at the end if requested."""

    x: float
    y: float
    back: bool

    def begin(self, context: EffectContext, t_us: int, slot: Slot) -> Run:  # noqa: ARG002
        context.emit(Place(t_us, self.x, self.y))
        return _BACK if self.back else NOTHING

    def resume(self, context: EffectContext, t_us: int, slot: Slot, again: bool) -> Run:
        return NOTHING if again and not self.back else self.begin(context, t_us, slot)


class _PlaceRun(Run):
    """Run of a placed pointer."""

    def end(self, context: EffectContext, t_us: int) -> None:
        context.emit(PlaceBack(t_us))


_BACK: Run = _PlaceRun()


@dataclass(frozen=True, eq=False)
class HeldCondition(Effect):
    """An effect that begins only while one of `slots` is held.

    A toggle that is on may be switched off without them.
    """

    effect: Effect
    slots: tuple[frozenset[str], ...]

    @property
    def can_change_layers(self) -> bool:
        return self.effect.can_change_layers

    def begin(self, context: EffectContext, t_us: int, slot: Slot) -> Run:
        return self.effect.begin(context, t_us, slot) if self._may_begin(context) else NOTHING

    def resume(self, context: EffectContext, t_us: int, slot: Slot, again: bool) -> Run:
        return self.effect.resume(context, t_us, slot, again) if self._may_begin(context) else NOTHING

    def _may_begin(self, context: EffectContext) -> bool:
        held = {slot.name for slot in context.pressed}
        return self.effect in context.memory or not any(held.isdisjoint(one) for one in self.slots)


class RecentreEffect(Momentary):
    """Takes the neutral attitude of motion again."""

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
    """Returns the effect of one wheel click in a direction."""
    return _WHEEL[way]


def fire(effect: Effect, context: EffectContext, t_us: int, slot: Slot) -> Run:
    """Begins an effect and ends it at once; keys stay down for the shortest time. Returns the ended run."""
    run = effect.begin(context, t_us, slot)
    run.end(context, t_us)
    return run

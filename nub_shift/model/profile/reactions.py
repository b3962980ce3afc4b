"""Reactions of a slot or of several pressed together: press, tap, hold, double tap, release."""

from __future__ import annotations

from collections.abc import Callable, Iterable
from enum import Enum
from typing import Annotated, Any, Self, TypeVar, assert_never

from msgspec import Meta
from msgspec.structs import replace

from nub_shift.model.profile.actions import A, Action
from nub_shift.model.profile.effects import (
    ChooseFromRing,
    Drag,
    Flick,
    PointerPosition,
    PointerSpeed,
    Scroll,
    StickUse,
    Tilt,
    Turn,
)
from nub_shift.model.profile.schema_types import Identifier, Milliseconds
from nub_shift.translation import tr


class Reaction(Enum):
    """Part of a press that starts an effect."""

    PRESS = "press"
    TAP = "tap"
    HOLD = "hold"
    LONG_HOLD = "long_hold"
    DOUBLE_TAP = "double_tap"
    TRIPLE_TAP = "triple_tap"
    RELEASE = "release"


class Hold(Action, frozen=True):
    """Action of a press that has lasted for `after_ms`, until the release."""

    after_ms: Milliseconds = 300


class LongHold(Hold, frozen=True):
    """Action of a longer hold, in place of the first hold's."""

    after_ms: Milliseconds = 1000


class MoreTaps(Action, frozen=True):
    """Action at the last of several taps, each within `within_ms` of the release before."""

    within_ms: Milliseconds = 250


class Release(Action, frozen=True):
    """Action at the release of a press that was at least `after_ms` long."""

    after_ms: Annotated[int, Meta(ge=0, le=5000, description=tr("milliseconds, from 0 to 5000"))] = 0


_KINDS: dict[Reaction, type[Action]] = {
    Reaction.TAP: Action,
    Reaction.HOLD: Hold,
    Reaction.LONG_HOLD: LongHold,
    Reaction.DOUBLE_TAP: MoreTaps,
    Reaction.TRIPLE_TAP: MoreTaps,
    Reaction.RELEASE: Release,
}


# Cached, since enumeration values are looked up slowly and reactions often.
_FURTHER = tuple((reaction, reaction.value) for reaction in _KINDS)


class Reacting(Action, frozen=True):
    """Actions over the course of a press.

    The effect of the struct itself starts at the press. The others are further reactions; a press that ends within
    `tap_ms`, and before a hold has started, is a tap.
    """

    tap: Action | None = None
    hold: Hold | None = None
    long_hold: LongHold | None = None
    double_tap: MoreTaps | None = None
    triple_tap: MoreTaps | None = None
    release: Release | None = None
    tap_ms: Milliseconds = 250

    @property
    def reactions(self) -> dict[Reaction, Action]:
        """All actions by reaction; the struct itself stands for the press."""
        found: dict[Reaction, Action] = {Reaction.PRESS: self} if self.effect is not None else {}
        for reaction, name in _FURTHER:
            action = getattr(self, name)
            if action is not None:
                found[reaction] = action
        return found

    def further(self, reaction: Reaction) -> Action | None:
        """Returns the action of a reaction other than the press."""
        if reaction is Reaction.PRESS:
            return None
        found: Action | None = getattr(self, reaction.value)
        return found

    def with_reaction(self, reaction: Reaction, action: Action | None) -> Self:
        """Returns a copy with another action for a reaction, keeping its time; None removes the reaction."""
        if reaction is Reaction.PRESS:
            return replace(self, **(action or Action()).own_fields)
        return replace(self, **{reaction.value: _as_kind(_KINDS[reaction], action, self.further(reaction))})

    @property
    def first_hold_ms(self) -> int | None:
        """Time of the first hold; a shorter press is a tap."""
        first = self.hold or self.long_hold
        return first.after_ms if first is not None else None


R = TypeVar("R", bound=Reacting)


def time_of(reacting: Reacting, reaction: Reaction) -> int | None:
    """Returns the time set for a reaction, in milliseconds; None if unset or if the reaction has none."""
    match reaction:
        case Reaction.PRESS:
            return None
        case Reaction.TAP:
            return reacting.tap_ms
        case Reaction.HOLD:
            return reacting.hold.after_ms if reacting.hold is not None else None
        case Reaction.LONG_HOLD:
            return reacting.long_hold.after_ms if reacting.long_hold is not None else None
        case Reaction.DOUBLE_TAP:
            return reacting.double_tap.within_ms if reacting.double_tap is not None else None
        case Reaction.TRIPLE_TAP:
            return reacting.triple_tap.within_ms if reacting.triple_tap is not None else None
        case Reaction.RELEASE:
            return reacting.release.after_ms if reacting.release is not None else None
        case _:
            assert_never(reaction)


def with_time(reacting: R, reaction: Reaction, milliseconds: int) -> R:
    """Returns a copy with another time for a reaction that has one."""
    match reaction:
        case Reaction.PRESS:
            return reacting
        case Reaction.TAP:
            return replace(reacting, tap_ms=milliseconds)
        case Reaction.HOLD | Reaction.LONG_HOLD | Reaction.RELEASE:
            name = "after_ms"
        case Reaction.DOUBLE_TAP | Reaction.TRIPLE_TAP:
            name = "within_ms"
        case _:
            assert_never(reaction)
    found = reacting.further(reaction)
    return replace(reacting, **{reaction.value: replace(found, **{name: milliseconds})}) if found else reacting


class Assignment(Reacting, frozen=True):
    """Actions of one slot in one layer."""

    pointer: PointerSpeed | None = None
    position: PointerPosition | None = None
    turn: Turn | None = None
    tilt: Tilt | None = None
    flick: Flick | None = None
    ring: Identifier | None = None
    drag: Drag | None = None

    @classmethod
    def of_use(cls, use: StickUse) -> Assignment:
        """Builds the assignment of a whole stick, a surface or motion."""
        return cls(**_written_use(use))

    @classmethod
    def of_uses(cls, uses: Iterable[StickUse]) -> Assignment:
        """Builds the assignment of motion with both turning and tilting."""
        return cls(**{name: value for use in uses for name, value in _written_use(use).items()})

    @property
    def uses(self) -> tuple[StickUse, ...]:
        """Uses of a whole stick, surface or motion, turning first; a scroll is an effect as well."""
        return tuple(read(value) for name, read in _READ_USE.items() if (value := getattr(self, name)) is not None)

    @property
    def use(self) -> StickUse | None:
        """Use of a whole stick, surface or motion; None for a pressed slot and for silence.

        For motion with turning and tilting, the use of turning; `uses` has both.
        """
        return next(iter(self.uses), None)

    def without_use(self) -> Assignment:
        """Returns the assignment without the keys of a whole stick, surface or motion."""
        return replace(self, pointer=None, position=None, turn=None, tilt=None, flick=None, ring=None, drag=None)


_READ_USE: dict[str, Callable[[Any], StickUse]] = {
    "turn": lambda turn: turn,
    "pointer": lambda speed: speed,
    "position": lambda position: position,
    "scroll": lambda scroll: scroll,
    "drag": lambda drag: drag,
    "ring": ChooseFromRing,
    "tilt": lambda tilt: tilt,
    "flick": lambda flick: flick,
}


def _written_use(use: StickUse) -> dict[str, Any]:
    """Returns the keys of an assignment's table for a use of a whole stick."""
    match use:
        case PointerSpeed():
            return {"pointer": use}
        case PointerPosition():
            return {"position": use}
        case Scroll():
            return {"scroll": use}
        case Drag():
            return {"drag": use}
        case ChooseFromRing(ring):
            return {"ring": ring}
        case Turn():
            return {"turn": use}
        case Tilt():
            return {"tilt": use}
        case Flick():
            return {"flick": use}
        case _:
            assert_never(use)


def _as_kind(kind: type[A], action: Action | None, before: A | None) -> A | None:
    """Returns an action as the struct of a reaction, with the time of the former one."""
    if action is None:
        return None
    own = action.own_fields
    return replace(before, **own) if before is not None else kind(**own)


class Order(Enum):
    """Order in which slots are pressed together: any, within a time; or given, with the last one pressed while the
    others are held.
    """

    ANY = "any"
    GIVEN = "given"


Gesture = frozenset[str] | tuple[str, ...]


class Together(Reacting, frozen=True):
    """Actions of two or three slots pressed together, until the first release.

    In `any` order all presses must come within `within_ms`, for which the slots' own actions wait. In the `given` order
    the last slot is pressed while the others are held, however long; nothing waits. A hold counts from the press of the
    last slot.
    """

    slots: Annotated[
        tuple[str, ...], Meta(min_length=2, max_length=3, description=tr("a list of two or three slots"))
    ] = ()
    within_ms: Milliseconds = 60
    order: Order = Order.ANY

    @property
    def gesture(self) -> Gesture:
        """Key of the combination; a layer has one `Together` for each, which overrides the one below."""
        return frozenset(self.slots) if self.order is Order.ANY else self.slots


def waiting_ms(reacting: Reacting, partner_ms: int = 0) -> dict[Reaction, int]:
    """Returns the milliseconds that each reaction waits because of the others, beyond the gesture itself.

    A press waits as long as a partner may come (`partner_ms`, for a slot that has one). A hold waits its own time. A
    tap waits after its release as long as a further tap may come, and so does a double tap if there is a triple.
    """
    waits = dict.fromkeys(reacting.reactions, 0)
    if Reaction.PRESS in waits:
        waits[Reaction.PRESS] = partner_ms
    for hold in (Reaction.HOLD, Reaction.LONG_HOLD):
        after_ms = time_of(reacting, hold)
        if after_ms is not None:
            waits[hold] = max(after_ms, partner_ms)
    double, triple = reacting.double_tap, reacting.triple_tap
    further = double or triple
    if further is not None and reacting.tap is not None:
        waits[Reaction.TAP] = further.within_ms
    if double is not None and triple is not None:
        waits[Reaction.DOUBLE_TAP] = triple.within_ms
    return waits

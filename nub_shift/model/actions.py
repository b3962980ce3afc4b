"""What slots can do: effects with their manners, by the reaction that starts them; sequences, carousels, rings.

The structs here are the tables of a profile file: flat, as a person writes them. `Action.effect` and `Assignment.use`
read what such a table says as one member of the closed sum types in `model.effects`, and `Action.of` writes it. Nothing
but this module and the check of files looks at the single keys of these tables.
"""

from __future__ import annotations

from collections.abc import Callable
from enum import Enum
from typing import Annotated, Any, TypeVar, assert_never

from msgspec import Meta
from msgspec.structs import fields, replace

from nub_shift.model.effects import (
    AskForProfile,
    CarouselStep,
    ChangePace,
    ChooseFromRing,
    ClickWheel,
    DoMove,
    Drag,
    Effect,
    Flick,
    Glide,
    HoldLayer,
    MotionSwitch,
    NextLayer,
    Nudge,
    Pace,
    PlaySequence,
    PointerPosition,
    PointerSpeed,
    PressKeys,
    Scroll,
    Silence,
    StayOnLayer,
    StickUse,
    SwitchMotion,
    Tilt,
    Turn,
    WheelDirection,
)
from nub_shift.model.schema_types import MAX_LABEL, Identifier, KeyCodes, Milliseconds, Record
from nub_shift.translation import tr


class Manner(Enum):
    """How an effect is kept up."""

    HELD = "held"
    ONCE = "once"
    TOGGLE = "toggle"
    TURBO = "turbo"
    TOGGLE_TURBO = "toggle_turbo"
    PULSE = "pulse"
    LOCK = "lock"


class Reaction(Enum):
    """What of a press starts an effect."""

    PRESS = "press"
    TAP = "tap"
    HOLD = "hold"
    DOUBLE_TAP = "double_tap"
    RELEASE = "release"


A = TypeVar("A", bound="Action")
MAX_ALSO = 4


class Action(Record, frozen=True):
    """Something to do: exactly one effect, the manner in which it is kept up, and what begins `also` with it.

    A scroll and a glide go as fast as their control is pulled or pushed; a button knows only all of it.

    Turbo goes down and up `rate_hz` times a second and is down for the part `duty` of each; pulse goes at the same rate
    and is down for as much of it as the control is deflected. With `light_hz` turbo goes that often for a slot that is
    barely pressed, and `rate_hz` times for one that is pressed all the way. A toggle with `regain` comes back on after
    a pause; of the toggles of one `group` the last one ends the others; a press of any slot in `ended_by` ends it. What
    is kept up as `lock` ends with the release of a press that is shorter than `lock_ms`; after a longer one it stays on
    until the next press. `linger_ms` is for how long it stays in force after the release. A pace goes `by_depth` if
    it is reached only by a slot that is pressed all the way.
    """

    move: Identifier | None = None
    keys: KeyCodes = ()
    wheel: WheelDirection | None = None
    scroll: Scroll | None = None
    glide: Glide | None = None
    nudge: Nudge | None = None
    sequence: Identifier | None = None
    carousel: CarouselStep | None = None
    layer: Identifier | None = None
    stay: Identifier | None = None
    next: Annotated[tuple[str, ...], Meta(max_length=24, description=tr("a list of layer ids"))] = ()
    motion: MotionSwitch | None = None
    pace: Pace | None = None
    profile: Annotated[str, Meta(max_length=MAX_LABEL, description=tr("the title of a profile"))] = ""
    silence: bool = False
    manner: Manner = Manner.HELD
    rate_hz: Annotated[float, Meta(ge=1.0, le=60.0, description=tr("times a second, from 1 to 60"))] = 10.0
    duty: Annotated[float, Meta(ge=0.05, le=0.95, description=tr("a number from 0.05 to 0.95"))] = 0.5
    light_hz: Annotated[float, Meta(ge=1.0, le=60.0, description=tr("times a second, from 1 to 60"))] | None = None
    regain: bool = False
    group: Identifier | None = None
    ended_by: Annotated[tuple[str, ...], Meta(max_length=8, description=tr("a list of up to 8 slots"))] = ()
    lock_ms: Milliseconds = 400
    linger_ms: Annotated[int, Meta(ge=0, le=10000, description=tr("milliseconds, from 0 to 10000"))] = 0
    by_depth: bool = False
    also: Annotated[
        tuple[Action, ...], Meta(max_length=MAX_ALSO, description=tr("up to {most} actions", most=MAX_ALSO))
    ] = ()

    @classmethod
    def of(cls: type[A], effect: Effect, **settings: Any) -> A:
        """An action that has an effect; `settings` are its manner, and what else the table of its kind says."""
        return cls(**_written(effect), **settings)

    @property
    def effects(self) -> tuple[Effect, ...]:
        """All effects that the table names: exactly one in a file that has been checked, none if it has only others."""
        return tuple(read(value) for name, read in _READ.items() if (value := getattr(self, name)))

    @property
    def effect(self) -> Effect | None:
        """The effect; None for an assignment that has further reactions only."""
        for name, read in _READ.items():
            value = getattr(self, name)
            if value:
                return read(value)
        return None

    @property
    def parts(self) -> tuple[Action, ...]:
        """The action by itself, then what begins with it."""
        return (replace(self.bare, also=()), *self.also) if self.also else (self,)

    @property
    def bare(self) -> Action:
        """The same effect in the same manner, without what else an assignment, a pair or an entry says."""
        return Action(**self.own_fields)

    @property
    def own_fields(self) -> dict[str, Any]:
        """What the bare action says, by the keys of its table."""
        return {name: getattr(self, name) for name in Action.__struct_fields__}


def with_effect(action: A, effect: Effect | None) -> A:
    """The action with another effect, or with none; all else stays."""
    return replace(action, **_NO_EFFECT | (_written(effect) if effect is not None else {}))


# The manners that press again and again at a rate, and those of them that do so with a fixed part of the time down.
TURBOS = frozenset((Manner.TURBO, Manner.TOGGLE_TURBO))
REPEATS = TURBOS | {Manner.PULSE}
# Settings that do something in some manners only.
_ON_AND_OFF = frozenset((Manner.TOGGLE, Manner.TOGGLE_TURBO, Manner.LOCK))
ONLY_IN: dict[str, frozenset[Manner]] = {
    "group": _ON_AND_OFF,
    "ended_by": _ON_AND_OFF,
    "light_hz": TURBOS,
    "linger_ms": frozenset((Manner.HELD, Manner.TURBO, Manner.PULSE)),
}


def with_manner(action: A, manner: Manner) -> A:
    """The action kept up otherwise, without the settings that would do nothing then."""
    defaults = {field.name: field.default for field in fields(Action)}
    dropped = {name: defaults[name] for name, manners in ONLY_IN.items() if manner not in manners}
    return replace(action, manner=manner, **dropped)


# How each key of an action's table is read, in the order in which they are told.
_READ: dict[str, Callable[[Any], Effect]] = {
    "move": DoMove,
    "keys": PressKeys,
    "wheel": ClickWheel,
    "scroll": lambda scroll: scroll,
    "glide": lambda glide: glide,
    "nudge": lambda nudge: nudge,
    "sequence": PlaySequence,
    "carousel": lambda step: step,
    "layer": HoldLayer,
    "stay": StayOnLayer,
    "next": NextLayer,
    "motion": SwitchMotion,
    "pace": ChangePace,
    "profile": AskForProfile,
    "silence": lambda _: Silence(),
}
EFFECT_NAMES = tuple(_READ)
_NO_EFFECT = {field.name: field.default for field in fields(Action) if field.name in _READ}


def _written(effect: Effect) -> dict[str, Any]:
    """The keys of an action's table that say an effect."""
    match effect:
        case DoMove(move):
            return {"move": move}
        case PressKeys(keys):
            return {"keys": keys}
        case ClickWheel(direction):
            return {"wheel": direction}
        case Scroll():
            return {"scroll": effect}
        case Glide():
            return {"glide": effect}
        case Nudge():
            return {"nudge": effect}
        case PlaySequence(sequence):
            return {"sequence": sequence}
        case CarouselStep():
            return {"carousel": effect}
        case HoldLayer(layer):
            return {"layer": layer}
        case StayOnLayer(layer):
            return {"stay": layer}
        case NextLayer(layers):
            return {"next": layers}
        case SwitchMotion(switch):
            return {"motion": switch}
        case ChangePace(factor):
            return {"pace": factor}
        case AskForProfile(title):
            return {"profile": title}
        case Silence():
            return {"silence": True}
        case _:
            assert_never(effect)


class Hold(Action, frozen=True):
    """What starts when a slot has been held for `after_ms`, until its release."""

    after_ms: Milliseconds = 300


class DoubleTap(Action, frozen=True):
    """What starts at the second press, if it comes within `within_ms` of the release of a tap, until its release."""

    within_ms: Milliseconds = 250


class Assignment(Action, frozen=True):
    """What one slot does in one layer.

    The effect that stands here itself starts at the press. The others are further reactions; a press that ends within
    `tap_ms`, and before a hold has started, is a tap.
    """

    pointer: PointerSpeed | None = None
    position: PointerPosition | None = None
    turn: Turn | None = None
    tilt: Tilt | None = None
    flick: Flick | None = None
    ring: Identifier | None = None
    drag: Drag | None = None
    tap: Action | None = None
    hold: Hold | None = None
    double_tap: DoubleTap | None = None
    release: Action | None = None
    tap_ms: Milliseconds = 250

    @classmethod
    def of_use(cls, use: StickUse) -> Assignment:
        """A whole stick's, a surface's or motion's assignment."""
        return cls(**_written_use(use))

    @property
    def uses(self) -> tuple[StickUse, ...]:
        """All that the table says of a whole stick, surface or motion; a scroll is one as well as an effect."""
        return tuple(read(value) for name, read in _READ_USE.items() if (value := getattr(self, name)) is not None)

    @property
    def use(self) -> StickUse | None:
        """What a whole stick, surface or motion does; None for a slot that is pressed, and for silence."""
        return next(iter(self.uses), None)

    @property
    def reactions(self) -> dict[Reaction, Action]:
        """All that starts, by reaction; what stands in the assignment itself starts at the press."""
        found: dict[Reaction, Action] = {Reaction.PRESS: self} if self.effect is not None else {}
        for reaction in Reaction:
            action = self.further(reaction)
            if action is not None:
                found[reaction] = action
        return found

    def without_use(self) -> Assignment:
        """The assignment without what only a whole stick, surface or motion does."""
        return replace(self, pointer=None, position=None, turn=None, tilt=None, flick=None, ring=None, drag=None)

    def further(self, reaction: Reaction) -> Action | None:
        """What starts with a reaction other than the press."""
        match reaction:
            case Reaction.PRESS:
                return None
            case Reaction.TAP:
                return self.tap
            case Reaction.HOLD:
                return self.hold
            case Reaction.DOUBLE_TAP:
                return self.double_tap
            case Reaction.RELEASE:
                return self.release
            case _:
                assert_never(reaction)

    def with_reaction(self, reaction: Reaction, action: Action | None) -> Assignment:
        """The assignment with something else for one reaction, with the time that is set there; None takes it away."""
        match reaction:
            case Reaction.PRESS:
                return replace(self, **(action or Action()).own_fields)
            case Reaction.TAP:
                return replace(self, tap=action.bare if action is not None else None)
            case Reaction.HOLD:
                return replace(self, hold=_as_kind(Hold, action, self.hold))
            case Reaction.DOUBLE_TAP:
                return replace(self, double_tap=_as_kind(DoubleTap, action, self.double_tap))
            case Reaction.RELEASE:
                return replace(self, release=action.bare if action is not None else None)
            case _:
                assert_never(reaction)


_READ_USE: dict[str, Callable[[Any], StickUse]] = {
    "pointer": lambda speed: speed,
    "position": lambda position: position,
    "scroll": lambda scroll: scroll,
    "drag": lambda drag: drag,
    "ring": ChooseFromRing,
    "turn": lambda turn: turn,
    "tilt": lambda tilt: tilt,
    "flick": lambda flick: flick,
}


def _written_use(use: StickUse) -> dict[str, Any]:
    """The keys of an assignment's table that say what a whole stick does."""
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
    """An action as what stands at a reaction, with the time that was set there."""
    if action is None:
        return None
    own = action.own_fields
    return replace(before, **own) if before is not None else kind(**own)


class Order(Enum):
    """In which order slots are pressed together: in any, within a time; or the last while the others are held."""

    ANY = "any"
    GIVEN = "given"


Gesture = frozenset[str] | tuple[str, ...]


class Together(Action, frozen=True):
    """What two or three slots do when they are pressed together, until one is let go.

    In `any` order all must come within `within_ms`, and what they do by themselves waits for that. In the `given` order
    the last one is pressed while the others are held, however long; nothing waits.
    """

    slots: Annotated[
        tuple[str, ...], Meta(min_length=2, max_length=3, description=tr("a list of two or three slots"))
    ] = ()
    within_ms: Milliseconds = 60
    order: Order = Order.ANY

    @property
    def gesture(self) -> Gesture:
        """What the hand does; a layer has one `Together` for each, which replaces the one of the layers below."""
        return frozenset(self.slots) if self.order is Order.ANY else self.slots


def waiting_ms(assignment: Assignment, partner_ms: int = 0) -> dict[Reaction, int]:
    """How many milliseconds each reaction waits, beyond the gesture itself, because of the others.

    A press waits as long as a partner may come (`partner_ms`, for a slot that has one). A hold waits its own time. A
    tap waits, after the release, as long as a second tap may come.
    """
    waits = dict.fromkeys(assignment.reactions, 0)
    if Reaction.PRESS in waits:
        waits[Reaction.PRESS] = partner_ms
    if assignment.hold is not None:
        waits[Reaction.HOLD] = max(assignment.hold.after_ms, partner_ms)
    if assignment.tap is not None and assignment.double_tap is not None:
        waits[Reaction.TAP] = assignment.double_tap.within_ms
    return waits

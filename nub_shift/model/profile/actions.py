"""Actions of slots: effects and manners, grouped by reaction; sequences, carousels, rings.

The structs are the tables of a profile file, flat for readers of the file. `Action.effect` and `Assignment.use` read a
table as one member of the closed sum types in `model.profile.effects`, and `Action.of` writes the table. Only this
module and the check of files read the single keys of these tables.
"""

from __future__ import annotations

from collections.abc import Callable
from enum import Enum
from typing import Annotated, Any, TypeVar, assert_never

from msgspec import Meta, field
from msgspec.structs import fields, replace

from nub_shift.model.profile.effects import (
    CarouselStep,
    ChangePace,
    ClickWheel,
    DoMove,
    Effect,
    Glide,
    HoldLayer,
    MotionSwitch,
    NextLayer,
    Nudge,
    Pace,
    PaceOf,
    PlacePointer,
    PlaySequence,
    PressKeys,
    RequestProfile,
    Scroll,
    Silence,
    StayOnLayer,
    SwitchMotion,
    TurnBy,
    WheelDirection,
)
from nub_shift.model.profile.schema_types import MAX_LABEL, Identifier, KeyCodes, Milliseconds, Record
from nub_shift.translation import tr


class Manner(Enum):
    """How an effect is kept up or repeated."""

    HELD = "held"
    ONCE = "once"
    TOGGLE = "toggle"
    TURBO = "turbo"
    TOGGLE_TURBO = "toggle_turbo"
    PULSE = "pulse"
    LOCK = "lock"


A = TypeVar("A", bound="Action")
MAX_ALSO = 4


class Action(Record, frozen=True):
    """Exactly one effect, its manner, and the actions that begin `also` with it.

    A scroll and a glide scale with the depth of their control; a button is always at full depth.

    Turbo presses `rate_hz` times a second and is down for the part `duty` of each period; pulse has the same rate, and
    the depth of the control as its duty. With `light_hz` both rates rise with depth, from `light_hz` to `rate_hz`. A
    toggle with `regain` switches on again after a pause; the toggles of one `group` end each other; a press of any slot
    in `ended_by` ends the toggle. In the manner `lock`, a press shorter than `lock_ms` ends with its release, and a
    longer one stays on until the next press. `linger_ms` is the time in force after the release. A pace with `by_depth`
    scales with depth; `pace_of` selects the looking that the pace changes. An action with `while` begins only while all
    of these slots are held.
    """

    move: Identifier | None = None
    keys: KeyCodes = ()
    wheel: WheelDirection | None = None
    scroll: Scroll | None = None
    glide: Glide | None = None
    nudge: Nudge | None = None
    turn_by: TurnBy | None = None
    place: PlacePointer | None = None
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
    pace_of: PaceOf = PaceOf.ALL
    while_: Annotated[tuple[str, ...], Meta(max_length=4, description=tr("a list of up to 4 slots"))] = field(
        default=(), name="while"
    )
    also: Annotated[
        tuple[Action, ...], Meta(max_length=MAX_ALSO, description=tr("up to {most} actions", most=MAX_ALSO))
    ] = ()

    @classmethod
    def of(cls: type[A], effect: Effect, **settings: Any) -> A:
        """Builds an action from an effect; `settings` are its manner and further keys of the table."""
        return cls(**_written(effect), **settings)

    @property
    def effects(self) -> tuple[Effect, ...]:
        """Effects named in the table: exactly one in a checked file, none in a table of further reactions alone."""
        return tuple(read(value) for name, read in _READ.items() if (value := getattr(self, name)))

    @property
    def effect(self) -> Effect | None:
        """The effect; None for an assignment of further reactions alone."""
        for name, read in _READ.items():
            value = getattr(self, name)
            if value:
                return read(value)
        return None

    @property
    def parts(self) -> tuple[Action, ...]:
        """The action itself, then the actions that begin with it."""
        return (replace(self.bare, also=()), *self.also) if self.also else (self,)

    @property
    def bare(self) -> Action:
        """The effect and its manner alone, without further keys of an assignment, a pair or an entry."""
        return Action(**self.own_fields)

    @property
    def own_fields(self) -> dict[str, Any]:
        """Fields of the bare action, by the keys of its table."""
        return {name: getattr(self, name) for name in Action.__struct_fields__}


def with_effect(action: A, effect: Effect | None) -> A:
    """Returns the action with another effect or none, otherwise unchanged."""
    return replace(action, **_NO_EFFECT | (_written(effect) if effect is not None else {}))


# Manners that press repeatedly, and the ones among them with a fixed duty.
TURBOS = frozenset((Manner.TURBO, Manner.TOGGLE_TURBO))
REPEATS = TURBOS | {Manner.PULSE}
# Settings that apply to some manners only.
_ON_AND_OFF = frozenset((Manner.TOGGLE, Manner.TOGGLE_TURBO, Manner.LOCK))
ONLY_IN: dict[str, frozenset[Manner]] = {
    "group": _ON_AND_OFF,
    "ended_by": _ON_AND_OFF,
    "light_hz": REPEATS,
    "linger_ms": frozenset((Manner.HELD, Manner.TURBO, Manner.PULSE)),
}


def with_manner(action: A, manner: Manner) -> A:
    """Returns the action in another manner, without the settings that do not apply to it."""
    defaults = {field.name: field.default for field in fields(Action)}
    dropped = {name: defaults[name] for name, manners in ONLY_IN.items() if manner not in manners}
    return replace(action, manner=manner, **dropped)


# Reader of each key of an action's table, in the order of the format's description.
_READ: dict[str, Callable[[Any], Effect]] = {
    "move": DoMove,
    "keys": PressKeys,
    "wheel": ClickWheel,
    "scroll": lambda scroll: scroll,
    "glide": lambda glide: glide,
    "nudge": lambda nudge: nudge,
    "turn_by": lambda turn: turn,
    "place": lambda place: place,
    "sequence": PlaySequence,
    "carousel": lambda step: step,
    "layer": HoldLayer,
    "stay": StayOnLayer,
    "next": NextLayer,
    "motion": SwitchMotion,
    "pace": ChangePace,
    "profile": RequestProfile,
    "silence": lambda _: Silence(),
}
EFFECT_NAMES = tuple(_READ)
_NO_EFFECT = {field.name: field.default for field in fields(Action) if field.name in _READ}


def _written(effect: Effect) -> dict[str, Any]:
    """Returns the keys of an action's table for an effect."""
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
        case TurnBy():
            return {"turn_by": effect}
        case PlacePointer():
            return {"place": effect}
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
        case RequestProfile(title):
            return {"profile": title}
        case Silence():
            return {"silence": True}
        case _:
            assert_never(effect)

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
    Turn,
    WheelDirection,
)
from nub_shift.model.schema_types import MAX_LABEL, Identifier, KeyCodes, Label, Milliseconds, Record, ShortLabel


class Manner(Enum):
    """How an effect is kept up."""

    HELD = "held"
    ONCE = "once"
    TOGGLE = "toggle"
    TURBO = "turbo"
    PULSE = "pulse"


class Reaction(Enum):
    """What of a press starts an effect."""

    PRESS = "press"
    TAP = "tap"
    HOLD = "hold"
    DOUBLE_TAP = "double_tap"
    RELEASE = "release"


A = TypeVar("A", bound="Action")


class Action(Record, frozen=True):
    """Something to do: exactly one effect, and the manner in which it is kept up.

    A scroll and a glide go as fast as their control is pulled or pushed; a button knows only all of it.

    Turbo goes down and up `rate_hz` times a second and is down for the part `duty` of each; pulse goes at the same rate
    and is down for as much of it as the control is deflected. A toggle with `regain` comes back on after a pause.
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
    next: Annotated[tuple[str, ...], Meta(max_length=24, description="a list of layer ids")] = ()
    motion: MotionSwitch | None = None
    pace: Pace | None = None
    profile: Annotated[str, Meta(max_length=MAX_LABEL, description="the title of a profile")] = ""
    silence: bool = False
    manner: Manner = Manner.HELD
    rate_hz: Annotated[float, Meta(ge=1.0, le=60.0, description="times a second, from 1 to 60")] = 10.0
    duty: Annotated[float, Meta(ge=0.05, le=0.95, description="a number from 0.05 to 0.95")] = 0.5
    regain: bool = False

    @classmethod
    def of(cls: type[A], effect: Effect, **settings: Any) -> A:
        """An action that has an effect; `settings` are its manner, and what else the table of its kind says."""
        return cls(**_written(effect), **settings)

    @property
    def effects(self) -> tuple[Effect, ...]:
        """All effects that the table names: exactly one in a file that has been checked, none if it has only others."""
        return tuple(read(value) for name, read in _READ.items() if (value := getattr(self, name)) not in _UNSET)

    @property
    def effect(self) -> Effect | None:
        """The effect; None for an assignment that has further reactions only."""
        return next(iter(self.effects), None)

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
_UNSET = (None, (), "", False)


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
        return replace(self, pointer=None, position=None, turn=None, ring=None, drag=None)

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
        case _:
            assert_never(use)


def _as_kind(kind: type[A], action: Action | None, before: A | None) -> A | None:
    """An action as what stands at a reaction, with the time that was set there."""
    if action is None:
        return None
    own = action.own_fields
    return replace(before, **own) if before is not None else kind(**own)


class Together(Action, frozen=True):
    """What two slots do when both are pressed within `within_ms`, whichever comes first, until one is let go."""

    slots: Annotated[tuple[str, ...], Meta(min_length=2, max_length=2, description="a list of two slots")] = ()
    within_ms: Milliseconds = 60


class SequenceStep(Record, frozen=True):
    """One step of a sequence: exactly one of these."""

    press: KeyCodes = ()
    release: KeyCodes = ()
    tap: KeyCodes = ()
    wait_ms: Annotated[int, Meta(ge=1, le=60000, description="milliseconds, from 1 to 60000")] | None = None
    text: Annotated[str, Meta(max_length=500, description="a text of up to 500 characters")] = ""


class Runs(Enum):
    """How long a sequence runs."""

    ONCE = "once"
    WHILE_HELD = "while_held"
    UNTIL_PRESSED = "until_pressed"


class Again(Enum):
    """What a sequence does that is started while it runs."""

    IGNORE = "ignore"
    RESTART = "restart"
    QUEUE = "queue"
    OVERLAP = "overlap"


class Sequence(Record, frozen=True):
    """Keys in time. Cut short, it releases what it has pressed."""

    id: Identifier
    label: Label
    steps: Annotated[tuple[SequenceStep, ...], Meta(min_length=1, max_length=200, description="1 to 200 steps")]
    runs: Runs = Runs.ONCE
    again: Again = Again.IGNORE


class Carousel(Record, frozen=True):
    """Entries with one position that all slots share. It falls back to the first after `rest_ms` without a step."""

    id: Identifier
    label: Label
    entries: Annotated[tuple[Action, ...], Meta(min_length=1, max_length=64, description="1 to 64 entries")]
    wrap: bool = True
    rest_ms: Annotated[int, Meta(ge=0, le=600000, description="milliseconds, from 0 (never) to 600000")] = 0


class Confirm(Enum):
    """When a ring's entry counts: as the stick comes back, at the stick's click, or as the stick gets there."""

    RELEASE = "release"
    CLICK = "click"
    ENTER = "enter"


class RingEntry(Action, frozen=True):
    """One sector of a ring, or cell of a grid."""

    label: ShortLabel = ""


MIN_RING_ENTRIES = 2


class Ring(Record, frozen=True):
    """A menu on a stick: entries clockwise from above, or with `columns` in rows from the upper left."""

    id: Identifier
    label: Label
    entries: Annotated[
        tuple[RingEntry, ...],
        Meta(min_length=MIN_RING_ENTRIES, max_length=36, description=f"{MIN_RING_ENTRIES} to 36 entries"),
    ]
    confirm: Confirm = Confirm.RELEASE
    radius: Annotated[float, Meta(ge=0.1, le=0.95, description="a number from 0.1 to 0.95")] = 0.6
    columns: Annotated[int, Meta(ge=0, le=6, description="a whole number from 0 (a ring) to 6")] = 0


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

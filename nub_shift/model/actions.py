"""What slots can do: effects, manners, reactions, sequences, carousels."""

from __future__ import annotations

from enum import Enum
from typing import Annotated

from msgspec import Meta

from nub_shift.model.schema_types import Counts, Identifier, KeyCodes, Label, Milliseconds, Record

Pace = Annotated[float, Meta(ge=0.01, le=20.0, description="a factor from 0.01 to 20")]
Radius = Annotated[int, Meta(ge=1, le=5000, description="counts, from 1 to 5000")]


class WheelDirection(Enum):
    """One click of the mouse wheel."""

    UP = "up"
    DOWN = "down"
    LEFT = "left"
    RIGHT = "right"


class PointerSpeed(Record, frozen=True):
    """Pointer speed at full deflection, in counts a second; negative turns the axis round."""

    x: Counts = 1200.0
    y: Counts = 900.0


class Drag(Record, frozen=True):
    """The pointer follows a finger on a touch surface: counts for the way across its whole width, and its height."""

    x: Counts = 1200.0
    y: Counts = 800.0


class PointerPosition(Record, frozen=True):
    """The pointer's place around a centre, in counts at full deflection: on a ring, or anywhere inside.

    `hold` is pressed while the stick is out, as for games that are steered by holding a mouse button.
    """

    x: Radius = 300
    y: Radius = 300
    ring: bool = False
    hold: KeyCodes = ()


class MotionSwitch(Enum):
    """What an effect does to motion: on or off while it is in force, or the neutral attitude taken anew."""

    ON = "on"
    OFF = "off"
    RECENTRE = "recentre"


class Turn(Record, frozen=True):
    """Turning the pad moves the pointer; without `on` only while something switches it on."""

    on: bool = True


class Manner(Enum):
    """How an effect is kept up."""

    HELD = "held"
    ONCE = "once"
    TOGGLE = "toggle"
    TURBO = "turbo"
    PULSE = "pulse"


class Step(Enum):
    """Where a carousel goes."""

    FORWARD = "forward"
    BACK = "back"
    FIRST = "first"


class CarouselStep(Record, frozen=True):
    """One step of a carousel: it moves on and does what the entry there does."""

    id: Identifier
    step: Step = Step.FORWARD


class Nudge(Record, frozen=True):
    """Pointer motion at once, in counts."""

    x: Annotated[int, Meta(ge=-20000, le=20000, description="counts, from -20000 to 20000")] = 0
    y: Annotated[int, Meta(ge=-20000, le=20000, description="counts, from -20000 to 20000")] = 0


class Scroll(Record, frozen=True):
    """Smooth wheel speed in clicks a second, x to the right, y away from the user."""

    x: Annotated[float, Meta(ge=-100.0, le=100.0, description="clicks a second, from -100 to 100")] = 0.0
    y: Annotated[float, Meta(ge=-100.0, le=100.0, description="clicks a second, from -100 to 100")] = 0.0


class Glide(Record, frozen=True):
    """Pointer speed in counts a second, x to the right, y downwards."""

    x: Counts = 0.0
    y: Counts = 0.0


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
    profile: Annotated[str, Meta(max_length=60, description="the title of a profile")] = ""
    silence: bool = False
    manner: Manner = Manner.HELD
    rate_hz: Annotated[float, Meta(ge=1.0, le=60.0, description="times a second, from 1 to 60")] = 10.0
    duty: Annotated[float, Meta(ge=0.05, le=0.95, description="a number from 0.05 to 0.95")] = 0.5
    regain: bool = False


EFFECT_NAMES = (
    *("move", "keys", "wheel", "scroll", "glide", "nudge", "sequence", "carousel"),
    *("layer", "stay", "next", "motion", "pace", "profile", "silence"),
)


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

    label: Annotated[str, Meta(max_length=40, description="a text of up to 40 characters")] = ""


class Ring(Record, frozen=True):
    """A menu on a stick: entries clockwise from above, or with `columns` in rows from the upper left."""

    id: Identifier
    label: Label
    entries: Annotated[tuple[RingEntry, ...], Meta(min_length=2, max_length=36, description="2 to 36 entries")]
    confirm: Confirm = Confirm.RELEASE
    radius: Annotated[float, Meta(ge=0.1, le=0.95, description="a number from 0.1 to 0.95")] = 0.6
    columns: Annotated[int, Meta(ge=0, le=6, description="a whole number from 0 (a ring) to 6")] = 0


REACTIONS = ("tap", "hold", "double_tap", "release")


def has_effect(action: Action) -> bool:
    """Whether an action has an effect of its own; an assignment may have only further reactions."""
    return any(getattr(action, name) not in (None, (), "", False) for name in EFFECT_NAMES)


def reactions_of(assignment: Assignment) -> dict[str, Action]:
    """All that an assignment does, by reaction; what stands in the assignment itself is "press"."""
    found: dict[str, Action] = {"press": assignment} if has_effect(assignment) else {}
    for name in REACTIONS:
        action = getattr(assignment, name)
        if action is not None:
            found[name] = action
    return found


def waiting_ms(assignment: Assignment) -> dict[str, int]:
    """How many milliseconds each reaction waits, beyond the gesture itself, because of the others.

    A press never waits. A hold waits its own time. A tap waits, after the release, as long as a second tap may come.
    """
    waits = dict.fromkeys(reactions_of(assignment), 0)
    if assignment.hold is not None:
        waits["hold"] = assignment.hold.after_ms
    if assignment.tap is not None and assignment.double_tap is not None:
        waits["tap"] = assignment.double_tap.within_ms
    return waits

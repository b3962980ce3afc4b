"""What a profile says, as immutable values.

Every setting is described once, here: type, default, range, unit and help. Reading, the published JSON Schema and the
documents draw on these descriptions.
"""

from __future__ import annotations

from enum import Enum
from typing import Annotated, Literal

import msgspec
from msgspec import Meta

SCHEMA_VERSION = 1
BASE_LAYER = "base"

Identifier = Annotated[
    str, Meta(pattern="^[a-z][a-z0-9_]{0,39}$", description="a lower-case name of letters, digits and underscores")
]
Label = Annotated[str, Meta(min_length=1, max_length=60, description="a text of 1 to 60 characters")]
KeyCodes = Annotated[tuple[str, ...], Meta(max_length=6, description="a list of one to six kernel names of keys")]
Fraction = Annotated[float, Meta(ge=0.0, le=1.0, description="a number from 0 to 1")]
DeadZone = Annotated[float, Meta(ge=0.0, le=0.9, description="a number from 0 to 0.9")]
EdgeZone = Annotated[float, Meta(ge=0.0, le=0.5, description="a number from 0 to 0.5")]
Power = Annotated[float, Meta(ge=0.2, le=5.0, description="a number from 0.2 to 5")]
Milliseconds = Annotated[int, Meta(ge=20, le=5000, description="milliseconds, from 20 to 5000")]
Counts = Annotated[float, Meta(ge=-20000.0, le=20000.0, description="counts a second, from -20000 to 20000")]


class Wheel(Enum):
    """One click of the mouse wheel."""

    UP = "up"
    DOWN = "down"
    LEFT = "left"
    RIGHT = "right"


class Direction(Enum):
    """Which way a move walks, for the moves that do."""

    UP = "up"
    DOWN = "down"
    LEFT = "left"
    RIGHT = "right"


class _Part(msgspec.Struct, frozen=True, forbid_unknown_fields=True, omit_defaults=True):
    """Base of all parts of a profile: immutable, strict, short when written."""


class Move(_Part, frozen=True):
    """Something that the game lets the player do, and the input that the game expects for it."""

    id: Identifier
    label: Label
    group: Annotated[str, Meta(max_length=40, description="a text of up to 40 characters")] = ""
    keys: KeyCodes = ()
    wheel: Wheel | None = None
    look: bool = False
    direction: Direction | None = None


class PointerSpeed(_Part, frozen=True):
    """Pointer speed at full deflection, in counts a second; negative turns the axis round."""

    x: Counts = 1200.0
    y: Counts = 900.0


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


class CarouselStep(_Part, frozen=True):
    """One step of a carousel: it moves on and does what the entry there does."""

    id: Identifier
    step: Step = Step.FORWARD


class Nudge(_Part, frozen=True):
    """Pointer motion at once, in counts."""

    x: Annotated[int, Meta(ge=-20000, le=20000, description="counts, from -20000 to 20000")] = 0
    y: Annotated[int, Meta(ge=-20000, le=20000, description="counts, from -20000 to 20000")] = 0


class Scroll(_Part, frozen=True):
    """Smooth wheel speed in clicks a second, x to the right, y away from the user."""

    x: Annotated[float, Meta(ge=-100.0, le=100.0, description="clicks a second, from -100 to 100")] = 0.0
    y: Annotated[float, Meta(ge=-100.0, le=100.0, description="clicks a second, from -100 to 100")] = 0.0


class Action(_Part, frozen=True):
    """Something to do: exactly one effect, and the manner in which it is kept up.

    Turbo goes down and up `rate_hz` times a second and is down for the part `duty` of each; pulse goes at the same rate
    and is down for as much of it as the control is deflected. A toggle with `regain` comes back on after a pause.
    """

    move: Identifier | None = None
    keys: KeyCodes = ()
    wheel: Wheel | None = None
    scroll: Scroll | None = None
    nudge: Nudge | None = None
    sequence: Identifier | None = None
    carousel: CarouselStep | None = None
    layer: Identifier | None = None
    stay: Identifier | None = None
    next: Annotated[tuple[str, ...], Meta(max_length=24, description="a list of layer ids")] = ()
    pace: Annotated[float, Meta(ge=0.01, le=20.0, description="a factor from 0.01 to 20")] | None = None
    profile: Annotated[str, Meta(max_length=60, description="the title of a profile")] = ""
    silence: bool = False
    manner: Manner = Manner.HELD
    rate_hz: Annotated[float, Meta(ge=1.0, le=60.0, description="times a second, from 1 to 60")] = 10.0
    duty: Annotated[float, Meta(ge=0.05, le=0.95, description="a number from 0.05 to 0.95")] = 0.5
    regain: bool = False


EFFECT_NAMES = (
    *("move", "keys", "wheel", "scroll", "nudge", "sequence", "carousel"),
    *("layer", "stay", "next", "pace", "profile", "silence"),
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
    tap: Action | None = None
    hold: Hold | None = None
    double_tap: DoubleTap | None = None
    release: Action | None = None
    tap_ms: Milliseconds = 250


class Together(Action, frozen=True):
    """What two slots do when both are pressed within `within_ms`, whichever comes first, until one is let go."""

    slots: Annotated[tuple[str, ...], Meta(min_length=2, max_length=2, description="a list of two slots")] = ()
    within_ms: Milliseconds = 60


class SequenceStep(_Part, frozen=True):
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


class Sequence(_Part, frozen=True):
    """Keys in time. Cut short, it releases what it has pressed."""

    id: Identifier
    label: Label
    steps: Annotated[tuple[SequenceStep, ...], Meta(min_length=1, max_length=200, description="1 to 200 steps")]
    runs: Runs = Runs.ONCE
    again: Again = Again.IGNORE


class Carousel(_Part, frozen=True):
    """Entries with one position that all slots share. It falls back to the first after `rest_ms` without a step."""

    id: Identifier
    label: Label
    entries: Annotated[tuple[Action, ...], Meta(min_length=1, max_length=64, description="1 to 64 entries")]
    wrap: bool = True
    rest_ms: Annotated[int, Meta(ge=0, le=600000, description="milliseconds, from 0 (never) to 600000")] = 0


class Layer(_Part, frozen=True):
    """A sheet of slot assignments over the one below."""

    id: Identifier
    label: Label
    slots: dict[str, Assignment] = {}
    together: tuple[Together, ...] = ()


class Directions(_Part, frozen=True):
    """How a stick becomes four or eight directions.

    A direction starts when the radius passes `on` and ends below `off`; it changes when the angle passes a border by
    `hysteresis_degrees`. With eight ways each diagonal is `diagonal_degrees` wide.
    """

    ways: Literal[4, 8] = 8
    diagonal_degrees: Annotated[float, Meta(ge=10.0, le=80.0, description="degrees, from 10 to 80")] = 45.0
    on: Fraction = 0.45
    off: Fraction = 0.35
    hysteresis_degrees: Annotated[float, Meta(ge=0.0, le=20.0, description="degrees, from 0 to 20")] = 4.0


class StickFeel(_Part, frozen=True):
    """How a stick is shaped. Radii are parts of the full deflection.

    `dead_zone` is where output begins (what lies above is stretched to start from nothing), `edge_zone` how far before
    the rim it is full, `power` the exponent of the response curve (1 is straight).
    """

    dead_zone: DeadZone = 0.12
    edge_zone: EdgeZone = 0.03
    power: Power = 1.0
    directions: Directions = Directions()


class Stage(_Part, frozen=True):
    """A trigger stage: it starts at `on` and ends below `off`, as parts of the full pull."""

    on: Fraction = 0.35
    off: Fraction = 0.25


class TriggerFeel(_Part, frozen=True):
    """How a trigger is shaped."""

    light: Stage = Stage()


class Feel(_Part, frozen=True):
    """How the pad's analogue controls are shaped."""

    left_stick: StickFeel = StickFeel()
    right_stick: StickFeel = StickFeel()
    left_trigger: TriggerFeel = TriggerFeel()
    right_trigger: TriggerFeel = TriggerFeel()


class Profile(_Part, frozen=True):
    """All that one game needs. The first layer is the base layer, which is always on."""

    schema: Literal[1]
    title: Label
    notes: Annotated[str, Meta(max_length=4000, description="a text of up to 4000 characters")] = ""
    moves: tuple[Move, ...] = ()
    layers: tuple[Layer, ...] = (Layer(id=BASE_LAYER, label="Base"),)
    sequences: tuple[Sequence, ...] = ()
    carousels: tuple[Carousel, ...] = ()
    shortest_key_ms: Annotated[int, Meta(ge=0, le=200, description="milliseconds, from 0 to 200")] = 20
    feel: Feel = Feel()

    def move(self, move_id: str) -> Move | None:
        """The move of that id, or None."""
        return next((move for move in self.moves if move.id == move_id), None)

    def layer(self, layer_id: str) -> Layer | None:
        """The layer of that id, or None."""
        return next((layer for layer in self.layers if layer.id == layer_id), None)


def json_schema() -> dict[str, object]:
    """The JSON Schema of a profile file, made from the descriptions above."""
    return msgspec.json.schema(Profile)

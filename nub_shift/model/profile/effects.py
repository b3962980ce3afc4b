"""Effects that an action can have, and uses of a whole stick, a surface, or turning the pad.

Both are closed sum types. Code that distinguishes their members uses `match` with `assert_never`, so that the type
checker names every place that a new member needs.
"""

from __future__ import annotations

from enum import Enum
from typing import Annotated

from msgspec import Meta

from nub_shift.model.profile.schema_types import Counts, Identifier, KeyCodes, Record
from nub_shift.translation import tr

Pace = Annotated[float, Meta(ge=0.01, le=20.0, description=tr("a factor from 0.01 to 20"))]
Radius = Annotated[int, Meta(ge=1, le=5000, description=tr("counts, from 1 to 5000"))]


ScreenPart = Annotated[float, Meta(ge=0.0, le=1.0, description=tr("a part of the screen, from 0 to 1"))]


class WheelDirection(Enum):
    """One click of the mouse wheel."""

    UP = "up"
    DOWN = "down"
    LEFT = "left"
    RIGHT = "right"


class MotionSwitch(Enum):
    """Change of motion by an effect: on or off while in force, or a new neutral attitude."""

    ON = "on"
    OFF = "off"
    RECENTRE = "recentre"


class PaceOf(Enum):
    """Kind of looking that a pace changes: all, with a stick or surface alone, or with the motion sensors alone."""

    ALL = "all"
    STICK = "stick"
    MOTION = "motion"


class Step(Enum):
    """Direction of a step of a carousel."""

    FORWARD = "forward"
    BACK = "back"
    FIRST = "first"


class DoMove(Record, frozen=True):
    """Sends the input of a move."""

    move: str


class PressKeys(Record, frozen=True):
    """Holds keys and mouse buttons together."""

    keys: KeyCodes


class ClickWheel(Record, frozen=True):
    """Turns the wheel by one click."""

    direction: WheelDirection


class TypeText(Record, frozen=True):
    """Types a text, character by character; only moves contain it."""

    text: str


class Scroll(Record, frozen=True):
    """Smooth wheel speed in clicks a second, x to the right, y away from the user."""

    x: Annotated[float, Meta(ge=-100.0, le=100.0, description=tr("clicks a second, from -100 to 100"))] = 0.0
    y: Annotated[float, Meta(ge=-100.0, le=100.0, description=tr("clicks a second, from -100 to 100"))] = 0.0


class Glide(Record, frozen=True):
    """Pointer speed in counts a second, x to the right, y downwards."""

    x: Counts = 0.0
    y: Counts = 0.0


class Nudge(Record, frozen=True):
    """Immediate pointer motion in counts."""

    x: Annotated[int, Meta(ge=-20000, le=20000, description=tr("counts, from -20000 to 20000"))] = 0
    y: Annotated[int, Meta(ge=-20000, le=20000, description=tr("counts, from -20000 to 20000"))] = 0


class TurnBy(Record, frozen=True):
    """Turns the view by degrees, negative to the left, within `over_ms`; a begun turn is completed.

    Correct as far as `Game.counts_per_turn` is.
    """

    degrees: Annotated[float, Meta(ge=-720.0, le=720.0, description=tr("degrees, from -720 to 720"))] = 180.0
    over_ms: Annotated[int, Meta(ge=0, le=2000, description=tr("milliseconds, from 0 to 2000"))] = 100


class PlacePointer(Record, frozen=True):
    """Moves the pointer to a place on the screen: `x` of its width from the left, `y` of its height from the top.

    With `back` the pointer returns at the end of the effect, if the output can report where the pointer was.
    """

    x: ScreenPart = 0.5
    y: ScreenPart = 0.5
    back: bool = True


class PlaySequence(Record, frozen=True):
    """Starts a sequence."""

    sequence: str


class CarouselStep(Record, frozen=True):
    """Steps a carousel and does what its new entry does."""

    id: Identifier
    step: Step = Step.FORWARD


class HoldLayer(Record, frozen=True):
    """Activates a layer while in force."""

    layer: str


class StayOnLayer(Record, frozen=True):
    """Activates a layer to stay, in place of the former one."""

    layer: str


class NextLayer(Record, frozen=True):
    """Activates the next of some layers to stay, cyclically."""

    layers: tuple[str, ...]


class SwitchMotion(Record, frozen=True):
    """Switches motion, or takes its neutral attitude again."""

    switch: MotionSwitch


class ChangePace(Record, frozen=True):
    """Multiplies pointer speed while in force."""

    factor: Pace


class RequestProfile(Record, frozen=True):
    """Requests another profile by its title."""

    title: str


class Silence(Record, frozen=True):
    """Does nothing, and hides the assignments of the layers below."""


Effect = (
    DoMove
    | PressKeys
    | ClickWheel
    | Scroll
    | Glide
    | Nudge
    | TurnBy
    | PlacePointer
    | PlaySequence
    | CarouselStep
    | HoldLayer
    | StayOnLayer
    | NextLayer
    | SwitchMotion
    | ChangePace
    | RequestProfile
    | Silence
)


class PointerSpeed(Record, frozen=True):
    """Pointer speed at full deflection, in counts a second; negative inverts the axis."""

    x: Counts = 1200.0
    y: Counts = 900.0


class Drag(Record, frozen=True):
    """The pointer follows a finger on a touch surface: counts across its whole width and height.

    With `roll_ms` a finger lifted in motion lets the pointer roll on: the speed falls to about a third in this time.
    The next touch stops the pointer.
    """

    x: Counts = 1200.0
    y: Counts = 800.0
    roll_ms: Annotated[int, Meta(ge=0, le=5000, description=tr("milliseconds, from 0 (not at all) to 5000"))] = 0


class PointerPosition(Record, frozen=True):
    """Offset of the pointer from a centre, in counts at full deflection: on a ring, or anywhere inside.

    `hold`, or the input of `hold_move`, is pressed while the stick is deflected, for games steered by holding a mouse
    button.
    """

    x: Radius = 300
    y: Radius = 300
    ring: bool = False
    hold: KeyCodes = ()
    hold_move: Identifier | None = None


class Turn(Record, frozen=True):
    """Turning the pad moves the pointer; without `on` only while an effect switches motion on."""

    on: bool = True


class Tilt(Record, frozen=True):
    """Pointer speed at full tilt, in counts a second; `MotionFeel.tilt` defines full tilt."""

    x: Counts = 1200.0
    y: Counts = 900.0


class Snap(Enum):
    """Rounding of a flick's first direction: none; straight on if the stick points about there; or to the nearest
    eighth or quarter of a full turn.
    """

    NONE = "none"
    FORWARD = "forward"
    EIGHTH = "eighth"
    QUARTER = "quarter"


class Flick(Record, frozen=True):
    """A stick deflected beyond `radius` turns the view to its direction, where forward keeps the view.

    The turn takes `settle_ms` and is completed unless the stick is deflected again; the view then follows the deflected
    stick around. `snap` rounds the first direction.
    """

    radius: Annotated[float, Meta(ge=0.3, le=0.95, description=tr("a number from 0.3 to 0.95"))] = 0.8
    settle_ms: Annotated[int, Meta(ge=20, le=1000, description=tr("milliseconds, from 20 to 1000"))] = 100
    snap: Snap = Snap.NONE


class ChooseFromRing(Record, frozen=True):
    """Chooses from a ring or grid."""

    ring: str


# The input of a move.
Sent = PressKeys | ClickWheel | TypeText

StickUse = PointerSpeed | PointerPosition | Scroll | Drag | ChooseFromRing | Turn | Tilt | Flick

"""What happens: the effects that an action can have, and what a stick, a surface or turning the pad does as a whole.

Both are closed sum types. Whoever tells their members apart does it by `match`, closed by `assert_never`, so that the
type checker names every place that a new member needs.
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
    """Which looking a pace changes: all, that with a stick or surface alone, or that with the motion sensors alone."""

    ALL = "all"
    STICK = "stick"
    MOTION = "motion"


class Step(Enum):
    """Direction of a step of a carousel."""

    FORWARD = "forward"
    BACK = "back"
    FIRST = "first"


class DoMove(Record, frozen=True):
    """Sends what the game expects for a move."""

    move: str


class PressKeys(Record, frozen=True):
    """Holds keys and mouse buttons down together."""

    keys: KeyCodes


class ClickWheel(Record, frozen=True):
    """Turns the wheel by one click."""

    direction: WheelDirection


class TypeText(Record, frozen=True):
    """Types a text, letter by letter; only a move says it."""

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
    """Pointer motion at once, in counts."""

    x: Annotated[int, Meta(ge=-20000, le=20000, description=tr("counts, from -20000 to 20000"))] = 0
    y: Annotated[int, Meta(ge=-20000, le=20000, description=tr("counts, from -20000 to 20000"))] = 0


class TurnBy(Record, frozen=True):
    """Turns the view by so many degrees, below 0 to the left, within `over_ms`; what was begun is finished.

    It is right where `Game.counts_per_turn` is.
    """

    degrees: Annotated[float, Meta(ge=-720.0, le=720.0, description=tr("degrees, from -720 to 720"))] = 180.0
    over_ms: Annotated[int, Meta(ge=0, le=2000, description=tr("milliseconds, from 0 to 2000"))] = 100


class PlacePointer(Record, frozen=True):
    """Puts the pointer somewhere on the screen: `x` of its width from the left, `y` of its height from the top.

    With `back` it goes back to where it was as the effect ends, where the output can tell where that was.
    """

    x: ScreenPart = 0.5
    y: ScreenPart = 0.5
    back: bool = True


class PlaySequence(Record, frozen=True):
    """Starts a sequence."""

    sequence: str


class CarouselStep(Record, frozen=True):
    """One step of a carousel: it moves on and does what the entry there does."""

    id: Identifier
    step: Step = Step.FORWARD


class HoldLayer(Record, frozen=True):
    """Brings a layer on while it is in force."""

    layer: str


class StayOnLayer(Record, frozen=True):
    """Brings a layer on to stay, in place of the one before it."""

    layer: str


class NextLayer(Record, frozen=True):
    """Brings the next of some layers on to stay, round and round."""

    layers: tuple[str, ...]


class SwitchMotion(Record, frozen=True):
    """Switches motion, or takes its neutral attitude anew."""

    switch: MotionSwitch


class ChangePace(Record, frozen=True):
    """Multiplies pointer speed while it is in force."""

    factor: Pace


class AskForProfile(Record, frozen=True):
    """Asks for another profile by its title."""

    title: str


class Silence(Record, frozen=True):
    """Nothing, on purpose: hides what the layers below have."""


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
    | AskForProfile
    | Silence
)


class PointerSpeed(Record, frozen=True):
    """Pointer speed at full deflection, in counts a second; negative turns the axis round."""

    x: Counts = 1200.0
    y: Counts = 900.0


class Drag(Record, frozen=True):
    """The pointer follows a finger on a touch surface: counts for the way across its whole width, and its height.

    With `roll_ms` a finger that leaves while it moves lets the pointer roll on: its speed falls to about a third in
    that time. The next touch stops it.
    """

    x: Counts = 1200.0
    y: Counts = 800.0
    roll_ms: Annotated[int, Meta(ge=0, le=5000, description=tr("milliseconds, from 0 (not at all) to 5000"))] = 0


class PointerPosition(Record, frozen=True):
    """The pointer's offset from a centre, in counts at full deflection: on a ring, or anywhere inside.

    `hold`, or what the game expects for `hold_move`, is pressed while the stick is out, as for games that are steered
    by holding a mouse button.
    """

    x: Radius = 300
    y: Radius = 300
    ring: bool = False
    hold: KeyCodes = ()
    hold_move: Identifier | None = None


class Turn(Record, frozen=True):
    """Turning the pad moves the pointer; without `on` only while something switches it on."""

    on: bool = True


class Tilt(Record, frozen=True):
    """Pointer speed at full tilt, in counts a second; how far that is, `MotionFeel.tilt` says."""

    x: Counts = 1200.0
    y: Counts = 900.0


class Snap(Enum):
    """Rounding of a flick's first direction: none; straight on if the stick points about there; or to an eighth or a
    quarter of a full turn, whichever is nearest.
    """

    NONE = "none"
    FORWARD = "forward"
    EIGHTH = "eighth"
    QUARTER = "quarter"


class Flick(Record, frozen=True):
    """A stick pushed out beyond `radius` turns the view to where it points, forward being where one looks.

    The turn takes `settle_ms` and is finished whatever the stick does meanwhile, unless it is pushed out anew; while
    the stick is out the view goes round with it besides. `snap` is what the first direction is rounded to.
    """

    radius: Annotated[float, Meta(ge=0.3, le=0.95, description=tr("a number from 0.3 to 0.95"))] = 0.8
    settle_ms: Annotated[int, Meta(ge=20, le=1000, description=tr("milliseconds, from 20 to 1000"))] = 100
    snap: Snap = Snap.NONE


class ChooseFromRing(Record, frozen=True):
    """A ring or grid is chosen from."""

    ring: str


# The input of a move.
Sent = PressKeys | ClickWheel | TypeText

StickUse = PointerSpeed | PointerPosition | Scroll | Drag | ChooseFromRing | Turn | Tilt | Flick

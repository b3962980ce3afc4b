"""Shaping of the analogue controls, the part of a profile that is a matter of taste.

Radii and pulls are parts of the full deflection.
"""

from __future__ import annotations

from enum import Enum
from functools import cache
from typing import TYPE_CHECKING, Annotated, Any, Final, Literal, get_args

import msgspec
from msgspec import Meta

from nub_shift.model.profile.schema_types import Milliseconds, Record
from nub_shift.translation import tr

Fraction = Annotated[float, Meta(ge=0.0, le=1.0, description=tr("a number from 0 to 1"))]
DeadZone = Annotated[float, Meta(ge=0.0, le=0.9, description=tr("a number from 0 to 0.9"))]
EdgeZone = Annotated[float, Meta(ge=0.0, le=0.5, description=tr("a number from 0 to 0.5"))]
Power = Annotated[float, Meta(ge=0.2, le=5.0, description=tr("a number from 0.2 to 5"))]
Point = Annotated[tuple[float, float], Meta(description=tr("a list of two numbers from 0 to 1"))]
MOST_POINTS: Final = 12
Points = Annotated[
    tuple[Point, ...],
    Meta(max_length=MOST_POINTS, description=tr("a list of up to {most} points [in, out]", most=MOST_POINTS)),
]


# Least difference enforced between related numbers once layers have merged their feels.
LEAST_STEP = 0.01


class Stage(Record, frozen=True):
    """A stage of a trigger, a slider or a stick's radius: begins at `on` and ends below `off`."""

    on: Fraction = 0.35
    off: Fraction = 0.25


class Directions(Record, frozen=True):
    """Division of a stick into four or eight directions.

    A direction begins when the radius passes `on` and ends below `off`; the direction changes when the angle passes a
    border by `hysteresis_degrees`. With eight directions each diagonal is `diagonal_degrees` wide. Each direction may
    have a stage of its own in place of `on` and `off`; if only one direction of a diagonal is reached, this one is
    pressed alone.
    """

    ways: Literal[4, 8] = 8
    diagonal_degrees: Annotated[float, Meta(ge=10.0, le=80.0, description=tr("degrees, from 10 to 80"))] = 45.0
    on: Fraction = 0.45
    off: Fraction = 0.35
    hysteresis_degrees: Annotated[float, Meta(ge=0.0, le=20.0, description=tr("degrees, from 0 to 20"))] = 4.0
    up: Stage | None = None
    down: Stage | None = None
    left: Stage | None = None
    right: Stage | None = None

    def stage(self, way: str) -> Stage:
        """Returns the stage of one direction."""
        own: Stage | None = getattr(self, way)
        return own if own is not None else Stage(self.on, self.off)


class DeadZoneShape(Enum):
    """Shape of the dead zone: a disc, a band along each axis, or both."""

    RADIAL = "radial"
    AXIAL = "axial"
    BOTH = "both"


class Smoothing(Record, frozen=True):
    """A one-euro filter: slow movement is cut off at `min_cutoff_hz`, fast movement less by `beta`."""

    min_cutoff_hz: Annotated[float, Meta(ge=0.1, le=50.0, description=tr("hertz, from 0.1 to 50"))] = 2.0
    beta: Annotated[float, Meta(ge=0.0, le=50.0, description=tr("a number from 0 to 50"))] = 4.0


class Ramp(Record, frozen=True):
    """Pointer speed that begins at the part `start` and reaches its full value after `full_ms`."""

    start: Fraction = 0.4
    full_ms: Annotated[int, Meta(ge=1, le=5000, description=tr("milliseconds, from 1 to 5000"))] = 400


class AxisFeel(Record, frozen=True):
    """Settings of one axis of a stick besides those of both: dead zone, curve, ramp."""

    dead_zone: DeadZone = 0.0
    power: Power = 1.0
    points: Points = ()
    ramp: Ramp | None = None


class StickFeel(Record, frozen=True):
    """Shaping of a stick.

    In this order: rotation by `rotation_degrees` clockwise and inversion of axes; `square_off` stretches the diagonals
    of a round rim (or, below 0, shrinks those of a square one); inside the dead zone the output is 0, and the rest is
    rescaled to begin at 0; from `edge_zone` before the rim the output is full; the curve, by `points` or by `power`;
    output begins at `anti_dead_zone`, for games with a dead zone of their own; last, `x` and `y` shape each axis on its
    own. Corrections for one worn pad come before all of these, and lie in the card of the pad (`model.pad.trim`).

    `axial_dead_zone` is the band along each axis, for the shapes that have one. `inner` is the radius up to which the
    slot `inner` is pressed along with a direction, `edge` the stage of the slot `edge`.
    """

    dead_zone: DeadZone = 0.12
    dead_zone_shape: DeadZoneShape = DeadZoneShape.RADIAL
    axial_dead_zone: DeadZone = 0.08
    edge_zone: EdgeZone = 0.03
    anti_dead_zone: EdgeZone = 0.0
    power: Power = 1.0
    points: Points = ()
    rotation_degrees: Annotated[float, Meta(ge=-180.0, le=180.0, description=tr("degrees, from -180 to 180"))] = 0.0
    invert_x: bool = False
    invert_y: bool = False
    square_off: Annotated[float, Meta(ge=-1.0, le=1.0, description=tr("a number from -1 to 1"))] = 0.0
    smoothing: Smoothing | None = None
    ramp: Ramp | None = None
    x: AxisFeel | None = None
    y: AxisFeel | None = None
    inner: Fraction = 0.7
    edge: Stage = Stage(on=0.92, off=0.85)
    directions: Directions = Directions()


class Stages(Enum):
    """Rule for the light stage once the deep one begins: kept, ended meanwhile, or only one of both in a pull."""

    BOTH = "both"
    REPLACE = "replace"
    EITHER = "either"


class TriggerFeel(Record, frozen=True):
    """Shaping of a trigger.

    With `quick` a stage ends as soon as the finger eases by `ease`, and begins again after a pull by as much. With
    either stage per pull, the light one waits for `either_ms`: a pull that reaches the deep stage in this time has only
    the deep one, any other only the light one.
    """

    light: Stage = Stage()
    deep: Stage = Stage(on=0.9, off=0.8)
    stages: Stages = Stages.BOTH
    either_ms: Milliseconds = 120
    quick: bool = False
    ease: Annotated[float, Meta(ge=0.01, le=0.5, description=tr("a number from 0.01 to 0.5"))] = 0.06


class SliderFeel(Record, frozen=True):
    """Shaping of a slider or sensor: stages on each side of rest."""

    low: Stage = Stage(on=0.25, off=0.15)
    low_deep: Stage = Stage(on=0.8, off=0.7)
    high: Stage = Stage(on=0.25, off=0.15)
    high_deep: Stage = Stage(on=0.8, off=0.7)


class MotionAxis(Enum):
    """Motion that turns the view sideways: yaw about the pad's own upright axis, roll, or a turn about gravity."""

    YAW = "yaw"
    ROLL = "roll"
    GRAVITY = "gravity"


class Centre(Enum):
    """Neutral attitude of tilt: the attitude at the beginning of play, or level."""

    HELD = "held"
    LEVEL = "level"


class TiltFeel(Record, frozen=True):
    """Shaping of tilt.

    A tilt slot begins at `on_degrees` from the `centre` and ends below `off_degrees`. Depth, and the speed of the
    pointer, rise from 0 at `dead_degrees` to 1 at `full_degrees`, bent by `power`.
    """

    on_degrees: Annotated[float, Meta(ge=3.0, le=80.0, description=tr("degrees, from 3 to 80"))] = 25.0
    off_degrees: Annotated[float, Meta(ge=1.0, le=79.0, description=tr("degrees, from 1 to 79"))] = 20.0
    centre: Centre = Centre.HELD
    dead_degrees: Annotated[float, Meta(ge=0.0, le=40.0, description=tr("degrees, from 0 to 40"))] = 3.0
    full_degrees: Annotated[float, Meta(ge=5.0, le=90.0, description=tr("degrees, from 5 to 90"))] = 45.0
    power: Power = 1.0


class MotionFeel(Record, frozen=True):
    """Shaping of motion.

    The view turns by `ratio` degrees per degree of the hand, `vertical_ratio` times that up and down, as far as
    `Game.counts_per_turn` is correct. Between `slow_dps` and `fast_dps` (degrees a second) the ratio changes to
    `fast_ratio`. Below `gate_dps` motion fades out as noise; rates below `smooth_below_dps` are smoothed over
    `smooth_ms`, rates above twice that not at all.
    """

    ratio: Annotated[float, Meta(ge=0.05, le=50.0, description=tr("a number from 0.05 to 50"))] = 2.0
    vertical_ratio: Annotated[float, Meta(ge=0.0, le=10.0, description=tr("a number from 0 to 10"))] = 1.0
    fast_ratio: Annotated[float, Meta(ge=0.05, le=50.0, description=tr("a number from 0.05 to 50"))] | None = None
    slow_dps: Annotated[float, Meta(ge=0.0, le=500.0, description=tr("degrees a second, from 0 to 500"))] = 10.0
    fast_dps: Annotated[float, Meta(ge=1.0, le=2000.0, description=tr("degrees a second, from 1 to 2000"))] = 150.0
    gate_dps: Annotated[float, Meta(ge=0.0, le=10.0, description=tr("degrees a second, from 0 to 10"))] = 0.4
    smooth_below_dps: Annotated[float, Meta(ge=0.0, le=100.0, description=tr("degrees a second, from 0 to 100"))] = 4.0
    smooth_ms: Annotated[int, Meta(ge=0, le=500, description=tr("milliseconds, from 0 to 500"))] = 60
    axis: MotionAxis = MotionAxis.GRAVITY
    invert_x: bool = False
    invert_y: bool = False
    tilt: TiltFeel = TiltFeel()


class Feel(Record, frozen=True):
    """Shaping of the pad's analogue controls."""

    left_stick: StickFeel = StickFeel()
    right_stick: StickFeel = StickFeel()
    surface: StickFeel = StickFeel()
    left_trigger: TriggerFeel = TriggerFeel()
    right_trigger: TriggerFeel = TriggerFeel()
    slider_1: SliderFeel = SliderFeel()
    slider_2: SliderFeel = SliderFeel()
    motion: MotionFeel = MotionFeel()


@cache
def _change_of(struct: type[Record]) -> type[msgspec.Struct]:
    """Returns a struct like `struct` with all fields optional; an omitted field differs from one with the default
    value.
    """
    fields = []
    for field in msgspec.structs.fields(struct):
        parts = (field.type, *get_args(field.type))
        bare = next((part for part in parts if isinstance(part, type) and issubclass(part, Record)), None)
        inner: Any = _change_of(bare) if bare is not None else field.type
        fields.append((field.name, inner | msgspec.UnsetType, msgspec.UNSET))
    return msgspec.defstruct(f"{struct.__name__}Change", fields, bases=(Record,), frozen=True, module=__name__)


if TYPE_CHECKING:

    class FeelChange(Record, frozen=True):
        """Changes of the profile's feel by a layer; omitted settings stay unchanged."""

else:
    FeelChange = _change_of(Feel)


def changed_feel(feel: Feel, change: FeelChange) -> Feel:
    """Returns the feel with a change applied."""
    return msgspec.convert(_laid_over(msgspec.to_builtins(feel), msgspec.to_builtins(change)), Feel)


def sound_feel(feel: Feel) -> Feel:
    """Returns the feel without contradictions, which may result from any number of layers, checked one by one.

    An end threshold lies at or below its begin threshold, zones leave a span between them, fast is above slow.
    """
    return msgspec.structs.replace(feel, **{name: _sound_part(getattr(feel, name)) for name in Feel.__struct_fields__})


def _sound_part(part: Any) -> Any:
    changes: dict[str, Any] = {}
    for name in part.__struct_fields__:
        value = getattr(part, name)
        if isinstance(value, Directions):
            value = _sound_part(value)
        if isinstance(value, Stage | Directions) and value.off >= value.on:
            on = max(value.on, 2 * LEAST_STEP)
            value = msgspec.structs.replace(value, on=on, off=on - LEAST_STEP)
        if value is not getattr(part, name):
            changes[name] = value
    match part:
        case StickFeel():
            if part.dead_zone + part.edge_zone >= 1.0:
                changes["edge_zone"] = 1.0 - LEAST_STEP - part.dead_zone
            ways: Directions = changes.get("directions", part.directions)
            narrow = min(ways.diagonal_degrees, 90.0 - ways.diagonal_degrees)
            if 2 * ways.hysteresis_degrees >= narrow:
                changes["directions"] = msgspec.structs.replace(ways, hysteresis_degrees=narrow / 2 - LEAST_STEP)
        case MotionFeel():
            if part.fast_dps <= part.slow_dps:
                changes["fast_dps"] = part.slow_dps + 1.0
            tilt = part.tilt
            if tilt.off_degrees >= tilt.on_degrees:
                tilt = msgspec.structs.replace(tilt, off_degrees=tilt.on_degrees - 1.0)
            if tilt.dead_degrees >= tilt.full_degrees:
                tilt = msgspec.structs.replace(tilt, full_degrees=tilt.dead_degrees + 1.0)
            if tilt is not part.tilt:
                changes["tilt"] = tilt
    return msgspec.structs.replace(part, **changes) if changes else part


def _laid_over(lower: dict[str, Any], upper: dict[str, Any]) -> dict[str, Any]:
    both = [name for name in upper if isinstance(upper[name], dict) and isinstance(lower.get(name), dict)]
    return {**lower, **upper, **{name: _laid_over(lower[name], upper[name]) for name in both}}

"""Corrections for one worn or noisy pad. They belong to its card and never to a profile, which other pads play too."""

from __future__ import annotations

from typing import Annotated, Final

from msgspec import Meta
from msgspec.structs import replace

from nub_shift.model.pad.measures import RIM_ANGLES
from nub_shift.model.profile.feel import DeadZone, DeadZoneShape, MotionFeel, StickFeel
from nub_shift.model.profile.schema_types import Record
from nub_shift.translation import tr

LEAST_REACH: Final = 0.3  # a smaller radius is not a rim: the stick was not rolled along the edge
Offset = Annotated[float, Meta(ge=-0.5, le=0.5, description=tr("a number from -0.5 to 0.5"))]
Reach = Annotated[float, Meta(ge=LEAST_REACH, le=1.5, description=tr("a number from 0.3 to 1.5"))]
Reaches = Annotated[
    tuple[Reach, ...], Meta(max_length=RIM_ANGLES, description=tr("a list of {count} numbers", count=RIM_ANGLES))
]
GateRate = Annotated[float, Meta(ge=0.0, le=20.0, description=tr("degrees a second, from 0 to 20"))]


class StickTrim(Record, frozen=True):
    """Rest and range of one stick, applied before any feel.

    Attributes:
        rest_x, rest_y: position of the released stick; becomes the middle.
        dead_zone: radius about the middle within which the stick trembles at rest, the least dead zone of every feel.
        reach: radius of the rim by angle, clockwise from up, in `RIM_ANGLES` equal steps; becomes 1. Empty for a sound
            rim.
    """

    rest_x: Offset = 0.0
    rest_y: Offset = 0.0
    dead_zone: DeadZone = 0.0
    reach: Reaches = ()


class PadTrim(Record, frozen=True):
    """Corrections by stick, and the rate in degrees a second below which the gyro trembles at rest."""

    sticks: dict[str, StickTrim] = {}  # noqa: RUF012 - msgspec copies it
    gate_dps: GateRate = 0.0

    def stick(self, name: str) -> StickTrim:
        """Returns the correction of a stick; the identity for an uncorrected control."""
        return self.sticks.get(name, _HEALTHY)


_HEALTHY: Final = StickTrim()


def stick_feel_on(trim: StickTrim, feel: StickFeel) -> StickFeel:
    """Returns the feel in play on a pad: with the larger of both dead zones, in the shape of the feel."""
    if feel.dead_zone_shape is DeadZoneShape.AXIAL:
        least = trim.dead_zone > feel.axial_dead_zone
        return replace(feel, axial_dead_zone=trim.dead_zone) if least else feel
    return replace(feel, dead_zone=trim.dead_zone) if trim.dead_zone > feel.dead_zone else feel


def motion_feel_on(trim: PadTrim, feel: MotionFeel) -> MotionFeel:
    """Returns the feel in play on a pad: with the larger of both gates."""
    return replace(feel, gate_dps=trim.gate_dps) if trim.gate_dps > feel.gate_dps else feel

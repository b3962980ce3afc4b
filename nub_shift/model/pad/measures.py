"""What was measured on a pad: the values that a pad card keeps, with the date."""

from __future__ import annotations

from collections.abc import Sequence
from datetime import date
from math import ceil
from typing import Annotated

from msgspec import Meta

from nub_shift.model.profile.schema_types import Record
from nub_shift.translation import tr

RIM_ANGLES = 36
# A dead zone is offered this much wider than what a stick showed at rest: a few seconds show less than an evening.
REST_MARGIN = 1.5
# An edge zone begins this much inside the shortest reach, so that the rim is reached with a tired thumb too.
RIM_MARGIN = 0.02
RimRadii = Annotated[
    tuple[float, ...],
    Meta(min_length=RIM_ANGLES, max_length=RIM_ANGLES, description=tr("a list of {count} numbers", count=RIM_ANGLES)),
]
Rates = Annotated[tuple[float, ...], Meta(min_length=3, max_length=3, description=tr("a list of three numbers"))]


class StickRest(Record, frozen=True):
    """A stick that nobody touched. All numbers but `seconds` are parts of full deflection.

    Attributes:
        x, y: where it stood.
        noise: standard deviation of one axis.
        spread: how far it strayed from where it stood, but for one sample in a thousand.
        drift: how far it wandered from the first quarter of the time to the last.
        dead_zone: what was offered then.
        seconds: how long it was watched.
    """

    x: float
    y: float
    noise: float
    spread: float
    drift: float
    dead_zone: float
    seconds: float

    @property
    def centred_dead_zone(self) -> float:
        """Dead zone that would suffice with this rest as the centre."""
        return ceil((self.spread + self.drift) * REST_MARGIN * 200) / 200


class StickRim(Record, frozen=True):
    """Range of a stick rolled along its rim.

    Attributes:
        reach: the largest radius in each of the directions, clockwise from up.
        edge_zone: suggested edge zone, for full output before the shortest reach.
        square_off: suggested square-off, for diagonals that reach as far as the straight directions.
    """

    reach: RimRadii
    edge_zone: float
    square_off: float


class MotionRest(Record, frozen=True):
    """Motion sensors at rest.

    Attributes:
        bias_dps: mean of the gyro about x, y and z, in degrees a second.
        noise_dps: standard deviation of the noisiest axis.
        gate_dps: suggested noise gate.
    """

    bias_dps: Rates
    noise_dps: float
    gate_dps: float


class Measured(Record, frozen=True):
    """Measurements of one day. `rest` and `rim` are by stick."""

    on: date
    rest: dict[str, StickRest] = {}  # noqa: RUF012 - msgspec copies it
    rim: dict[str, StickRim] = {}  # noqa: RUF012
    motion: MotionRest | None = None


def last_rest(measured: Sequence[Measured], stick: str) -> list[tuple[date, StickRest]]:
    """Returns the measures of a stick at rest, the latest first, with their days."""
    return [(entry.on, entry.rest[stick]) for entry in reversed(measured) if stick in entry.rest]


def last_rim(measured: Sequence[Measured], stick: str) -> list[tuple[date, StickRim]]:
    """Returns the measured ranges of a stick with their days, the latest first."""
    return [(entry.on, entry.rim[stick]) for entry in reversed(measured) if stick in entry.rim]


def last_motion(measured: Sequence[Measured]) -> list[tuple[date, MotionRest]]:
    """Returns the measures of motion sensors at rest, the latest first, with their days."""
    return [(entry.on, entry.motion) for entry in reversed(measured) if entry.motion is not None]

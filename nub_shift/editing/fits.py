"""Corrections suggested by a pad's measurements, each with its reason, for the pad's card."""

from __future__ import annotations

from collections.abc import Sequence
from dataclasses import dataclass
from math import hypot

from msgspec.structs import replace

from nub_shift.model.pad.measures import RIM_MARGIN, Measured, last_motion, last_rest, last_rim
from nub_shift.model.pad.trim import LEAST_REACH, PadTrim, StickTrim
from nub_shift.translation import number_text, tr

# Least distance of a stick's rest from the middle for a correction.
OFF_CENTRE = 0.01


@dataclass(frozen=True)
class Fit:
    """One correction.

    Attributes:
        key: corrected property: rest, range or gyro.
        text: effect of the correction.
        why: reason.
        used: trim of the pad with the correction.
        unused: trim without it.
        is_used: whether the card has it.
    """

    key: str
    text: str
    why: str
    used: PadTrim
    unused: PadTrim
    is_used: bool


def fits(measured: Sequence[Measured], stick: str, trim: PadTrim) -> list[Fit]:
    """Returns the corrections suggested by a stick's last measurements, over the present trim."""
    found = []
    now = trim.stick(stick)
    rests, rims = last_rest(measured, stick), last_rim(measured, stick)
    if rests:
        rest = rests[0][1]
        off = hypot(rest.x, rest.y)
        if off > OFF_CENTRE:
            wanted = replace(now, rest_x=rest.x, rest_y=rest.y, dead_zone=rest.centred_dead_zone)
            text = tr("Stop the drift (dead zone {percent})", percent=percent(rest.centred_dead_zone))
            why = tr("At rest it stands {off} off the middle. That becomes the middle on this pad.", off=percent(off))
        else:
            wanted = replace(now, rest_x=0.0, rest_y=0.0, dead_zone=rest.dead_zone)
            text = tr("Use a dead zone of {percent}", percent=percent(rest.dead_zone))
            why = tr("At rest it trembles within {off}.", off=percent(off + rest.spread + rest.drift))
        without = replace(now, rest_x=0.0, rest_y=0.0, dead_zone=0.0)
        found.append(_fit("rest", text, why, trim, stick, wanted, without))
    if rims:
        rim = rims[0][1]
        wanted = replace(
            now, reach=tuple(max(round(radius * (1.0 - RIM_MARGIN), 4), LEAST_REACH) for radius in rim.reach)
        )
        text = tr("Use its whole range")
        why = tr("It reaches {least} to {most}.", least=percent(min(rim.reach)), most=percent(max(rim.reach)))
        found.append(_fit("range", text, why, trim, stick, wanted, replace(now, reach=())))
    return found


def motion_fits(measured: Sequence[Measured], trim: PadTrim) -> list[Fit]:
    """Returns the correction suggested by the last measurement of motion sensors."""
    found = last_motion(measured)
    if not found:
        return []
    motion = found[0][1]
    text = tr("Ignore turns below {rate:.1f} °/s", rate=motion.gate_dps)
    why = tr("At rest the gyro trembles by {noise:.2f} °/s.", noise=motion.noise_dps)
    used = replace(trim, gate_dps=motion.gate_dps)
    return [Fit("gyro", text, why, used, replace(trim, gate_dps=0.0), used == trim)]


def _fit(key: str, text: str, why: str, trim: PadTrim, stick: str, wanted: StickTrim, without: StickTrim) -> Fit:
    used, unused = (PadTrim(trim.sticks | {stick: one}, trim.gate_dps) for one in (wanted, without))
    return Fit(key, text, why, used, unused, wanted == trim.stick(stick))


def percent(part: float) -> str:
    """Returns a part of the full deflection as a percentage."""
    return tr("{number} %", number=number_text(round(100.0 * part, 1)))

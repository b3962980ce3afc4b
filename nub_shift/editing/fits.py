"""Corrections that a pad's measurements suggest, each with its reason; they go into the pad's card."""

from __future__ import annotations

from collections.abc import Sequence
from dataclasses import dataclass
from math import hypot

from msgspec.structs import replace

from nub_shift.model.pad.measures import RIM_MARGIN, Measured, last_motion, last_rest, last_rim
from nub_shift.model.pad.trim import LEAST_REACH, PadTrim, StickTrim
from nub_shift.translation import number_text, tr

# A stick that rests further from the middle is better taken to have its middle there.
OFF_CENTRE = 0.01


@dataclass(frozen=True)
class Fit:
    """One correction.

    Attributes:
        key: what it corrects: rest, range or gyro.
        text: what using it does.
        why: the reason.
        used: the pad's trim with it.
        unused: the pad's trim without it.
        is_used: whether the card has it.
    """

    key: str
    text: str
    why: str
    used: PadTrim
    unused: PadTrim
    is_used: bool


def fits(measured: Sequence[Measured], stick: str, trim: PadTrim) -> list[Fit]:
    """Returns the corrections that a stick's last measures suggest, for a pad with these corrections."""
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
    """The correction that the last measure of motion sensors suggests."""
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
    """A part of the whole way, as players say it."""
    return tr("{number} %", number=number_text(round(100.0 * part, 1)))

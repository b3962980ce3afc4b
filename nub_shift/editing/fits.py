"""What a pad's measurement says of a stick's feel: numbers that follow from it, each with its reason."""

from __future__ import annotations

from collections.abc import Sequence
from dataclasses import dataclass
from datetime import date
from functools import partial
from math import hypot

from nub_shift.editing.edits import feel as feel_edits
from nub_shift.editing.handles import moved_values
from nub_shift.editing.wishes import Wish, said_changes
from nub_shift.model.controls import MOTION_SLOT
from nub_shift.model.measures import REST_MARGIN, Measured, last_motion, last_rest, last_rim
from nub_shift.model.profile import Profile
from nub_shift.translation import inside, tr, trn

# A stick that rests further from the middle is better taken to have its middle there.
OFF_CENTRE = 0.01


@dataclass(frozen=True)
class Fit:
    """Some numbers that follow from one measure.

    Attributes:
        text: what they are called together.
        value: the first of them.
        values: all of them, by setting.
        why: the reason.
        on: the day of the measure.
    """

    text: str
    value: float
    values: dict[str, float]
    why: str
    on: date


def fits(measured: Sequence[Measured], stick: str) -> list[Fit]:
    """All that the last measures of a stick say."""
    found = []
    rests, rims = last_rest(measured, stick), last_rim(measured, stick)
    if rests:
        on, rest = rests[0]
        off = hypot(rest.x, rest.y)
        if off > OFF_CENTRE:
            values = {"dead_zone": rest.centred_dead_zone, "rest_x": rest.x, "rest_y": rest.y}
            why = tr(
                "it rests {off:.3f} off the middle, within {spread:.3f} of there",
                off=off,
                spread=rest.spread + rest.drift,
            )
            found.append(Fit(tr("Centred zone"), rest.centred_dead_zone, values, why, on))
        else:
            values = {"dead_zone": rest.dead_zone, "rest_x": 0.0, "rest_y": 0.0}
            why = tr(
                "it rests within {off:.3f}; {times:g} times that", off=off + rest.spread + rest.drift, times=REST_MARGIN
            )
            found.append(Fit(tr("Dead zone"), rest.dead_zone, values, why, on))
    if rims:
        on, rim = rims[0]
        values = {"edge_zone": rim.edge_zone, "square_off": rim.square_off}
        found.append(
            Fit(
                tr("Edge zone"),
                rim.edge_zone,
                values,
                tr("its shortest reach is {least:.2f}", least=min(rim.reach)),
                on,
            )
        )
    return found


def motion_fits(measured: Sequence[Measured]) -> list[Fit]:
    """What the last measure of motion sensors says."""
    found = last_motion(measured)
    if not found:
        return []
    on, motion = found[0]
    why = tr("at rest the gyro trembles by {noise:.2f}°/s; 4 times that", noise=motion.noise_dps)
    return [Fit(tr("Still below"), motion.gate_dps, {"gate_dps": motion.gate_dps}, why, on)]


def fit_wishes(profile: Profile, layer_id: str, control: str, measured: Sequence[Measured], today: date) -> list[Wish]:
    """All of it at once, and each for itself; what is so already is left out."""
    feel = getattr(feel_edits.layer_feel(profile, layer_id), control)
    found: list[Wish] = []
    together: dict[tuple[str, ...], float] = {}
    for fit in motion_fits(measured) if control == MOTION_SLOT else fits(measured, control):
        changes: dict[tuple[str, ...], float] = {
            (name,): value for name, value in fit.values.items() if getattr(feel, name) != value
        }
        if not changes:
            continue
        together |= changes
        says = tr(
            "{changes}: {why}, measured {ago}",
            changes=said_changes(control, feel, changes),
            why=fit.why,
            ago=_ago((today - fit.on).days),
        )
        edit = partial(moved_values, layer_id=layer_id, control=control, values=changes)
        found.append(Wish(tr("Fit: {fit}", fit=inside(fit.text)), says, edit))
    if len(found) > 1:
        edit = partial(moved_values, layer_id=layer_id, control=control, values=together)
        found.insert(0, Wish(tr("Fit to this pad"), "; ".join(wish.says for wish in found), edit))
    return found


def _ago(days: int) -> str:
    return {0: tr("today"), 1: tr("yesterday")}.get(days) or trn("{count} day ago", "{count} days ago", days)

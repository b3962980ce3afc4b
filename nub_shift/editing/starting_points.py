"""Starting points: whole feels for a way of playing, as a basis for tuning."""

from __future__ import annotations

from dataclasses import dataclass
from functools import partial
from typing import Any

from msgspec.structs import replace

from nub_shift.editing.document import Edit
from nub_shift.editing.edits import feel as feel_edits
from nub_shift.editing.feel.look_speed import degrees_a_count, is_turn_known, set_speed, speed
from nub_shift.model.profile.feel import MotionFeel, Ramp, SliderFeel, Smoothing, Stage, StickFeel, TriggerFeel
from nub_shift.model.profile.profile import BASE_LAYER, Profile
from nub_shift.translation import tr


@dataclass(frozen=True)
class StartingPoint:
    """One starting point.

    Attributes:
        name: its name.
        text: its purpose.
        stick: changes of a stick's default feel, without settings measured for the pad.
        trigger, motion: changes of their default feels.
        turn_dps: looking speed of a stick in degrees a second, if the game's full turn is known.
        counts: looking speed in counts a second otherwise.
    """

    name: str
    text: str
    stick: dict[str, Any]
    trigger: dict[str, Any]
    motion: dict[str, Any]
    turn_dps: float
    counts: float


STARTING_POINTS = (
    StartingPoint(
        tr("Lookout"),
        tr("looking round in first person: fine near the middle, fast at the rim"),
        {"power": 1.8},
        {"light": Stage(on=0.3, off=0.22), "quick": True},
        {"ratio": 2.0, "fast_ratio": 4.0},
        180.0,
        1500.0,
    ),
    StartingPoint(
        tr("Kite"),
        tr("seeing from above: even speed, easy diagonals"),
        {"power": 1.2, "directions": {"diagonal_degrees": 50.0}},
        {"light": Stage(on=0.35, off=0.25)},
        {"ratio": 1.5},
        120.0,
        1000.0,
    ),
    StartingPoint(
        tr("Long road"),
        tr("steering a vehicle: soft in the middle, no jumps, all of a pull counts"),
        {"power": 2.2, "ramp": Ramp(start=0.6, full_ms=200)},
        {"light": Stage(on=0.1, off=0.06)},
        {"ratio": 1.0, "gate_dps": 0.6},
        90.0,
        800.0,
    ),
    StartingPoint(
        tr("Desk"),
        tr("moving a pointer over menus and maps: slow starts, steady small ways"),
        {"power": 2.5, "smoothing": Smoothing(min_cutoff_hz=3.0, beta=6.0)},
        {"light": Stage(on=0.4, off=0.3)},
        {"ratio": 1.2, "smooth_below_dps": 8.0},
        60.0,
        1100.0,
    ),
    StartingPoint(
        tr("Breath"),
        tr("working by mouth: much steadiness, little way, directions that hold"),
        {
            "power": 1.5,
            "smoothing": Smoothing(min_cutoff_hz=1.5, beta=2.0),
            "directions": {"diagonal_degrees": 35.0, "hysteresis_degrees": 8.0},
        },
        {"light": Stage(on=0.2, off=0.12)},
        {"ratio": 2.5, "gate_dps": 0.8},
        80.0,
        700.0,
    ),
)

# Settings that depend on the state of a stick.
_OF_THE_PAD = ("dead_zone", "dead_zone_shape", "axial_dead_zone", "edge_zone", "square_off")


def start_from(point: StartingPoint, layer_id: str, control: str) -> Edit:
    """Returns an edit that gives a control the feel of a starting point, and a looking stick its speed."""
    return partial(_started, point=point, layer_id=layer_id, control=control)


def _started(profile: Profile, point: StartingPoint, layer_id: str, control: str) -> Profile:
    now = getattr(feel_edits.layer_feel(profile, layer_id), control)
    match now:
        case StickFeel():
            values = {name: value for name, value in point.stick.items() if name != "directions"}
            directions = replace(StickFeel().directions, **point.stick.get("directions", {}))
            kept = {name: getattr(now, name) for name in (*_OF_THE_PAD, "rotation_degrees", "invert_x", "invert_y")}
            wanted: Any = StickFeel(**values, **kept, directions=directions)
        case TriggerFeel():
            wanted = TriggerFeel(**point.trigger)
        case SliderFeel():
            return profile
        case MotionFeel():
            kept = {name: getattr(now, name) for name in ("invert_x", "invert_y", "axis", "tilt")}
            wanted = MotionFeel(**point.motion, **kept)
        case _:
            raise TypeError(now)
    # Written as in a profile, so that a layer stores the same form.
    source = replace(profile, feel=replace(profile.feel, **{control: wanted}))
    made = feel_edits.copy_settings(profile, layer_id, control, feel_edits.settings(source, BASE_LAYER, control))
    if speed(made, layer_id, control) is None:
        return made
    counts = point.turn_dps / degrees_a_count(profile) if is_turn_known(profile) else point.counts
    return set_speed(made, layer_id, control, round(counts), round(counts))

"""Labels of the settings of the feel, by the part of the feel that contains them."""

from __future__ import annotations

from collections.abc import Sequence
from enum import Enum
from typing import Final

from nub_shift.model.controls import PART_LABELS
from nub_shift.model.profile.feel import (
    AxisFeel,
    Centre,
    DeadZoneShape,
    Directions,
    Feel,
    MotionAxis,
    MotionFeel,
    Ramp,
    SliderFeel,
    Smoothing,
    Stage,
    Stages,
    StickFeel,
    TiltFeel,
    TriggerFeel,
)
from nub_shift.model.profile.schema_types import Record
from nub_shift.translation import tr

FEEL_LABELS: Final[dict[type[Record], dict[str, str]]] = {
    StickFeel: {
        "dead_zone": tr("Dead zone"),
        "dead_zone_shape": tr("Dead zone shape"),
        "axial_dead_zone": tr("Dead zone along the axes"),
        "edge_zone": tr("Edge zone"),
        "anti_dead_zone": tr("Anti-dead zone"),
        "power": tr("Curve power"),
        "points": tr("Curve points"),
        "rotation_degrees": tr("Rotation"),
        "invert_x": tr("Inverted across"),
        "invert_y": tr("Inverted up and down"),
        "square_off": tr("Square-off"),
        "smoothing": tr("Smoothing"),
        "ramp": tr("Speeding up"),
        "x": tr("Across alone"),
        "y": tr("Up and down alone"),
        "inner": tr("Inner radius"),
        "edge": tr("Edge"),
        "directions": tr("Directions"),
    },
    TriggerFeel: {
        "light": tr("Light pull"),
        "deep": tr("Deep pull"),
        "stages": tr("Light pull while pulled deep"),
        "either_ms": tr("Only one of the two: time to decide"),
        "quick": tr("Quick"),
        "ease": tr("Quick: ease by"),
    },
    SliderFeel: {part: PART_LABELS[part] for part in ("low", "low_deep", "high", "high_deep")},
    MotionFeel: {
        "ratio": tr("Turns per degree"),
        "vertical_ratio": tr("Up and down, in relation"),
        "fast_ratio": tr("Turns per degree when fast"),
        "slow_dps": tr("Slow below"),
        "fast_dps": tr("Fast above"),
        "gate_dps": tr("Counts as still below"),
        "smooth_below_dps": tr("Smoothed below"),
        "smooth_ms": tr("Smoothed over"),
        "axis": tr("Left and right by"),
        "invert_x": tr("Inverted across"),
        "invert_y": tr("Inverted up and down"),
        "tilt": tr("Tilting"),
    },
    Stage: {"on": tr("begins at"), "off": tr("ends below")},
    Directions: {
        "ways": tr("how many"),
        "diagonal_degrees": tr("width of diagonals"),
        "on": tr("begin at"),
        "off": tr("end below"),
        "hysteresis_degrees": tr("hysteresis"),
        "up": tr("up alone"),
        "down": tr("down alone"),
        "left": tr("left alone"),
        "right": tr("right alone"),
    },
    Smoothing: {"min_cutoff_hz": tr("cutoff at rest"), "beta": tr("less when fast")},
    Ramp: {"start": tr("from"), "full_ms": tr("time to full speed")},
    TiltFeel: {
        "on_degrees": tr("begins at"),
        "off_degrees": tr("ends below"),
        "centre": tr("counts from"),
        "dead_degrees": tr("nothing up to"),
        "full_degrees": tr("all at"),
        "power": tr("curve power"),
    },
    AxisFeel: {
        "dead_zone": tr("dead zone"),
        "power": tr("curve power"),
        "points": tr("curve points"),
        "ramp": tr("speeding up"),
    },
}
CHOICE_NAMES: Final[dict[Enum, str]] = {
    DeadZoneShape.RADIAL: tr("A disc in the middle"),
    DeadZoneShape.AXIAL: tr("A band along each axis"),
    DeadZoneShape.BOTH: tr("A disc and bands"),
    Stages.BOTH: tr("Stays pressed"),
    Stages.REPLACE: tr("Lets go meanwhile"),
    Stages.EITHER: tr("Each pull does only one of the two"),
    MotionAxis.YAW: tr("Turn, pad held flat"),
    MotionAxis.ROLL: tr("Roll, like a wheel"),
    MotionAxis.GRAVITY: tr("Turn, held any way"),
    Centre.HELD: tr("How long it lasts"),
    Centre.LEVEL: tr("Level"),
}
_PARTS: Final[dict[str, type[Record]]] = {
    "smoothing": Smoothing,
    "ramp": Ramp,
    "directions": Directions,
    "tilt": TiltFeel,
    "x": AxisFeel,
    "y": AxisFeel,
    **dict.fromkeys(
        ("up", "down", "left", "right", "edge", "light", "deep", "low", "low_deep", "high", "high_deep"), Stage
    ),
}


def part_and_name(control: str, path: Sequence[str]) -> tuple[type[Record], str]:
    """Returns the part of the feel that contains a setting, and its name there; `path` begins at the control's feel."""
    part: type[Record] = type(getattr(Feel(), control))
    for name in path[:-1]:
        part = _PARTS.get(name, part)
    return part, path[-1]


def feel_label(control: str, path: Sequence[str]) -> str:
    """Returns the label of a setting of a control, such as "Edge: begins at"; `path` begins at the control's feel."""
    part: type[Record] = type(getattr(Feel(), control))
    words = []
    for name in path:
        words.append(FEEL_LABELS[part][name])
        part = _PARTS.get(name, part)
    return ": ".join(words)

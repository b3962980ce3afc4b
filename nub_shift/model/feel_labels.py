"""What the settings of the feel are called, by the part of the feel that they are in."""

from __future__ import annotations

from collections.abc import Sequence
from enum import Enum
from typing import Final

from nub_shift.model.feel import (
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
from nub_shift.model.schema_types import Record

FEEL_LABELS: Final[dict[type[Record], dict[str, str]]] = {
    StickFeel: {
        "dead_zone": "Dead zone",
        "dead_zone_shape": "Dead zone shape",
        "axial_dead_zone": "Dead zone along the axes",
        "edge_zone": "Edge zone",
        "anti_dead_zone": "Anti-dead zone",
        "power": "Curve power",
        "points": "Curve points",
        "rest_x": "Rest, across",
        "rest_y": "Rest, up and down",
        "rotation_degrees": "Rotation",
        "invert_x": "Inverted across",
        "invert_y": "Inverted up and down",
        "square_off": "Square-off",
        "smoothing": "Smoothing",
        "ramp": "Speeding up",
        "x": "Across alone",
        "y": "Up and down alone",
        "inner": "Inner radius",
        "edge": "Edge",
        "directions": "Directions",
    },
    TriggerFeel: {
        "light": "Light pull",
        "deep": "Deep pull",
        "stages": "Light pull once it is deep",
        "either_ms": "One of both: time to decide",
        "quick": "Quick",
        "ease": "Quick: ease by",
    },
    SliderFeel: {"low": "Low", "low_deep": "Low, deep", "high": "High", "high_deep": "High, deep"},
    MotionFeel: {
        "ratio": "Turns per degree",
        "vertical_ratio": "Up and down, in relation",
        "fast_ratio": "Turns per degree when fast",
        "slow_dps": "Slow below",
        "fast_dps": "Fast above",
        "gate_dps": "Still below",
        "smooth_below_dps": "Smoothed below",
        "smooth_ms": "Smoothed over",
        "axis": "Looks across by",
        "invert_x": "Inverted across",
        "invert_y": "Inverted up and down",
        "tilt": "Tilting",
    },
    Stage: {"on": "begins at", "off": "ends below"},
    Directions: {
        "ways": "how many",
        "diagonal_degrees": "width of diagonals",
        "on": "begin at",
        "off": "end below",
        "hysteresis_degrees": "hysteresis",
    },
    Smoothing: {"min_cutoff_hz": "cutoff at rest", "beta": "less when fast"},
    Ramp: {"start": "from", "full_ms": "time to full speed"},
    TiltFeel: {
        "on_degrees": "begins at",
        "off_degrees": "ends below",
        "centre": "counts from",
        "dead_degrees": "nothing up to",
        "full_degrees": "all at",
        "power": "curve power",
    },
    AxisFeel: {"dead_zone": "dead zone", "power": "curve power", "points": "curve points", "ramp": "speeding up"},
}
CHOICE_NAMES: Final[dict[Enum, str]] = {
    DeadZoneShape.RADIAL: "A disc in the middle",
    DeadZoneShape.AXIAL: "A band along each axis",
    DeadZoneShape.BOTH: "A disc and bands",
    Stages.BOTH: "Stays pressed",
    Stages.REPLACE: "Lets go meanwhile",
    Stages.EITHER: "A pull has one of both",
    MotionAxis.YAW: "Turn, pad held flat",
    MotionAxis.ROLL: "Roll, like a wheel",
    MotionAxis.GRAVITY: "Turn, held any way",
    Centre.HELD: "How it is held",
    Centre.LEVEL: "Level",
}
_PARTS: Final[dict[str, type[Record]]] = {
    "smoothing": Smoothing,
    "ramp": Ramp,
    "directions": Directions,
    "tilt": TiltFeel,
    "x": AxisFeel,
    "y": AxisFeel,
    **dict.fromkeys(("edge", "light", "deep", "low", "low_deep", "high", "high_deep"), Stage),
}


def part_and_name(control: str, path: Sequence[str]) -> tuple[type[Record], str]:
    """The part of the feel that a setting is in, and its name there; `path` names it from the control's feel on."""
    part: type[Record] = type(getattr(Feel(), control))
    for name in path[:-1]:
        part = _PARTS.get(name, part)
    return part, path[-1]


def feel_label(control: str, path: Sequence[str]) -> str:
    """What a setting of a control is called, as "Edge: begins at"; `path` names it from the control's feel on."""
    part: type[Record] = type(getattr(Feel(), control))
    words = []
    for name in path:
        words.append(FEEL_LABELS[part][name])
        part = _PARTS.get(name, part)
    return ": ".join(words)

"""Help on each setting of the feel: its effect on the hand, unit, step and illustration."""

from __future__ import annotations

from collections.abc import Sequence
from dataclasses import dataclass
from enum import Enum, auto
from typing import Final

from nub_shift.editing.words.feel_labels import part_and_name
from nub_shift.model.profile.feel import (
    AxisFeel,
    Directions,
    MotionFeel,
    Ramp,
    SliderFeel,
    Smoothing,
    Stage,
    StickFeel,
    TiltFeel,
    TriggerFeel,
)
from nub_shift.model.profile.schema_types import Record
from nub_shift.translation import tr


class Drawn(Enum):
    """Illustration of less and of more of a setting."""

    NOTHING = auto()
    STARTS_LATE = auto()
    FULL_EARLY = auto()
    STARTS_HIGH = auto()
    BENDS = auto()
    RING = auto()
    WEDGE = auto()
    TURNED = auto()
    SQUARE = auto()
    LEVEL = auto()
    TIME = auto()
    SLOPE = auto()


@dataclass(frozen=True)
class FeelHelp:
    """Help on one setting.

    Attributes:
        text: effect on the hand.
        drawn: illustration.
        step: change by an arrow key.
        unit: unit after the number.
    """

    text: str
    drawn: Drawn = Drawn.NOTHING
    step: float = 0.01
    unit: str = ""


_DEG, _DPS, _MS = "°", "°/s", " ms"

FEEL_HELP: Final[dict[type[Record], dict[str, FeelHelp]]] = {
    StickFeel: {
        "dead_zone": FeelHelp(tr("More: the stick must go further before anything happens."), Drawn.STARTS_LATE),
        "dead_zone_shape": FeelHelp(tr("Along the axes, straight lines stay straight; a disc treats all ways alike.")),
        "axial_dead_zone": FeelHelp(tr("More: straight lines are easier, slight slants are lost."), Drawn.STARTS_LATE),
        "edge_zone": FeelHelp(tr("More: full output is reached before the rim."), Drawn.FULL_EARLY),
        "anti_dead_zone": FeelHelp(tr("More: output starts higher, past the game's own dead zone."), Drawn.STARTS_HIGH),
        "power": FeelHelp(tr("More: finer near the middle, faster towards the rim."), Drawn.BENDS, 0.05),
        "points": FeelHelp(tr("Points that the curve goes through, instead of a power. Drag them in the curve.")),
        "rotation_degrees": FeelHelp(
            tr("Turns all directions, for a stick that is held askew."), Drawn.TURNED, 1, _DEG
        ),
        "invert_x": FeelHelp(tr("Right becomes left.")),
        "invert_y": FeelHelp(tr("Up becomes down.")),
        "square_off": FeelHelp(tr("More: diagonals reach further; below 0 they are drawn in."), Drawn.SQUARE, 0.05),
        "smoothing": FeelHelp(tr("Steadies a hand or stick that trembles, at the cost of a little delay.")),
        "ramp": FeelHelp(tr("Speed grows while the stick is held out.")),
        "x": FeelHelp(tr("What the axis across has for itself.")),
        "y": FeelHelp(tr("What the axis up and down has for itself.")),
        "inner": FeelHelp(tr("Up to here the slot for small deflections is pressed."), Drawn.RING),
    },
    AxisFeel: {
        "dead_zone": FeelHelp(tr("More: this axis must go further before anything happens."), Drawn.STARTS_LATE),
        "power": FeelHelp(tr("More: this axis is finer near the middle."), Drawn.BENDS, 0.05),
        "points": FeelHelp(tr("Points that the curve of this axis goes through.")),
        "ramp": FeelHelp(tr("Speed along this axis grows while the stick is held out.")),
    },
    Stage: {
        "on": FeelHelp(tr("More: it must go deeper before it counts as pressed."), Drawn.LEVEL),
        "off": FeelHelp(tr("Less: it stays pressed for longer on the way back."), Drawn.LEVEL),
    },
    Directions: {
        "ways": FeelHelp(tr("With 8, a diagonal presses both keys; with 4, one direction at a time.")),
        "diagonal_degrees": FeelHelp(tr("More: diagonals are easier, straight lines harder."), Drawn.WEDGE, 1, _DEG),
        "on": FeelHelp(tr("More: the stick must go further out before it walks."), Drawn.RING),
        "off": FeelHelp(tr("Less: it walks on for longer on the way back."), Drawn.RING),
        **dict.fromkeys(
            ("up", "down", "left", "right"),
            FeelHelp(tr("How far the stick must go this way, where that differs from the others.")),
        ),
        "hysteresis_degrees": FeelHelp(tr("More: a direction is kept for longer at its border."), Drawn.WEDGE, 1, _DEG),
    },
    Smoothing: {
        "min_cutoff_hz": FeelHelp(
            tr("Less: steadier while the stick hardly moves, but later."), Drawn.TIME, 0.1, " Hz"
        ),
        "beta": FeelHelp(tr("More: quick movement is delayed less."), Drawn.TIME, 0.5),
    },
    Ramp: {
        "start": FeelHelp(tr("More: faster from the first moment."), Drawn.STARTS_HIGH, 0.05),
        "full_ms": FeelHelp(tr("More: it takes longer to full speed."), Drawn.TIME, 10, _MS),
    },
    TriggerFeel: {
        "stages": FeelHelp(tr("What the light pull does once the deep one is reached.")),
        "either_ms": FeelHelp(
            tr("More: more time to reach the deep pull, and the light one waits for it."), Drawn.TIME, 5, _MS
        ),
        "quick": FeelHelp(tr("Lets go as soon as the finger eases, and presses again as soon as it pulls.")),
        "ease": FeelHelp(tr("More: the finger must ease further before it lets go."), Drawn.LEVEL),
    },
    SliderFeel: {},
    MotionFeel: {
        "ratio": FeelHelp(tr("More: the view turns further for each degree of the hand."), Drawn.SLOPE, 0.05, " ×"),
        "vertical_ratio": FeelHelp(tr("More: up and down is faster, in relation to across."), Drawn.SLOPE, 0.05, " ×"),
        "fast_ratio": FeelHelp(tr("More: a quick turn carries further than a slow one."), Drawn.SLOPE, 0.05, " ×"),
        "slow_dps": FeelHelp(tr("Up to here a turn counts as slow."), Drawn.LEVEL, 1, _DPS),
        "fast_dps": FeelHelp(tr("From here on a turn counts as fast."), Drawn.LEVEL, 1, _DPS),
        "gate_dps": FeelHelp(
            tr("More: steadier at rest, but very slow turns are lost."), Drawn.STARTS_LATE, 0.05, _DPS
        ),
        "smooth_below_dps": FeelHelp(tr("More: faster turns are steadied, too."), Drawn.LEVEL, 0.5, _DPS),
        "smooth_ms": FeelHelp(tr("More: slow turns are steadier and come a little later."), Drawn.TIME, 5, _MS),
        "axis": FeelHelp(tr("Which way of turning the pad looks across.")),
        "invert_x": FeelHelp(tr("Right becomes left.")),
        "invert_y": FeelHelp(tr("Up becomes down.")),
    },
    TiltFeel: {
        "on_degrees": FeelHelp(tr("More: the pad must tilt further before it counts."), Drawn.LEVEL, 1, _DEG),
        "off_degrees": FeelHelp(tr("Less: it counts for longer on the way back."), Drawn.LEVEL, 1, _DEG),
        "centre": FeelHelp(tr("From how it is held as play begins, or from level.")),
        "dead_degrees": FeelHelp(
            tr("More: it must tilt further before the pointer moves."), Drawn.STARTS_LATE, 1, _DEG
        ),
        "full_degrees": FeelHelp(tr("Less: full speed is reached sooner."), Drawn.FULL_EARLY, 1, _DEG),
        "power": FeelHelp(tr("More: finer for small tilts."), Drawn.BENDS, 0.05),
    },
}


def feel_help(control: str, path: Sequence[str]) -> FeelHelp:
    """Returns the help on a setting of a control; `path` begins at the control's feel."""
    part, name = part_and_name(control, path)
    return FEEL_HELP[part].get(name, FeelHelp(""))

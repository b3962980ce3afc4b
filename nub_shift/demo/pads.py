"""The made-up pads, by name."""

from __future__ import annotations

from enum import Enum

from nub_shift.demo.performances import SALTGLASS_SECONDS, driving, drumming, saltglass, sitting_back
from nub_shift.pads.pad import PadError, with_name
from nub_shift.pads.simulated import Gesture, SimulatedPad, Sweep, Traits

TERN = Traits(
    name="Tern two-stick pad",
    controls=(
        "left_trigger",
        "left_shoulder",
        "left_stick",
        "dpad",
        "select",
        "start",
        "home",
        "south",
        "east",
        "west",
        "north",
        "right_stick",
        "right_trigger",
        "right_shoulder",
        "motion",
    ),
    # Its left stick rests a little to the right and its right stick a little high, as used ones do.
    rest=(("left_stick.x", 0.035), ("right_stick.y", -0.022), ("motion.accel_y", 1.0)),
)

FACE = ("south", "east", "west", "north")
SHOULDERS = ("left_shoulder", "right_shoulder")
MIDDLE = ("select", "start")

REED = Traits(
    name="Reed mouth pad",
    controls=("left_stick", "dpad", *FACE[:3], "slider_1"),
    noise=0.006,
    rest=(("left_stick.y", 0.05), ("slider_1", 0.01)),
)
PLANK = Traits(name="Plank arcade stick", controls=("dpad", *FACE, *SHOULDERS, *MIDDLE))
FRETWORK = Traits(name="Fretwork board", controls=("dpad", *FACE, "left_shoulder", *MIDDLE, "slider_1", "motion"))
HALVES = Traits(
    name="Wren half pads",
    controls=(
        *("left_stick", "right_stick", "left_trigger", "right_trigger", "dpad"),
        *(*FACE, *SHOULDERS, *MIDDLE, "grip_1", "grip_2", "motion"),
    ),
    rate_hz=200,
    jitter_us=700,
    rest=(("right_stick.x", -0.04), ("motion.gyro_y", 0.7), ("motion.accel_y", 1.0)),
)

_SETS = {
    "tern": (TERN, saltglass, SALTGLASS_SECONDS),
    "reed": (REED, sitting_back, 20.0),
    "halves": (HALVES, driving, 24.0),
    "plank": (PLANK, drumming, 16.0),
    "fretwork": (FRETWORK, drumming, 16.0),
}


class Doing(Enum):
    """What a made-up pad does: its performance, nothing, or both sticks round the rim."""

    PERFORM = "perform"
    REST = "rest"
    RIM = "rim"


def simulated_pad(name: str, start_us: int, once: bool = False, doing: Doing = Doing.PERFORM) -> SimulatedPad:
    """The made-up pad whose key or name contains `name`, about to perform from `start_us` on.

    Raises:
        PadError: there is none.
    """
    key = with_name([(key, traits.name) for key, (traits, _, _) in _SETS.items()], name)
    if key is None:
        raise PadError(f'there is no simulated pad "{name}", expected one of {", ".join(_SETS)}')
    traits, gestures, seconds = _SETS[key]
    performed = {Doing.PERFORM: gestures, Doing.REST: list, Doing.RIM: _round_the_rim}[doing]()
    return SimulatedPad(traits, performed, seconds, start_us, once)


def _round_the_rim() -> list[Gesture]:
    """Worn sticks, which no longer reach the end, go round twice and a half."""
    return [Sweep((f"{stick}.x", f"{stick}.y"), 0.94, 2.5, 0.0, 4.0) for stick in ("left_stick", "right_stick")]

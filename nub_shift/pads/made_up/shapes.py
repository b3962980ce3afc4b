"""The simulated pads, by name."""

from __future__ import annotations

from enum import Enum

from nub_shift.model.controls import FACE_BUTTONS, Finger
from nub_shift.model.messages import Code
from nub_shift.pads.description import Description
from nub_shift.pads.input_codes import ABS_HAT0X, ABS_HAT0Y, ABS_RZ, ABS_THROTTLE, ABS_X, ABS_Y, ABS_Z, Axis
from nub_shift.pads.known.wiring import AxisUse, Wiring
from nub_shift.pads.made_up.pad import Built, Gesture, SimulatedPad, Sweep, Traits
from nub_shift.pads.made_up.performances import (
    SALTGLASS_SECONDS,
    driving,
    drumming,
    looking_round,
    saltglass,
    sitting_back,
)
from nub_shift.pads.pad import PadError, with_name

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
    # The left stick, as in used pads, rests a little to the right and the right stick a little high.
    rest=(("left_stick.x", 0.035), ("right_stick.y", -0.022), ("motion.accel_y", 1.0)),
)

SHOULDERS = ("left_shoulder", "right_shoulder")
MIDDLE = ("select", "start")

REED = Traits(
    name="Reed mouth pad",
    controls=("left_stick", "dpad", *FACE_BUTTONS[:3], "slider_1"),
    noise=0.006,
    rest=(("left_stick.y", 0.05), ("slider_1", 0.01)),
    fingers=(("left_stick", Finger.OTHER),),
)


def _older(name: str, product: int, buttons: dict[int, str], axes: dict[int, AxisUse]) -> Built:
    """Returns a device older than the gamepad document, whose codes do not show their meaning."""
    spans = {code: Axis(round(min(use.low, use.high)), round(max(use.low, use.high))) for code, use in axes.items()}
    device = Description(
        name, bus=3, vendor=0x1209, product=product, version=0x0100, keys=frozenset(buttons), axes=spans
    )
    return Built(device, Wiring(buttons, axes))


def _both(channel: str, low: float = 0, rest: float = 127, high: float = 255) -> AxisUse:
    return AxisUse(channel, channel, low, rest, high)


_HAT = {
    ABS_HAT0X: AxisUse("dpad.right", "dpad.left", -1, 0, 1),
    ABS_HAT0Y: AxisUse("dpad.down", "dpad.up", -1, 0, 1),
}
_PLANK_BUTTONS = ("west", "south", "east", *SHOULDERS, "north", "left_trigger", "right_trigger", "start", "select")
_GORSE_BUTTONS = ("north", "east", "south", "west", *SHOULDERS, *MIDDLE, "left_stick.click", "right_stick.click")

PLANK = Traits(
    name="Plank arcade stick",
    controls=("left_stick", *FACE_BUTTONS, *SHOULDERS, "left_trigger", "right_trigger", *MIDDLE),
    noise=0.0,
    built=_older(
        "Plank arcade stick",
        0x5101,
        dict(enumerate(_PLANK_BUTTONS, 0x120)),
        # Inverted vertical axis.
        {ABS_X: _both("left_stick.x"), ABS_Y: _both("left_stick.y", 255, 127, 0)},
    ),
)
GORSE = Traits(
    name="Gorse old pad",
    controls=("left_stick", "right_stick", "dpad", *FACE_BUTTONS, *SHOULDERS, "left_trigger", "right_trigger", *MIDDLE),
    noise=0.01,
    rest=(("left_stick.x", -0.06), ("right_stick.y", 0.03)),
    axis_steps=127,
    built=_older(
        "Gorse old pad",
        0x5102,
        dict(enumerate(_GORSE_BUTTONS, 0x120)),
        {
            ABS_X: _both("left_stick.x"),
            ABS_Y: _both("left_stick.y"),
            ABS_Z: AxisUse("left_trigger", "right_trigger", 0, 127, 255),
            ABS_RZ: _both("right_stick.y"),
            ABS_THROTTLE: _both("right_stick.x"),
            **_HAT,
        },
    ),
)
FRETWORK = Traits(
    name="Fretwork board",
    controls=("dpad", *FACE_BUTTONS, "left_shoulder", *MIDDLE, "slider_1", "motion"),
    built=_older(
        "Fretwork board",
        0x5103,
        {0x121: "south", 0x122: "east", 0x120: "west", 0x123: "north", 0x124: "left_shoulder"}
        | {0x128: "select", 0x129: "start"},
        {ABS_Z: AxisUse("slider_1", "", 0, 0, 255), **_HAT},
    ),
)
# Off centre, trembling, short of its rim, and jumpy at the beginning of a push.
TEASEL = Traits(
    name="Teasel worn pad",
    controls=(
        *("left_stick", "right_stick", "left_trigger", "right_trigger", "dpad"),
        *(*FACE_BUTTONS, *SHOULDERS, *MIDDLE),
    ),
    noise=0.008,
    reach=0.86,
    bend=0.7,
    rest=(("left_stick.x", -0.045), ("left_stick.y", 0.03), ("right_stick.x", 0.05), ("right_stick.y", 0.033)),
)
LEFT_HALF = Traits(
    name="Wren left half",
    controls=("left_stick", "left_trigger", "left_shoulder", "dpad", "select", "grip_1", "motion"),
    rest=(("motion.accel_y", 1.0), ("left_stick.y", 0.02)),
)
RIGHT_HALF = Traits(
    name="Wren right half",
    controls=("right_stick", "right_trigger", "right_shoulder", *FACE_BUTTONS, "start", "grip_2", "motion"),
    rest=(("motion.accel_y", 1.0), ("motion.gyro_y", 0.7), ("right_stick.x", -0.04)),
)
HALVES = Traits(
    name="Wren half pads",
    controls=(
        *("left_stick", "right_stick", "left_trigger", "right_trigger", "dpad"),
        *(*FACE_BUTTONS, *SHOULDERS, *MIDDLE, "surface", "grip_1", "grip_2", "motion"),
    ),
    battery=64,
    rate_hz=200,
    jitter_us=700,
    rest=(("right_stick.x", -0.04), ("motion.gyro_y", 0.7), ("motion.accel_y", 1.0)),
)

_SETS = {
    "tern": (TERN, saltglass, SALTGLASS_SECONDS),
    "reed": (REED, sitting_back, 20.0),
    "halves": (HALVES, driving, 24.0),
    "left": (LEFT_HALF, driving, 24.0),
    "right": (RIGHT_HALF, driving, 24.0),
    "plank": (PLANK, drumming, 16.0),
    "gorse": (GORSE, saltglass, SALTGLASS_SECONDS),
    "fretwork": (FRETWORK, drumming, 16.0),
    "teasel": (TEASEL, looking_round, 24.0),
}
SIMULATED = {key: traits.name for key, (traits, _, _) in _SETS.items()}


class Doing(Enum):
    """Behaviour of a simulated pad: its demo, nothing, or both sticks round the rim."""

    PERFORM = "perform"
    REST = "rest"
    RIM = "rim"


def simulated_pad(name: str, start_us: int, once: bool = False, doing: Doing = Doing.PERFORM) -> SimulatedPad:
    """Returns the simulated pad whose key or name contains `name`, to play from `start_us` on.

    Raises:
        PadError: unknown name.
    """
    key = simulated_key(name)
    traits, gestures, seconds = _SETS[key]
    performed = {Doing.PERFORM: gestures, Doing.REST: list, Doing.RIM: _round_the_rim}[doing]()
    return SimulatedPad(key, traits, performed, seconds, start_us, once)


def simulated_key(name: str) -> str:
    """Returns the key of the simulated pad whose key or name contains `name`.

    Raises:
        PadError: unknown name.
    """
    key = name if name in SIMULATED else with_name(SIMULATED.items(), name)
    if key is None:
        raise PadError(Code.NO_SUCH_SIMULATED_PAD, pad=name, names=list(SIMULATED))
    return key


def _round_the_rim() -> list[Gesture]:
    """Returns two and a half turns of both sticks along a worn rim, short of the end."""
    return [Sweep((f"{stick}.x", f"{stick}.y"), 0.94, 2.5, 0.0, 4.0) for stick in ("left_stick", "right_stick")]

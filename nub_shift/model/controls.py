"""Canonical controls of a pad: names, kinds, fingers, channels and slots.

Names follow the kernel's gamepad document (positions, not letters). A *channel* is one number that a pad reports
(`left_stick.x`); a *slot* is a place that a profile can assign (`left_stick.up`).
"""

from __future__ import annotations

from collections.abc import Collection, Mapping
from dataclasses import dataclass
from enum import Enum

from nub_shift.model.slot_names import SlotName, slot_name
from nub_shift.translation import tr, trc


class Kind(Enum):
    """Physical kind of a control."""

    BUTTON = "button"
    STICK = "stick"
    TRIGGER = "trigger"
    PAD_CROSS = "D-pad"
    SLIDER = "slider"
    MOTION = "motion"
    SURFACE = "surface"


class Finger(Enum):
    """Finger or hand part that works a control."""

    LEFT_INDEX = "left_index"
    LEFT_THUMB = "left_thumb"
    MIDDLE = "either_thumb"
    RIGHT_THUMB = "right_thumb"
    RIGHT_INDEX = "right_index"
    PALMS = "palms"
    WRISTS = "wrists"
    OTHER = "mouth"


FINGER_LABELS: dict[Finger, str] = {
    Finger.LEFT_INDEX: tr("Left index"),
    Finger.LEFT_THUMB: tr("Left thumb"),
    Finger.MIDDLE: tr("Either thumb"),
    Finger.RIGHT_THUMB: tr("Right thumb"),
    Finger.RIGHT_INDEX: tr("Right index"),
    Finger.PALMS: tr("Palms"),
    Finger.WRISTS: tr("Wrists"),
    Finger.OTHER: tr("Mouth or other"),
}
# Fingers of a pad held in an unusual way, by control.
Fingers = Mapping[str, Finger]

# The four buttons under the right thumb, by position.
FACE_BUTTONS = ("south", "east", "west", "north")

TILT_WAYS = ("left", "right", "forward", "back")
WAYS = ("up", "down", "left", "right")
# Diagonals of a stick; where assigned, a diagonal is pressed in place of its two directions.
DIAGONALS: dict[str, tuple[str, str]] = {
    f"{vertical}_{level}": (vertical, level) for vertical in WAYS[:2] for level in WAYS[2:]
}


@dataclass(frozen=True)
class Control:
    """One physical thing on a pad.

    Attributes:
        name: canonical name, also the name of the only slot of a button.
        label: name in the interface.
        finger: finger that works the control with the usual grip.
        channels: reported numbers. Buttons: 0 or 1. Triggers: 0 to 1. Sticks: x to the right and y downwards, -1 to 1.
            A touch surface: likewise, from its middle, while touched. Sliders and sensors: -1 to 1, 0 at rest. Motion:
            gyro in degrees a second, accelerometer in units of standard gravity.
        slots: places that a profile can assign.
    """

    name: str
    kind: Kind
    label: str
    finger: Finger
    channels: tuple[str, ...]
    slots: tuple[str, ...]


def _button(name: str, label: str, finger: Finger) -> Control:
    return Control(name, Kind.BUTTON, label, finger, (name,), (name,))


def _stick(name: str, label: str, finger: Finger) -> Control:
    parts = (*WAYS, *DIAGONALS, "click", "inner", "edge")
    slots = (name, *(slot_name(name, part) for part in parts))
    return Control(
        name, Kind.STICK, label, finger, (slot_name(name, "x"), slot_name(name, "y"), slot_name(name, "click")), slots
    )


def _trigger(name: str, label: str, finger: Finger) -> Control:
    return Control(name, Kind.TRIGGER, label, finger, (name,), (slot_name(name, "light"), slot_name(name, "deep")))


def _slider(name: str, label: str) -> Control:
    stages = ("low", "low_deep", "high", "high_deep")
    return Control(name, Kind.SLIDER, label, Finger.OTHER, (name,), tuple(slot_name(name, stage) for stage in stages))


def _cross(name: str, label: str, finger: Finger) -> Control:
    ways = tuple(slot_name(name, way) for way in WAYS)
    return Control(name, Kind.PAD_CROSS, label, finger, ways, ways)


def _surface() -> Control:
    parts = (*WAYS, *DIAGONALS, "touch", "click", "inner", "edge")
    channels = tuple(slot_name("surface", part) for part in ("x", "y", "touch", "click"))
    slots = ("surface", *(slot_name("surface", part) for part in parts))
    return Control("surface", Kind.SURFACE, tr("Touch surface"), Finger.MIDDLE, channels, slots)


def _motion() -> Control:
    axes = tuple(slot_name("motion", f"{sensor}_{axis}") for sensor in ("gyro", "accel") for axis in "xyz")
    tilts = tuple(slot_name("motion", f"tilt_{way}") for way in TILT_WAYS)
    return Control("motion", Kind.MOTION, tr("Gyro"), Finger.WRISTS, axes, ("motion", *tilts))


# Within each finger's group, the control under the resting finger comes first.
CONTROLS: tuple[Control, ...] = (
    _trigger("left_trigger", tr("Left trigger"), Finger.LEFT_INDEX),
    _button("left_shoulder", tr("Left shoulder"), Finger.LEFT_INDEX),
    _stick("left_stick", tr("Left stick"), Finger.LEFT_THUMB),
    _cross("dpad", tr("D-pad"), Finger.LEFT_THUMB),
    _button("select", tr("Select"), Finger.MIDDLE),
    _button("start", tr("Start"), Finger.MIDDLE),
    _button("home", tr("Home"), Finger.MIDDLE),
    _surface(),
    _button("south", tr("South"), Finger.RIGHT_THUMB),
    _button("east", tr("East"), Finger.RIGHT_THUMB),
    _button("west", tr("West"), Finger.RIGHT_THUMB),
    _button("north", tr("North"), Finger.RIGHT_THUMB),
    _stick("right_stick", tr("Right stick"), Finger.RIGHT_THUMB),
    _trigger("right_trigger", tr("Right trigger"), Finger.RIGHT_INDEX),
    _button("right_shoulder", tr("Right shoulder"), Finger.RIGHT_INDEX),
    *(_button(f"grip_{n}", tr("Grip {n}", n=n), Finger.PALMS) for n in range(1, 5)),
    _motion(),
    _slider("slider_1", tr("Slider 1")),
    _slider("slider_2", tr("Slider 2")),
)

CONTROL_BY_NAME: dict[str, Control] = {control.name: control for control in CONTROLS}
CONTROL_OF_CHANNEL: dict[str, Control] = {channel: control for control in CONTROLS for channel in control.channels}
CONTROL_OF_SLOT: dict[str, Control] = {slot: control for control in CONTROLS for slot in control.slots}

# Value of every channel while the pad lies level and untouched.
AT_REST: dict[str, float] = {channel: 0.0 for control in CONTROLS for channel in control.channels}
AT_REST["motion.accel_y"] = 1.0

# Channels with the values 0 and 1 only.
DIGITAL: frozenset[str] = frozenset(
    channel
    for control in CONTROLS
    for channel in control.channels
    if control.kind in (Kind.BUTTON, Kind.PAD_CROSS) or SlotName.parse(channel).part in ("click", "touch")
)

# Slots that follow a position, not an event: resolved again at once when a layer changes.
CONTINUOUS_SLOTS: frozenset[str] = frozenset(
    slot
    for control in CONTROLS
    if control.kind in (Kind.STICK, Kind.TRIGGER, Kind.SLIDER, Kind.MOTION, Kind.SURFACE)
    for slot in control.slots
    if SlotName.parse(slot).part not in ("click", "touch")
)

# Slot of turning and tilting the pad, which are no presses.
MOTION_SLOT = "motion"
MOTION_CHANNELS: frozenset[str] = frozenset(CONTROL_BY_NAME[MOTION_SLOT].channels)

# Slots of a whole stick or touch surface, which carry two numbers and are not pressed.
STICK_SLOTS: frozenset[str] = frozenset(
    control.name for control in CONTROLS if control.kind in (Kind.STICK, Kind.SURFACE)
)
# Slot of a whole touch surface, on which a finger can also drag.
SURFACE_SLOT = "surface"


# Slots that an assigned whole stick or surface hides in the layers below; click and touch stay independent.
PARTS_OF_WHOLE: dict[str, frozenset[str]] = {
    whole: frozenset(slot_name(whole, part) for part in (*WAYS, *DIAGONALS, "inner", "edge")) for whole in STICK_SLOTS
}
# Parts that, when assigned, hide the whole in the layers below.
WAYS_OF_WHOLE: dict[str, frozenset[str]] = {
    whole: frozenset(slot_name(whole, part) for part in (*WAYS, *DIAGONALS)) for whole in STICK_SLOTS
}


def with_diagonals(slots: Collection[str]) -> tuple[str, ...]:
    """Returns these slots and the diagonals beside them: a stick with assigned diagonals presses those instead."""
    found = dict.fromkeys(slots)
    for slot in slots:
        control, part = SlotName.parse(slot)
        if control in STICK_SLOTS:
            found |= dict.fromkeys(
                slot_name(control, diagonal) for diagonal in DIAGONALS if part in DIAGONALS[diagonal]
            )
    return tuple(found)


STICKS: tuple[str, ...] = tuple(control.name for control in CONTROLS if control.kind is Kind.STICK)


def by_finger(names: Collection[str], fingers: Fingers) -> dict[Finger, list[str]]:
    """Returns these controls by finger, nearest first; fingers without controls are left out."""
    found: dict[Finger, list[str]] = {}
    for finger in Finger:
        mine = [
            control.name
            for control in CONTROLS
            if control.name in names and fingers.get(control.name, control.finger) is finger
        ]
        if mine:
            found[finger] = mine
    return found


def right_hand_controls(names: Collection[str], fingers: Fingers) -> list[str]:
    """Returns the controls of the right hand."""
    right = (Finger.RIGHT_THUMB, Finger.RIGHT_INDEX)
    return [name for name in names if fingers.get(name, CONTROL_BY_NAME[name].finger) in right]


# Names of the parts of controls.
PART_LABELS: dict[str, str] = {
    "up": tr("Up"),
    "down": tr("Down"),
    "left": tr("Left"),
    "right": tr("Right"),
    "up_left": tr("Up left"),
    "up_right": tr("Up right"),
    "down_left": tr("Down left"),
    "down_right": tr("Down right"),
    "click": tr("Click"),
    "touch": tr("Touch"),
    "inner": tr("Inner"),
    "edge": tr("Edge"),
    "light": tr("Light"),
    "deep": tr("Deep"),
    "low": trc("a slider", "Low"),
    "low_deep": trc("a slider", "Low, second stage"),
    "high": trc("a slider", "High"),
    "high_deep": trc("a slider", "High, second stage"),
    "tilt_left": tr("Tilt left"),
    "tilt_right": tr("Tilt right"),
    "tilt_forward": tr("Tilt forward"),
    "tilt_back": tr("Tilt back"),
}


# The same, as used after the label of the control.
PART_WORDS: dict[str, str] = {
    "up": trc("part of a control", "up"),
    "down": trc("part of a control", "down"),
    "left": trc("part of a control", "left"),
    "right": trc("part of a control", "right"),
    "up_left": trc("part of a control", "up left"),
    "up_right": trc("part of a control", "up right"),
    "down_left": trc("part of a control", "down left"),
    "down_right": trc("part of a control", "down right"),
    "click": trc("part of a control", "click"),
    "touch": trc("part of a control", "touch"),
    "inner": trc("part of a control", "inner"),
    "edge": trc("part of a control", "edge"),
    "light": trc("part of a control", "light"),
    "deep": trc("part of a control", "deep"),
    "low": trc("part of a control", "low"),
    "low_deep": trc("part of a control", "low deep"),
    "high": trc("part of a control", "high"),
    "high_deep": trc("part of a control", "high deep"),
    "tilt_left": trc("part of a control", "tilt left"),
    "tilt_right": trc("part of a control", "tilt right"),
    "tilt_forward": trc("part of a control", "tilt forward"),
    "tilt_back": trc("part of a control", "tilt back"),
}


def slot_label(slot: str) -> str:
    """Returns the name of a slot in the interface, as "Left stick up"."""
    control = CONTROL_OF_SLOT[slot]
    part = SlotName.parse(slot).part
    return control.label if part in ("", "light") else f"{control.label} {PART_WORDS[part]}"

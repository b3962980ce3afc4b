"""Wiring of controls by the kernel's gamepad document (Documentation/input/gamepad.rst).

A pad is recognised by its capabilities, never by its name.
"""

from __future__ import annotations

from nub_shift.model.controls import FACE_BUTTONS
from nub_shift.pads.description import Description
from nub_shift.pads.input_codes import (
    ABS_HAT0X,
    ABS_HAT0Y,
    ABS_HAT1X,
    ABS_HAT1Y,
    ABS_HAT2X,
    ABS_HAT2Y,
    ABS_RUDDER,
    ABS_RX,
    ABS_RY,
    ABS_RZ,
    ABS_THROTTLE,
    ABS_X,
    ABS_Y,
    ABS_Z,
    BTN_DPAD_DOWN,
    BTN_DPAD_LEFT,
    BTN_DPAD_RIGHT,
    BTN_DPAD_UP,
    BTN_GRIPL,
    BTN_GRIPL2,
    BTN_GRIPR,
    BTN_GRIPR2,
    BTN_LEFT,
    BTN_STYLUS,
    BTN_TL2,
    BTN_TOUCH,
    BTN_TR2,
    EV_REL,
    INPUT_PROP_ACCELEROMETER,
    KEY_ENTER,
    KEY_SPACE,
    REL_X,
    REL_Y,
    Axis,
)
from nub_shift.pads.known.wiring import AxisUse, Wiring

BUTTON_CHANNELS: dict[int, str] = {
    0x130: "south",
    0x131: "east",
    0x133: "north",
    0x134: "west",
    0x136: "left_shoulder",
    0x137: "right_shoulder",
    0x13A: "select",
    0x13B: "start",
    0x13C: "home",
    0x13D: "left_stick.click",
    0x13E: "right_stick.click",
    BTN_DPAD_UP: "dpad.up",
    BTN_DPAD_DOWN: "dpad.down",
    BTN_DPAD_LEFT: "dpad.left",
    BTN_DPAD_RIGHT: "dpad.right",
    BTN_GRIPL: "grip_1",
    BTN_GRIPR: "grip_2",
    BTN_GRIPL2: "grip_3",
    BTN_GRIPR2: "grip_4",
}

STICK_CHANNELS: dict[int, str] = {
    ABS_X: "left_stick.x",
    ABS_Y: "left_stick.y",
    ABS_RX: "right_stick.x",
    ABS_RY: "right_stick.y",
}

# The document has no sliders; these are the kernel's names of its two spare axes.
SLIDER_CHANNELS: dict[int, str] = {ABS_THROTTLE: "slider_1", ABS_RUDDER: "slider_2"}

# Buttons of devices older than the document; their meaning differs from pad to pad.
JOYSTICK_CODES = frozenset(range(0x120, 0x130))

# Joystick and gamepad buttons, the D-pad and the grips, and the kernel's codes for buttons without a name.
_PAD_BUTTONS = frozenset((*range(0x120, 0x140), *range(0x220, 0x228), *range(0x2C0, 0x2E8)))
# Keys of keyboards and remotes.
_KEYS = frozenset((*range(0x001, 0x100), *range(0x160, 0x220), *range(0x228, 0x2C0)))

GUESSED_BUTTONS = (
    *(*FACE_BUTTONS, "left_shoulder", "right_shoulder", "left_trigger", "right_trigger"),
    *("select", "start", "left_stick.click", "right_stick.click", "home", "grip_1", "grip_2", "grip_3"),
)
OLD_RIGHT_STICK: dict[int, str] = {ABS_Z: "right_stick.x", ABS_RZ: "right_stick.y"}

# By linux/input.h, the resolution of motion sensors is in units for 1 g and for one degree a second.
SENSOR_CHANNELS: dict[int, str] = {
    ABS_X: "motion.accel_x",
    ABS_Y: "motion.accel_y",
    ABS_Z: "motion.accel_z",
    ABS_RX: "motion.gyro_x",
    ABS_RY: "motion.gyro_y",
    ABS_RZ: "motion.gyro_z",
}

SURFACE_AXES: dict[int, str] = {ABS_X: "surface.x", ABS_Y: "surface.y"}
SURFACE_BUTTONS: dict[int, str] = {BTN_TOUCH: "surface.touch", BTN_LEFT: "surface.click"}

# Below its middle an axis presses the first channel, above the second.
HAT_CHANNELS: dict[int, tuple[str, str]] = {
    ABS_HAT0X: ("dpad.left", "dpad.right"),
    ABS_HAT0Y: ("dpad.up", "dpad.down"),
}


def is_gamepad(description: Description) -> bool:
    """Returns whether a device follows the gamepad document: has buttons of it, and is neither keyboard nor motion
    sensor.

    By the document every gamepad has BTN_GAMEPAD, the south button; one half of a pair may lack it.
    """
    return not BUTTON_CHANNELS.keys().isdisjoint(description.keys) and not _is_other(description)


def is_pad(description: Description) -> bool:
    """Returns whether a device is a pad of any kind: a gamepad, or a device with the kernel's joystick buttons."""
    return is_gamepad(description) or (not JOYSTICK_CODES.isdisjoint(description.keys) and not _is_other(description))


def _is_other(description: Description) -> bool:
    """Returns whether a device is of another kind. Some of those report a button of a pad, or every key."""
    keys, axes = description.keys, description.axes.keys()
    is_sensor = INPUT_PROP_ACCELEROMETER in description.props
    is_mouse = BTN_LEFT in keys and description.other.get(EV_REL, frozenset()) >= {REL_X, REL_Y}
    is_tablet = BTN_STYLUS in keys
    is_keyboard = keys >= {KEY_ENTER, KEY_SPACE}
    # A keyboard without pad buttons, or a remote. A device with a stick may have keys too, as those for the mouth do.
    is_remote = len(keys & _KEYS) > len(keys & _PAD_BUTTONS) and not axes >= {ABS_X, ABS_Y}
    return is_sensor or is_mouse or is_tablet or is_keyboard or is_remote


def is_motion(description: Description) -> bool:
    """Returns whether a device consists of motion sensors."""
    return INPUT_PROP_ACCELEROMETER in description.props and ABS_X in description.axes


def is_surface(description: Description) -> bool:
    """Returns whether a device is a touch surface, which reports the position of a finger."""
    return BTN_TOUCH in description.keys and {ABS_X, ABS_Y} <= description.axes.keys() and not is_pad(description)


def wiring_of(description: Description) -> Wiring:
    """Returns the wiring of a gamepad, its motion sensors or its touch surface.

    A guess for devices older than the gamepad document.
    """
    axes = description.axes
    if is_motion(description):
        sensors = {code: (channel, axes[code].resolution) for code, channel in SENSOR_CHANNELS.items() if code in axes}
        return Wiring({}, {}, sensors)
    if is_surface(description):
        uses = {code: _two_sided(axes[code], channel, channel) for code, channel in SURFACE_AXES.items()}
        buttons = {code: channel for code, channel in SURFACE_BUTTONS.items() if code in description.keys}
        return Wiring(buttons, uses)
    axes = {code: axis for code, axis in axes.items() if axis.maximum > axis.minimum}
    sticks = {code: channel for code, channel in (STICK_CHANNELS | SLIDER_CHANNELS).items() if code in axes}
    hats = {code: pair for code, pair in HAT_CHANNELS.items() if code in axes}
    triggers: dict[int, str] = {}
    if is_gamepad(description):
        buttons = {code: channel for code, channel in BUTTON_CHANNELS.items() if code in description.keys}
        if BTN_DPAD_UP in buttons:
            hats = {}  # the same D-pad, reported twice
        triggers = _triggers(axes)
        for code, channel in ((BTN_TL2, "left_trigger"), (BTN_TR2, "right_trigger")):
            if code in description.keys and channel not in triggers.values():
                buttons[code] = channel
    else:
        # Older than the document: buttons in the order of their codes, sticks by their axes.
        codes = sorted(JOYSTICK_CODES.intersection(description.keys))
        buttons = dict(zip(codes, GUESSED_BUTTONS, strict=False))
        if ABS_RX not in axes:
            sticks |= {code: channel for code, channel in OLD_RIGHT_STICK.items() if code in axes}
    return Wiring(
        buttons,
        {
            **{code: _two_sided(axes[code], channel, channel) for code, channel in sticks.items()},
            **{code: _two_sided(axes[code], above, below) for code, (below, above) in hats.items()},
            **{code: _one_sided(axes[code], channel) for code, channel in triggers.items()},
        },
    )


def _two_sided(axis: Axis, above: str, below: str) -> AxisUse:
    return AxisUse(above, below, axis.minimum, (axis.minimum + axis.maximum) / 2, axis.maximum)


def _one_sided(axis: Axis, channel: str) -> AxisUse:
    return AxisUse(channel, "", axis.minimum, axis.minimum, axis.maximum)


def _triggers(axes: dict[int, Axis]) -> dict[int, str]:
    """Returns the lower triggers: HAT2 by the document, Z and RZ in the many older drivers."""
    for right, left in ((ABS_HAT2X, ABS_HAT2Y), (ABS_RZ, ABS_Z), (ABS_HAT1X, ABS_HAT1Y)):
        found = {code: name for code, name in ((right, "right_trigger"), (left, "left_trigger")) if code in axes}
        if found:
            return found
    return {}

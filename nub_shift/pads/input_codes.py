"""Constants of linux/input.h used by pads, so that replaying needs no device library."""

from __future__ import annotations

from typing import Final, NamedTuple

EV_SYN: Final = 0x00
EV_KEY: Final = 0x01
EV_REL: Final = 0x02
EV_ABS: Final = 0x03
EV_MSC: Final = 0x04
EV_FF: Final = 0x15

SYN_REPORT: Final = 0
SYN_DROPPED: Final = 3
MSC_TIMESTAMP: Final = 5
INPUT_PROP_ACCELEROMETER: Final = 6

REL_X, REL_Y = 0, 1
ABS_X, ABS_Y, ABS_Z, ABS_RX, ABS_RY, ABS_RZ = range(6)
ABS_THROTTLE, ABS_RUDDER = 6, 7
ABS_HAT0X, ABS_HAT0Y, ABS_HAT1X, ABS_HAT1Y, ABS_HAT2X, ABS_HAT2Y = range(0x10, 0x16)

KEY_ENTER, KEY_SPACE = 28, 57
BTN_LEFT: Final = 0x110
BTN_STYLUS: Final = 0x14B
BTN_TOUCH: Final = 0x14A
BTN_TL2: Final = 0x138
BTN_TR2: Final = 0x139
BTN_DPAD_UP, BTN_DPAD_DOWN, BTN_DPAD_LEFT, BTN_DPAD_RIGHT = range(0x220, 0x224)
BTN_GRIPL, BTN_GRIPR, BTN_GRIPL2, BTN_GRIPR2 = range(0x224, 0x228)


class Event(NamedTuple):
    """One kernel input event, in the order of struct input_event."""

    seconds: int
    micros: int
    type: int
    code: int
    value: int

    @property
    def t_us(self) -> int:
        """Time of the event in microseconds."""
        return self.seconds * 1_000_000 + self.micros


class Axis(NamedTuple):
    """The kernel's description of one absolute axis (struct input_absinfo without the value)."""

    minimum: int
    maximum: int
    fuzz: int = 0
    flat: int = 0
    resolution: int = 0

"""Frames of canonical channels back into kernel events, so that a simulated pad can be recorded like a real one."""

from __future__ import annotations

from collections.abc import Iterable

from nub_shift.engine.values import US_PER_SECOND, Frame
from nub_shift.model.controls import CONTROL_BY_NAME
from nub_shift.pads.description import Description
from nub_shift.pads.gamepad import BUTTON_CHANNELS, SENSOR_CHANNELS, SLIDER_CHANNELS, STICK_CHANNELS
from nub_shift.pads.kernel import (
    ABS_HAT2X,
    ABS_HAT2Y,
    EV_ABS,
    EV_KEY,
    EV_MSC,
    EV_SYN,
    INPUT_PROP_ACCELEROMETER,
    MSC_TIMESTAMP,
    SYN_REPORT,
    Axis,
    Event,
)

STICK_AXIS = Axis(-32767, 32767, 0, 0)
TRIGGER_AXIS = Axis(0, 1023, 0, 0)
ACCEL_AXIS = Axis(-32768, 32767, 16, 0, 8192)
GYRO_AXIS = Axis(-2097152, 2097151, 16, 0, 1024)

_KEY_OF = {channel: code for code, channel in BUTTON_CHANNELS.items()}
_STICK_OF = {channel: code for code, channel in (STICK_CHANNELS | SLIDER_CHANNELS).items()}
_TRIGGER_OF = {"right_trigger": ABS_HAT2X, "left_trigger": ABS_HAT2Y}


def describe_canonical(name: str, controls: Iterable[str]) -> Description:
    """A device that has these canonical controls by the kernel's gamepad document (motion is a device of its own)."""
    channels = {channel for control in controls for channel in CONTROL_BY_NAME[control].channels}
    axes = {code: STICK_AXIS for channel, code in _STICK_OF.items() if channel in channels}
    axes |= {code: TRIGGER_AXIS for channel, code in _TRIGGER_OF.items() if channel in channels}
    keys = frozenset(code for channel, code in _KEY_OF.items() if channel in channels)
    return Description(name=name, keys=keys, axes=axes)


def describe_motion(name: str) -> Description:
    """A motion sensor device as the kernel has it: of its own, with timestamps of its own."""
    axes = {code: ACCEL_AXIS if "accel" in channel else GYRO_AXIS for code, channel in SENSOR_CHANNELS.items()}
    props = frozenset({INPUT_PROP_ACCELEROMETER})
    return Description(f"{name} motion", axes=axes, props=props, other={EV_MSC: frozenset({MSC_TIMESTAMP})})


def encode_motion(frame: Frame) -> list[Event]:
    """The kernel events of a frame's motion channels; the frame's time stands for the sensor's."""
    time = divmod(frame.t_us, US_PER_SECOND)
    events = [
        Event(*time, EV_ABS, code, round(frame.values[channel] * (ACCEL_AXIS if "accel" in channel else GYRO_AXIS)[-1]))
        for code, channel in SENSOR_CHANNELS.items()
        if channel in frame.values
    ]
    if events:
        events.append(Event(*time, EV_MSC, MSC_TIMESTAMP, frame.t_us & 0x7FFFFFFF))
        events.append(Event(*time, EV_SYN, SYN_REPORT, 0))
    return events


def encode(frame: Frame) -> list[Event]:
    """The kernel events of one frame, SYN_REPORT last; channels without a code of their own are left out."""
    events = []
    time = divmod(frame.t_us, US_PER_SECOND)
    for channel, value in frame.values.items():
        if channel in _KEY_OF:
            events.append(Event(*time, EV_KEY, _KEY_OF[channel], int(value > 0.5)))
        elif channel in _STICK_OF:
            events.append(Event(*time, EV_ABS, _STICK_OF[channel], round(value * STICK_AXIS.maximum)))
        elif channel in _TRIGGER_OF:
            events.append(Event(*time, EV_ABS, _TRIGGER_OF[channel], round(value * TRIGGER_AXIS.maximum)))
    if events:
        events.append(Event(*time, EV_SYN, SYN_REPORT, 0))
    return events

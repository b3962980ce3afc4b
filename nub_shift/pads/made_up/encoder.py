"""Encoding of canonical frames into kernel events, so that a simulated pad behaves like a real device."""

from __future__ import annotations

from collections.abc import Callable, Iterable, Mapping
from functools import partial

from nub_shift.engine.values import US_PER_SECOND, Frame
from nub_shift.model.controls import CONTROL_BY_NAME
from nub_shift.pads.description import Description
from nub_shift.pads.input_codes import (
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
from nub_shift.pads.known.gamepad import (
    BUTTON_CHANNELS,
    SENSOR_CHANNELS,
    SLIDER_CHANNELS,
    STICK_CHANNELS,
    SURFACE_AXES,
    SURFACE_BUTTONS,
)
from nub_shift.pads.known.wiring import AxisUse, Wiring

STICK_AXIS = Axis(-32767, 32767, 0, 0)
TRIGGER_AXIS = Axis(0, 1023, 0, 0)
ACCEL_AXIS = Axis(-32768, 32767, 16, 0, 8192)
GYRO_AXIS = Axis(-2097152, 2097151, 16, 0, 1024)
SURFACE_AXIS = Axis(0, 1919)

_TRIGGERS = {ABS_HAT2X: "right_trigger", ABS_HAT2Y: "left_trigger"}


def describe_canonical(name: str, controls: Iterable[str]) -> Description:
    """Returns a device with these canonical controls by the kernel's gamepad document (motion is a separate device)."""
    channels = {channel for control in controls for channel in CONTROL_BY_NAME[control].channels}
    axes = {code: STICK_AXIS for code, channel in (STICK_CHANNELS | SLIDER_CHANNELS).items() if channel in channels}
    axes |= {code: TRIGGER_AXIS for code, channel in _TRIGGERS.items() if channel in channels}
    keys = frozenset(code for code, channel in BUTTON_CHANNELS.items() if channel in channels)
    return Description(name=name, keys=keys, axes=axes)


def describe_motion(name: str) -> Description:
    """Returns a motion sensor device as the kernel has it: separate, with its own timestamps."""
    axes = {code: ACCEL_AXIS if "accel" in channel else GYRO_AXIS for code, channel in SENSOR_CHANNELS.items()}
    props = frozenset({INPUT_PROP_ACCELEROMETER})
    return Description(f"{name} motion", axes=axes, props=props, other={EV_MSC: frozenset({MSC_TIMESTAMP})})


def describe_surface(name: str) -> Description:
    """Returns a touch surface as the kernel has it: separate, with its own button."""
    axes = dict.fromkeys(SURFACE_AXES, SURFACE_AXIS)
    return Description(f"{name} surface", keys=frozenset(SURFACE_BUTTONS), axes=axes)


# Event type, code and value.
Change = tuple[int, int, int]


class Encoder:
    """Inverse of `Decoder`, for a device of one wiring."""

    def __init__(self, wiring: Wiring) -> None:
        self._keys = {channel: code for code, channel in wiring.buttons.items()}
        self._axes: dict[str, tuple[int, Callable[[float], int]]] = {}
        for code, use in wiring.axes.items():
            self._axes |= _positions(code, use)
        self._sensors = {channel: (code, units) for code, (channel, units) in wiring.sensors.items()}
        self._at = {code: round(use.rest) for code, use in wiring.axes.items()}

    def changes(self, values: Mapping[str, float]) -> list[Change]:
        """Returns the events of these channels, without channels that the device lacks."""
        keys, axes, sensors, at = self._keys, self._axes, self._sensors, self._at
        found: list[Change] = []
        for channel, value in values.items():
            if channel in axes:
                code, position = axes[channel]
                at[code] = position(value)
                found.append((EV_ABS, code, at[code]))
            elif channel in keys:
                found.append((EV_KEY, keys[channel], int(value > 0.5)))
            elif channel in sensors:
                code, units = sensors[channel]
                found.append((EV_ABS, code, round(value * units)))
        return found

    def encode(self, frame: Frame) -> list[Event]:
        """Returns the kernel events of one frame, SYN_REPORT last. The frame's time is also the sensor's timestamp."""
        time = divmod(frame.t_us, US_PER_SECOND)
        events = [Event(*time, *change) for change in self.changes(frame.values)]
        if events and self._sensors:
            events.append(Event(*time, EV_MSC, MSC_TIMESTAMP, frame.t_us & 0x7FFFFFFF))
        if events:
            events.append(Event(*time, EV_SYN, SYN_REPORT, 0))
        return events

    def positions(self) -> dict[int, int]:
        """Returns the position of every axis."""
        return dict(self._at)


def _positions(code: int, use: AxisUse) -> dict[str, tuple[int, Callable[[float], int]]]:
    """Returns the axis of each channel, and the function from value to position. Two channels on one axis pull it to
    either side.
    """
    rest, up, down = use.rest, use.high - use.rest, use.rest - use.low
    if use.signed:
        return {use.above: (code, lambda value: round(rest + value * (up if value > 0.0 else down)))}
    pulls = {use.above: 0.0, use.below: 0.0}

    def pull(channel: str, value: float) -> int:
        pulls[channel] = value
        return round(rest + pulls[use.above] * up - pulls[use.below] * down)

    return {channel: (code, partial(pull, channel)) for channel in (use.above, use.below) if channel}

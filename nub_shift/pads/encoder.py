"""Frames of canonical channels back into kernel events, so that a simulated pad is a device like a real one."""

from __future__ import annotations

from collections.abc import Iterable

from nub_shift.engine.values import US_PER_SECOND, Frame
from nub_shift.model.controls import CONTROL_BY_NAME
from nub_shift.pads.description import Description
from nub_shift.pads.gamepad import (
    BUTTON_CHANNELS,
    SENSOR_CHANNELS,
    SLIDER_CHANNELS,
    STICK_CHANNELS,
    SURFACE_AXES,
    SURFACE_BUTTONS,
)
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
from nub_shift.pads.wiring import Wiring

STICK_AXIS = Axis(-32767, 32767, 0, 0)
TRIGGER_AXIS = Axis(0, 1023, 0, 0)
ACCEL_AXIS = Axis(-32768, 32767, 16, 0, 8192)
GYRO_AXIS = Axis(-2097152, 2097151, 16, 0, 1024)
SURFACE_AXIS = Axis(0, 1919)

_TRIGGERS = {ABS_HAT2X: "right_trigger", ABS_HAT2Y: "left_trigger"}


def describe_canonical(name: str, controls: Iterable[str], product: int = 0) -> Description:
    """A device that has these canonical controls by the kernel's gamepad document (motion is a device of its own)."""
    channels = {channel for control in controls for channel in CONTROL_BY_NAME[control].channels}
    axes = {code: STICK_AXIS for code, channel in (STICK_CHANNELS | SLIDER_CHANNELS).items() if channel in channels}
    axes |= {code: TRIGGER_AXIS for code, channel in _TRIGGERS.items() if channel in channels}
    keys = frozenset(code for code, channel in BUTTON_CHANNELS.items() if channel in channels)
    return Description(name=name, product=product, keys=keys, axes=axes)


def describe_motion(name: str) -> Description:
    """A motion sensor device as the kernel has it: of its own, with timestamps of its own."""
    axes = {code: ACCEL_AXIS if "accel" in channel else GYRO_AXIS for code, channel in SENSOR_CHANNELS.items()}
    props = frozenset({INPUT_PROP_ACCELEROMETER})
    return Description(f"{name} motion", axes=axes, props=props, other={EV_MSC: frozenset({MSC_TIMESTAMP})})


def describe_surface(name: str) -> Description:
    """A touch surface as the kernel has it: of its own, with its button below."""
    axes = dict.fromkeys(SURFACE_AXES, SURFACE_AXIS)
    return Description(f"{name} surface", keys=frozenset(SURFACE_BUTTONS), axes=axes)


class Encoder:
    """The other way round of `Decoder`, for a device of that wiring."""

    def __init__(self, wiring: Wiring) -> None:
        self._wiring = wiring
        self._values: dict[str, float] = {}
        self._keys = {channel: code for code, channel in wiring.buttons.items()}
        self._axes = {side: code for code, use in wiring.axes.items() for side in (use.above, use.below) if side}
        self._sensors = {channel: (code, units) for code, (channel, units) in wiring.sensors.items()}

    def encode(self, frame: Frame) -> list[Event]:
        """The kernel events of one frame, SYN_REPORT last; channels that the device does not have are left out.

        The frame's time stands for the sensor's.
        """
        time = divmod(frame.t_us, US_PER_SECOND)
        changes: dict[tuple[int, int], int] = {}
        timed = False
        for channel, value in frame.values.items():
            if channel in self._keys:
                changes[EV_KEY, self._keys[channel]] = int(value > 0.5)
            elif channel in self._axes:
                self._values[channel] = value
                code = self._axes[channel]
                changes[EV_ABS, code] = self._position(code)
            elif channel in self._sensors:
                code, units = self._sensors[channel]
                changes[EV_ABS, code] = round(value * units)
                timed = True
        events = [Event(*time, kind, code, value) for (kind, code), value in changes.items()]
        if timed:
            events.append(Event(*time, EV_MSC, MSC_TIMESTAMP, frame.t_us & 0x7FFFFFFF))
        if events:
            events.append(Event(*time, EV_SYN, SYN_REPORT, 0))
        return events

    def positions(self) -> dict[int, int]:
        """Where every axis stands."""
        return {code: self._position(code) for code in self._wiring.axes}

    def _position(self, code: int) -> int:
        """Where an axis stands: two channels on one axis pull it to either side."""
        use = self._wiring.axes[code]
        above = self._values.get(use.above, 0.0)
        if use.signed:
            return round(use.rest + above * (use.high - use.rest if above > 0 else use.rest - use.low))
        below = self._values.get(use.below, 0.0)
        return round(use.rest + above * (use.high - use.rest) - below * (use.rest - use.low))

"""Wiring of a device's codes to canonical channels."""

from __future__ import annotations

from abc import abstractmethod
from collections.abc import Iterable
from dataclasses import dataclass, field

from nub_shift.model.controls import CONTROL_OF_CHANNEL, CONTROLS, DIGITAL


class Store:
    """Receiver of the values of one axis."""

    @abstractmethod
    def put(self, values: dict[str, float], value: int) -> None:
        """Stores a value of the axis in its channels of a frame."""


@dataclass(frozen=True)
class AxisUse:
    """Channels fed by one axis.

    `above` gets the way from `rest` to `high`, `below` that from `rest` to `low`, each from 0 to 1; the same channel in
    both is signed, from -1 to 1. An inverted axis has the larger number as `low`.
    """

    above: str
    below: str
    low: float
    rest: float
    high: float

    @property
    def signed(self) -> bool:
        """Whether one channel gets both sides."""
        return self.above == self.below


@dataclass(frozen=True)
class Wiring:
    """Wiring of one device's codes to the canonical channels.

    Attributes:
        buttons: key code to channel.
        axes: axis code to its use.
        sensors: axis code to channel and scale, for motion sensors, which have no rest and no rim.
    """

    buttons: dict[int, str]
    axes: dict[int, AxisUse]
    sensors: dict[int, tuple[str, int]] = field(default_factory=dict)

    @property
    def channels(self) -> frozenset[str]:
        """All channels fed by the device."""
        sides = {side for use in self.axes.values() for side in (use.above, use.below) if side}
        return frozenset({*self.buttons.values(), *sides, *(channel for channel, _ in self.sensors.values())})

    @property
    def controls(self) -> tuple[str, ...]:
        """The canonical controls of the device, in the order of `model.controls.CONTROLS`."""
        return controls_of(self.channels)

    def stores(self) -> dict[int, Store]:
        """Returns the receivers of values by axis code."""
        return {
            **{code: store_of(use) for code, use in self.axes.items()},
            **{code: _SensorStore(channel, resolution) for code, (channel, resolution) in self.sensors.items()},
        }


def controls_of(channels: Iterable[str]) -> tuple[str, ...]:
    """Returns the canonical controls that have these channels, in the order of `model.controls.CONTROLS`."""
    named = {CONTROL_OF_CHANNEL[channel].name for channel in channels}
    return tuple(control.name for control in CONTROLS if control.name in named)


def store_of(use: AxisUse) -> Store:
    """Returns the receiver of an axis."""
    return _SignedStore(use) if use.signed else _SplitStore(use)


class _SignedStore(Store):
    """One channel for both sides of rest, from -1 to 1."""

    def __init__(self, use: AxisUse) -> None:
        self._channel = use.above
        self._rest = use.rest
        up, down = use.high - use.rest, use.rest - use.low
        self._to_high, self._to_low = (1.0 / up if up else 0.0), (1.0 / down if down else 0.0)
        # A value is above the rest if its difference has the sign of the way from low to high.
        self._sign = 1.0 if use.high >= use.low else -1.0

    def put(self, values: dict[str, float], value: int) -> None:
        deflection = self.deflection(value)
        # Some devices report beyond their range.
        values[self._channel] = 1.0 if deflection > 1.0 else -1.0 if deflection < -1.0 else deflection

    def deflection(self, value: int) -> float:
        """Returns the deflection: 1 at the high end, -1 at the low one."""
        offset = value - self._rest
        return offset * (self._to_high if offset * self._sign > 0 else self._to_low)


class _SplitStore(_SignedStore):
    """One channel for each side of rest, from 0 to 1."""

    def __init__(self, use: AxisUse) -> None:
        super().__init__(use)
        self._sides = [(side, sign) for side, sign in ((use.above, 1.0), (use.below, -1.0)) if side]

    def put(self, values: dict[str, float], value: int) -> None:
        deflection = self.deflection(value)
        for channel, sign in self._sides:
            held = min(max(deflection * sign, 0.0), 1.0)
            values[channel] = (1.0 if held > 0.5 else 0.0) if channel in DIGITAL else held


class _SensorStore(Store):
    """A motion sensor, which has no rest and no rim."""

    def __init__(self, channel: str, resolution: int) -> None:
        self._channel = channel
        self._factor = 1.0 / max(1, resolution)

    def put(self, values: dict[str, float], value: int) -> None:
        values[self._channel] = value * self._factor

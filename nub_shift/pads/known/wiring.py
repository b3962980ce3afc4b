"""Which code of a device feeds which canonical channel."""

from __future__ import annotations

from abc import abstractmethod
from collections.abc import Iterable
from dataclasses import dataclass, field

from nub_shift.model.controls import CONTROL_OF_CHANNEL, CONTROLS, DIGITAL


class Store:
    """Target of the values of one axis."""

    @abstractmethod
    def put(self, values: dict[str, float], value: int) -> None:
        """Puts a value of the axis into its channels of a frame."""


@dataclass(frozen=True)
class AxisUse:
    """Channels fed by one axis.

    `above` gets the way from `rest` to `high`, `below` that from `rest` to `low`, each from 0 to 1; the same channel in
    both is signed, from -1 to 1. An axis that counts the other way round has a `low` that is the larger number.
    """

    above: str
    below: str
    low: float
    rest: float
    high: float

    @property
    def signed(self) -> bool:
        """Whether one channel takes both sides."""
        return self.above == self.below


@dataclass(frozen=True)
class Wiring:
    """How the codes of one device feed the canonical channels.

    Attributes:
        buttons: key code to channel.
        axes: axis code to what it feeds.
        sensors: axis code to channel and units for one of it: motion sensors, which have no rest and no rim.
    """

    buttons: dict[int, str]
    axes: dict[int, AxisUse]
    sensors: dict[int, tuple[str, int]] = field(default_factory=dict)

    @property
    def channels(self) -> frozenset[str]:
        """All channels that the device feeds."""
        sides = {side for use in self.axes.values() for side in (use.above, use.below) if side}
        return frozenset({*self.buttons.values(), *sides, *(channel for channel, _ in self.sensors.values())})

    @property
    def controls(self) -> tuple[str, ...]:
        """The canonical controls that the device has, in the order of `model.controls.CONTROLS`."""
        return controls_of(self.channels)

    def stores(self) -> dict[int, Store]:
        """By axis code, what puts a value of it into a frame."""
        return {
            **{code: store_of(use) for code, use in self.axes.items()},
            **{code: _SensorStore(channel, resolution) for code, (channel, resolution) in self.sensors.items()},
        }


def controls_of(channels: Iterable[str]) -> tuple[str, ...]:
    """The canonical controls that have these channels, in the order of `model.controls.CONTROLS`."""
    named = {CONTROL_OF_CHANNEL[channel].name for channel in channels}
    return tuple(control.name for control in CONTROLS if control.name in named)


def store_of(use: AxisUse) -> Store:
    """Returns a function that puts a value of the axis into a frame."""
    return _SignedStore(use) if use.signed else _SplitStore(use)


class _SignedStore(Store):
    """One channel takes both sides of rest, from -1 to 1."""

    def __init__(self, use: AxisUse) -> None:
        self._channel = use.above
        self._rest = use.rest
        up, down = use.high - use.rest, use.rest - use.low
        self._to_high, self._to_low = (1.0 / up if up else 0.0), (1.0 / down if down else 0.0)
        # The way from rest to a value is a way up if it has the sign that the axis has from end to end.
        self._sign = 1.0 if use.high >= use.low else -1.0

    def put(self, values: dict[str, float], value: int) -> None:
        deflection = self.deflection(value)
        # Some devices report beyond their extents.
        values[self._channel] = 1.0 if deflection > 1.0 else -1.0 if deflection < -1.0 else deflection

    def deflection(self, value: int) -> float:
        """How far the axis is from its rest: 1 at the high end, -1 at the low one."""
        offset = value - self._rest
        return offset * (self._to_high if offset * self._sign > 0 else self._to_low)


class _SplitStore(_SignedStore):
    """A channel for each side of rest that has one, from 0 to 1."""

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

"""Kernel events in, calibrated frames out. No I/O, so that a live pad and a recording take the same way."""

from __future__ import annotations

from collections.abc import Callable, Iterable, Iterator

from nub_shift.engine.values import Frame
from nub_shift.pads.gamepad import Wiring
from nub_shift.pads.kernel import EV_ABS, EV_KEY, EV_SYN, SYN_DROPPED, SYN_REPORT, Event

Store = Callable[[dict[str, float], int], None]
_NONE: dict[int, Store] = {}


class Decoder:
    """Collects events up to each SYN_REPORT and returns them as one frame.

    Attributes:
        needs_state: the kernel dropped events; feed the device's present state through `state_frame`.
    """

    def __init__(self, wiring: Wiring) -> None:
        self.needs_state = False
        self._collected: dict[str, float] = {}
        self._dropping = False
        self._stores: dict[int, dict[int, Store]] = {EV_KEY: {}, EV_ABS: {}}
        for code, channel in wiring.buttons.items():
            self._stores[EV_KEY][code] = _button(channel)
        for code, channel in wiring.sticks.items():
            self._stores[EV_ABS][code] = _scaled(channel, wiring.axes[code].minimum, wiring.axes[code].maximum, -1.0)
        for code, channel in wiring.triggers.items():
            self._stores[EV_ABS][code] = _scaled(channel, wiring.axes[code].minimum, wiring.axes[code].maximum, 0.0)
        for code, pair in wiring.hats.items():
            middle = (wiring.axes[code].minimum + wiring.axes[code].maximum) / 2
            self._stores[EV_ABS][code] = _hat(pair, middle)

    def decode(self, events: Iterable[tuple[int, int, int, int]]) -> Iterator[Frame]:
        """Takes events (time in microseconds, type, code, value); yields the frames that they complete.

        After SYN_DROPPED the rest of that packet is worth nothing, as the kernel's document says.
        """
        keys, axes = self._stores[EV_KEY], self._stores[EV_ABS]
        for t_us, kind, code, value in events:
            if kind != EV_SYN:
                stores = axes if kind == EV_ABS else keys if kind == EV_KEY else _NONE
                if code in stores:
                    stores[code](self._collected, value)
            elif code == SYN_REPORT:
                collected, self._collected = self._collected, {}
                if self._dropping:
                    self._dropping = False
                    self.needs_state = True
                elif collected:
                    yield Frame(t_us, collected)
            elif code == SYN_DROPPED:
                self._dropping = True

    def state_frame(self, t_us: int, keys_down: Iterable[int], axes: dict[int, int]) -> Frame:
        """A frame of all channels from the device's present state."""
        self.needs_state = False
        values: dict[str, float] = {}
        down = set(keys_down)
        for code, store in self._stores[EV_KEY].items():
            store(values, int(code in down))
        for code, store in self._stores[EV_ABS].items():
            if code in axes:
                store(values, axes[code])
        return Frame(t_us, values)


def replayed(wiring: Wiring, events: Iterable[Event]) -> Iterable[Frame]:
    """The frames of a recording, one by one. A recording has no state to read anew after dropped events."""
    return Decoder(wiring).decode(events)


def _button(channel: str) -> Store:
    def store(values: dict[str, float], value: int) -> None:
        values[channel] = 1.0 if value else 0.0

    return store


def _scaled(channel: str, minimum: int, maximum: int, low: float) -> Store:
    factor = (1.0 - low) / (maximum - minimum)

    def store(values: dict[str, float], value: int) -> None:
        scaled = low + (value - minimum) * factor
        values[channel] = low if scaled < low else min(scaled, 1.0)  # some devices report beyond their extents

    return store


def _hat(pair: tuple[str, str], middle: float) -> Store:
    below, above = pair

    def store(values: dict[str, float], value: int) -> None:
        values[below] = 1.0 if value < middle else 0.0
        values[above] = 1.0 if value > middle else 0.0

    return store

"""Decoding of kernel events into calibrated frames, without I/O, for live pads and recordings alike."""

from __future__ import annotations

from collections.abc import Iterable, Iterator, Mapping, Sequence
from typing import Final

from nub_shift.engine.values import Frame
from nub_shift.pads.input_codes import EV_ABS, EV_KEY, EV_MSC, EV_SYN, MSC_TIMESTAMP, SYN_DROPPED, SYN_REPORT, Event
from nub_shift.pads.kernel.resting import DoubtedAxis, doubted
from nub_shift.pads.known.wiring import Wiring, controls_of, store_of

# Number of events of a recording decoded at a time, since recordings may last hours.
AT_ONCE: Final = 4096


class Decoder:
    """Collects events up to each SYN_REPORT into one frame.

    Attributes:
        needs_state: the kernel has dropped events; the device's state has to be passed to `state_frame`.
        doubted: axes that were not at their rest when play began, by code.
    """

    def __init__(self, wiring: Wiring, certain: bool = False) -> None:
        """`certain` means that the rests in the wiring were measured or confirmed."""
        self.needs_state = False
        self.doubted: dict[int, DoubtedAxis] = {}
        self._wiring = wiring
        self._certain = certain
        self._collected: dict[str, float] = {}
        self._dropping = False
        self._sensor_us: int | None = None
        self._buttons = wiring.buttons
        self._stores = wiring.stores()

    def begin(self, axes: Mapping[int, int]) -> None:
        """Begins play with these positions: an axis away from its rest has no effect before it moves."""
        for code, use in self._wiring.axes.items():
            if code in axes and (found := doubted(use, axes[code], self._certain)) is not None:
                self.doubted[code] = found
                self._stores[code] = found

    @property
    def away(self) -> tuple[str, ...]:
        """Controls that may rest elsewhere than their codes suggest; empty if the rests are certain."""
        if self._certain:
            return ()
        uses = (self._wiring.axes[code] for code in self.doubted)
        return controls_of(side for use in uses for side in (use.above, use.below) if side)

    def decode(self, events: Iterable[tuple[int, int, int, int, int]]) -> list[Frame]:
        """Decodes events in the order of struct input_event; returns the completed frames.

        After SYN_DROPPED the rest of the packet is discarded, as the kernel's document requires.
        """
        buttons, stores, collected = self._buttons, self._stores, self._collected
        frames = []
        for seconds, micros, kind, code, value in events:
            if kind == EV_KEY:
                if code in buttons:
                    collected[buttons[code]] = 1.0 if value else 0.0
            elif kind == EV_ABS:
                store = stores.get(code)
                if store is not None:
                    store.put(collected, value)
            elif kind != EV_SYN:
                if kind == EV_MSC and code == MSC_TIMESTAMP and self._wiring.sensors:
                    self._sensor_us = value & 0xFFFFFFFF  # signed in the kernel
            elif code == SYN_REPORT:
                sensor_us, self._sensor_us = self._sensor_us, None
                if self._dropping:
                    self._dropping = False
                    self.needs_state = True
                elif collected or sensor_us is not None:
                    # The kernel sends no event for a repeated value: such a sample consists of its timestamp.
                    frames.append(Frame(seconds * 1_000_000 + micros, collected, sensor_us))
                self._collected = collected = {}
                if self.doubted:
                    self._pass_time(seconds * 1_000_000 + micros)
            elif code == SYN_DROPPED:
                self._dropping = True
        return frames

    def read(self, values: dict[str, float], changes: Iterable[tuple[int, int, int]], t_us: int) -> None:
        """Stores the meaning of changes (event type, code, value) in the values of a frame."""
        for kind, code, value in changes:
            if kind == EV_KEY:
                if code in self._buttons:
                    values[self._buttons[code]] = 1.0 if value else 0.0
            elif code in self._stores:
                self._stores[code].put(values, value)
        if self.doubted:
            self._pass_time(t_us)

    def state_frame(self, t_us: int, keys_down: Iterable[int], axes: dict[int, int]) -> Frame:
        """Returns a frame of all channels from the device's present state.

        Drops an incomplete packet, which is older than the state. Its rest has been discarded by the kernel when the
        state was read: kept, a press would never see its release.
        """
        self.needs_state = False
        self._collected = {}
        values: dict[str, float] = {}
        down = set(keys_down)
        for code, channel in self._buttons.items():
            values[channel] = 1.0 if code in down else 0.0
        for code, store in self._stores.items():
            if code in axes:
                store.put(values, axes[code])
        return Frame(t_us, values)

    def _pass_time(self, t_us: int) -> None:
        for code, axis in list(self.doubted.items()):
            axis.pass_time(t_us)
            if axis.settled:
                del self.doubted[code]
                self._stores[code] = store_of(self._wiring.axes[code])


def replayed(wiring: Wiring, events: Sequence[Event]) -> Iterator[Frame]:
    """Yields the frames of a recording. Recordings have no state to read after dropped events."""
    decoder = Decoder(wiring)
    for start in range(0, len(events), AT_ONCE):
        yield from decoder.decode(events[start : start + AT_ONCE])

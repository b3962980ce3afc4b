"""One kernel device of a pad, through evdev."""

from __future__ import annotations

import errno
import fcntl
import os
import struct
import time
from typing import Any, Final

import evdev

from nub_shift.engine.values import Frame
from nub_shift.model.kernel_event import INPUT_EVENT
from nub_shift.model.messages import Code
from nub_shift.pads.cards import Source, known_as
from nub_shift.pads.decoder import Decoder
from nub_shift.pads.description import Description
from nub_shift.pads.kernel import EV_ABS, EV_KEY, EV_SYN, Axis, Event
from nub_shift.pads.pad import PadError, Tap

_READ_BYTES = 64 * INPUT_EVENT.size
_EVIOCSCLOCKID: Final = 0x400445A0


class KernelDevice:
    """A device node, its events timed by the monotonic clock.

    Attributes:
        known: what is known of it.
        tap: gets its raw events besides.

    Raises:
        OSError: it cannot be opened.
        ProfileError: its card has faults.
    """

    def __init__(self, path: str) -> None:
        self._device = evdev.InputDevice(path, readonly=True)
        try:
            fcntl.ioctl(self._device.fd, _EVIOCSCLOCKID, struct.pack("i", time.CLOCK_MONOTONIC))
            self.description = describe(self._device)
            known = known_as(self.description)
        except BaseException:
            self._device.close()
            raise
        self.path = path
        self.fd = int(self._device.fd)
        self.known = known
        self.name = known.name
        self.tap: Tap | None = None
        wiring = known.wiring
        self.controls = wiring.controls
        self._axes = (*wiring.axes, *wiring.sensors)
        self._decoder = Decoder(wiring, known.source is Source.CARD)
        self._grabbed = False
        self._fresh = True

    def frames(self, now_us: int) -> list[Frame]:
        """The frames that are waiting; the first call gives the whole state, with what is held taken to be at rest.

        Raises:
            OSError: the device does not answer; ENODEV if it was unplugged.
        """
        state = [self._state(now_us)] if self._fresh else []
        try:
            if self.tap is None:
                frames = self._decoder.decode(INPUT_EVENT.iter_unpack(os.read(self.fd, _READ_BYTES)))
            else:
                events = self.events()
                self.tap(events)
                frames = self._decoder.decode(events)
        except BlockingIOError:
            frames = []
        if self._decoder.needs_state:
            frames.append(self._state(now_us))
        return state + frames

    @property
    def away(self) -> tuple[str, ...]:
        """The controls that may not rest where its codes suggest."""
        return self._decoder.away

    def positions(self) -> dict[int, int]:
        """Where its axes stand; raises OSError as `frames` does."""
        return {code: self._device.absinfo(code).value for code in self.description.axes}

    def events(self) -> list[Event]:
        """The raw events that are waiting; raises OSError as `frames` does."""
        try:
            return [Event(*event) for event in INPUT_EVENT.iter_unpack(os.read(self.fd, _READ_BYTES))]
        except BlockingIOError:
            return []

    def set_grabbed(self, grabbed: bool) -> None:
        """Grabs the device, so that others do not see it, or lets it go.

        Raises:
            PadError: another program has grabbed it.
        """
        if grabbed is self._grabbed:
            return
        try:
            if grabbed:
                self._device.grab()
            else:
                self._device.ungrab()
        except OSError as error:
            if grabbed and error.errno == errno.EBUSY:
                raise PadError(Code.GRABBED_BY_OTHERS, pad=self.name) from None
            if error.errno != errno.ENODEV:
                raise
        self._grabbed = grabbed

    def close(self) -> None:
        """Lets the device go."""
        self.set_grabbed(False)
        self._device.close()

    def _state(self, now_us: int) -> Frame:
        axes = {code: self._device.absinfo(code).value for code in self._axes}
        if self._fresh:
            self._fresh = False
            self._decoder.begin(axes)
            return self._decoder.state_frame(now_us, (), axes)
        return self._decoder.state_frame(now_us, self._device.active_keys(), axes)


def describe(device: evdev.InputDevice[str]) -> Description:
    """What a device says of itself; raises OSError when it is gone."""
    capabilities: dict[int, Any] = dict(device.capabilities(absinfo=True))
    axes = {
        code: Axis(info.min, info.max, info.fuzz, info.flat, info.resolution)
        for code, info in capabilities.pop(EV_ABS, [])
    }
    keys = frozenset(capabilities.pop(EV_KEY, []))
    capabilities.pop(EV_SYN, None)
    return Description(
        device.name,
        device.info.bustype,
        device.info.vendor,
        device.info.product,
        device.info.version,
        device.phys,
        device.uniq,
        keys,
        axes,
        frozenset(device.input_props()),
        {kind: frozenset(codes) for kind, codes in capabilities.items() if codes},
    )

"""One kernel device of a pad, through evdev."""

from __future__ import annotations

import errno
import os
from contextlib import suppress
from typing import Final

from nub_shift.engine.values import Frame
from nub_shift.model.messages import Code
from nub_shift.model.pad.kernel_event import INPUT_EVENT
from nub_shift.pads.input_codes import Event
from nub_shift.pads.kernel.decoder import Decoder
from nub_shift.pads.kernel.node import Node
from nub_shift.pads.known.cards import Source, known_as
from nub_shift.pads.pad import PadError, Tap

_read: Final = os.read
_READ_BYTES: Final = 64 * INPUT_EVENT.size


class KernelDevice:
    """A device node with events timed by the monotonic clock.

    Attributes:
        known: what is known of the device.
        tap: receives the raw events too.

    Raises:
        OSError: the node cannot be opened.
        ProfileError: its card has faults.
    """

    def __init__(self, path: str) -> None:
        self._node = Node(path)
        try:
            self._node.time_by_monotonic_clock()
            self.description = self._node.describe()
            known = known_as(self.description)
        except BaseException:
            self._node.close()
            raise
        self.path = path
        self.fd = self._node.fd
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
        """Returns the waiting frames; the first call returns the whole state, with held controls taken as at rest.

        Raises:
            OSError: the device does not answer; ENODEV if unplugged.
        """
        decoder = self._decoder
        state = [self._state(now_us)] if self._fresh else None
        try:
            if self.tap is None:
                frames = decoder.decode(INPUT_EVENT.iter_unpack(_read(self.fd, _READ_BYTES)))
            else:
                events = self.events()
                self.tap(events)
                frames = decoder.decode(events)
        except BlockingIOError:
            frames = []
        if decoder.needs_state:
            frames.append(self._state(now_us))
        return frames if state is None else state + frames

    @property
    def away(self) -> tuple[str, ...]:
        """Controls that may rest elsewhere than their codes suggest."""
        return self._decoder.away

    def positions(self) -> dict[int, int]:
        """Returns the positions of the axes.

        Raises:
            OSError: as for `frames`.
        """
        return self._node.positions(self.description.axes)

    def events(self) -> list[Event]:
        """Returns the waiting raw events.

        Raises:
            OSError: as for `frames`.
        """
        try:
            return [Event(*event) for event in INPUT_EVENT.iter_unpack(_read(self.fd, _READ_BYTES))]
        except BlockingIOError:
            return []

    def set_grabbed(self, grabbed: bool) -> None:
        """Grabs the device exclusively, or ungrabs it.

        Raises:
            PadError: another program has grabbed the device, or the device does not answer.
        """
        if grabbed is self._grabbed:
            return
        try:
            if grabbed:
                self._node.grab()
            else:
                self._node.ungrab()
        except OSError as error:
            if grabbed and error.errno == errno.EBUSY:
                raise PadError(Code.GRABBED_BY_OTHERS, pad=self.name) from None
            if error.errno != errno.ENODEV:
                raise PadError(Code.DOES_NOT_ANSWER, pad=self.name, why=error.strerror) from None
        self._grabbed = grabbed

    def close(self) -> None:
        """Closes the device."""
        with suppress(OSError):
            self.set_grabbed(False)
        self._node.close()

    def _state(self, now_us: int) -> Frame:
        axes = self._node.positions(self._axes)
        if self._fresh:
            self._fresh = False
            self._decoder.begin(axes)
            return self._decoder.state_frame(now_us, (), axes)
        return self._decoder.state_frame(now_us, self._node.keys_down(), axes)

"""Real pads, through the kernel's evdev devices."""

from __future__ import annotations

import errno
import fcntl
import os
import struct
import time
from collections.abc import Collection, Iterator
from dataclasses import dataclass
from pathlib import Path
from typing import Any

import evdev

from nub_shift.engine.values import Frame
from nub_shift.pads.decoder import Decoder
from nub_shift.pads.description import Description
from nub_shift.pads.gamepad import is_gamepad, wiring_of
from nub_shift.pads.kernel import EV_ABS, EV_KEY, EV_SYN, Axis, Event
from nub_shift.pads.pad import PadError, PadGone, with_name

# Our own virtual devices carry this in their physical path, so that they are never taken for pads.
OWN_PHYS = "nub-shift/"

_EVENT = struct.Struct("@llHHi")
_READ_BYTES = 64 * _EVENT.size
_EVIOCSCLOCKID = 0x400445A0
_DEVICE_FOLDER = Path("/dev/input")
_REMEDY = "add your user to the group 'input' or install the udev rule from the README, then log in again"


@dataclass(frozen=True)
class Found:
    """A kernel device that is a pad, or may be one but cannot be read.

    Attributes:
        missing: what keeps it from being used, and the remedy; empty if nothing does.
    """

    path: str
    description: Description | None
    missing: str = ""


def find_pads() -> Iterator[Found]:
    """All pads that are connected, in the order of their device numbers, and the devices that cannot be looked at."""
    paths = sorted(_DEVICE_FOLDER.glob("event*"), key=lambda path: int(path.name.removeprefix("event")))
    for path in map(str, paths):
        try:
            device = evdev.InputDevice(path, readonly=True)
        except PermissionError:
            yield Found(path, None, f"no permission to read it; {_REMEDY}")
            continue
        except OSError:
            continue  # unplugged while we looked
        try:
            description = _describe(device)
        except OSError:
            continue
        finally:
            device.close()
        if is_gamepad(description) and not description.phys.startswith(OWN_PHYS):
            yield Found(path, description)


def open_pad(match: str = "", taken: Collection[str] = ()) -> EvdevPad:
    """Opens the first pad whose path or name contains `match` and that is not `taken`, by its path.

    Raises:
        PadError: none is there, or it may not be read.
    """
    found = list(find_pads())
    usable = [(pad.path, pad.description.name) for pad in found if pad.description and pad.path not in taken]
    path = with_name(usable, match)
    if path is not None:
        try:
            return EvdevPad(path)
        except OSError as error:
            raise PadError(f"{path} cannot be opened ({error.strerror}); plug the pad in again") from None
    closed = [pad for pad in found if pad.missing]
    if closed:
        raise PadError(f"{closed[0].path}: {closed[0].missing}")
    wanted = f' named "{match}"' if match else ""
    other = "other " if taken else ""
    raise PadError(f"no {other}pad{wanted} is connected; plug one in, or use --pad simulated")


class EvdevPad:
    """One pad, its events timed by the monotonic clock.

    Raises:
        OSError: the device cannot be opened.
    """

    def __init__(self, path: str) -> None:
        self._device = evdev.InputDevice(path, readonly=True)
        try:
            fcntl.ioctl(self._device.fd, _EVIOCSCLOCKID, struct.pack("i", time.CLOCK_MONOTONIC))
            self.description = _describe(self._device)
        except BaseException:
            self._device.close()
            raise
        wiring = wiring_of(self.description)
        self.key = path
        self.name = self.description.name
        self.controls = wiring.controls
        self._axes = tuple(wiring.axes)
        self._decoder = Decoder(wiring)
        self._grabbed = False
        self._first = True

    def fileno(self) -> int:
        """The device's descriptor."""
        return int(self._device.fd)

    def due_us(self) -> None:
        """None: it goes by its descriptor."""

    def read(self, now_us: int) -> list[Frame]:
        """The frames that are waiting; the first call gives the whole state as it stands.

        Raises:
            PadGone: the device was unplugged.
        """
        try:
            if self._first:
                self._first = False
                return [self._state(now_us), *self._decoder.decode(_EVENT.iter_unpack(self._read()))]
            frames = list(self._decoder.decode(_EVENT.iter_unpack(self._read())))
            if self._decoder.needs_state:
                frames.append(self._state(now_us))
        except OSError as error:
            why = "was unplugged" if error.errno == errno.ENODEV else f"does not answer ({error.strerror})"
            raise PadGone(f"{self.name} {why}") from None
        return frames

    def read_events(self) -> list[Event]:
        """The raw events that are waiting; raises OSError when the device is gone."""
        return [Event(*event) for event in _EVENT.iter_unpack(self._read())]

    def set_grabbed(self, grabbed: bool) -> None:
        """Grabs the device, so that a game does not see the pad besides its keys, or lets it go.

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
                raise PadError(f"{self.name} is grabbed by another program; close that program") from None
            if error.errno != errno.ENODEV:
                raise
        self._grabbed = grabbed

    def close(self) -> None:
        """Lets the device go."""
        self.set_grabbed(False)
        self._device.close()

    def _read(self) -> bytes:
        try:
            return os.read(self._device.fd, _READ_BYTES)
        except BlockingIOError:
            return b""

    def _state(self, now_us: int) -> Frame:
        axes = {code: self._device.absinfo(code).value for code in self._axes}
        return self._decoder.state_frame(now_us, self._device.active_keys(), axes)


def _describe(device: evdev.InputDevice[str]) -> Description:
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

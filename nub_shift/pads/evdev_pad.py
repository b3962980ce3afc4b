"""Real pads: one or several kernel devices that are one thing in the hand."""

from __future__ import annotations

import errno
from collections.abc import Collection
from contextlib import suppress

from nub_shift.engine.values import Frame
from nub_shift.model.controls import CONTROLS
from nub_shift.model.problems import ProfileError
from nub_shift.pads.device import KernelDevice
from nub_shift.pads.finding import Found, find_pads, with_name
from nub_shift.pads.pad import PadError, PadGone


def open_pad(match: str = "", taken: Collection[str] = ()) -> EvdevPad:
    """Opens the first pad whose path or name contains `match` and that is not `taken`, by its path.

    Raises:
        PadError: none is there, or it may not be read.
    """
    pad = find_pad(match, taken)
    try:
        return EvdevPad(pad.path, pad.motion)
    except OSError as error:
        raise PadError(f"{pad.path} cannot be opened ({error.strerror}); plug the pad in again") from None
    except ProfileError as error:
        raise PadError(str(error)) from None


def find_pad(match: str = "", taken: Collection[str] = ()) -> Found:
    """The first pad whose path or name contains `match` and that is not `taken`, by its path.

    Raises:
        PadError: none is there, or it may not be read.
    """
    found = find_pads()
    pad = with_name((pad for pad in found if pad.path not in taken), match)
    if pad is not None:
        return pad
    closed = [pad for pad in found if pad.missing]
    if closed:
        raise PadError(f"{closed[0].path}: {closed[0].missing}")
    wanted = f' named "{match}"' if match else ""
    other = "other " if taken else ""
    raise PadError(f"no {other}pad{wanted} is connected; plug one in, or use --pad simulated")


class EvdevPad:
    """One pad: the device with its buttons, and others that are part of it, its motion sensors for one.

    A part that cannot be opened is left out; a part that goes takes the pad with it, since both are one cable or one
    radio link.

    Raises:
        OSError: the device with the buttons cannot be opened.
    """

    def __init__(self, path: str, parts: Collection[str] = ()) -> None:
        self.main = KernelDevice(path)
        self.key = path
        self.name = self.main.name
        self._devices = [self.main]
        for part in parts:
            with suppress(OSError):
                self._devices.append(KernelDevice(part))
        named = {control for device in self._devices for control in device.controls}
        self.controls = tuple(control.name for control in CONTROLS if control.name in named)
        self._by_fd = {device.fd: device for device in self._devices}

    def filenos(self) -> tuple[int, ...]:
        """The descriptors of its devices."""
        return tuple(self._by_fd)

    def due_us(self) -> None:
        """None: it goes by its descriptors."""

    def read(self, now_us: int, fd: int | None = None) -> list[Frame]:
        """The frames that are waiting on one of its descriptors, or on all.

        Raises:
            PadGone: the device was unplugged.
        """
        try:
            if fd is not None:
                return self._by_fd[fd].frames(now_us)
            return [frame for device in self._devices for frame in device.frames(now_us)]
        except OSError as error:
            why = "was unplugged" if error.errno == errno.ENODEV else f"does not answer ({error.strerror})"
            raise PadGone(f"{self.name} {why}") from None

    def set_grabbed(self, grabbed: bool) -> None:
        """Grabs all its devices, so that a game does not see the pad besides its keys, or lets them go.

        Raises:
            PadError: another program has grabbed one of them.
        """
        for device in self._devices:
            device.set_grabbed(grabbed)

    def close(self) -> None:
        """Lets all its devices go."""
        for device in self._devices:
            device.close()

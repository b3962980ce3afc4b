"""Real pads, each of one or several kernel devices."""

from __future__ import annotations

import errno
import logging
from collections.abc import Collection, Sequence
from contextlib import suppress
from threading import Thread

from nub_shift.engine.values import Frame
from nub_shift.model.controls import CONTROLS
from nub_shift.model.messages import Code
from nub_shift.model.pad.trim import PadTrim
from nub_shift.model.problems import ProfileError
from nub_shift.pads.description import Description
from nub_shift.pads.kernel.device import KernelDevice
from nub_shift.pads.kernel.finding import Found, find_pads
from nub_shift.pads.kernel.power import show_player
from nub_shift.pads.kernel.rumble import Rumble
from nub_shift.pads.known.cards import Bias, keep_gyro_bias
from nub_shift.pads.pad import PadError, PadGone, Tap

log = logging.getLogger("nub_shift.pads")


def open_found(pad: Found) -> EvdevPad:
    """Opens a found pad.

    Raises:
        PadError: the pad is unreadable, or its card has faults.
    """
    try:
        return EvdevPad(pad.path, pad.parts, pad.parent)
    except OSError as error:
        raise PadError(Code.CANNOT_BE_OPENED, device=pad.path, why=error.strerror) from None
    except ProfileError as error:
        raise PadError(Code.FILE_FAULTY, why=str(error)) from None


class EvdevPad:
    """One pad: the device with its buttons, and further devices: motion sensors, a touch surface.

    A part that cannot be opened is left out. An unplugged part unplugs the whole pad, since both share a cable or a
    radio link.

    Raises:
        OSError: the device with the buttons cannot be opened.
    """

    def __init__(self, path: str, parts: Collection[str] = (), parent: str = "") -> None:
        self.main = KernelDevice(path)
        self.key = path
        self.name = self.main.name
        self.printed = self.main.known.printed
        self.fingers = self.main.known.fingers
        self.menu = self.main.known.menu
        self.is_guessed = self.main.known.is_guessed
        self._parent = parent
        self._rumble = Rumble(path)
        self._devices = [self.main]
        self._paths = {path}
        for part in parts:
            with suppress(OSError):
                self._devices.append(KernelDevice(part))
                self._paths.add(part)
        named = {control for device in self._devices for control in device.controls}
        self.controls = tuple(control.name for control in CONTROLS if control.name in named)
        self._by_fd = {device.fd: device for device in self._devices}

    @property
    def tap(self) -> Tap | None:
        """Receiver of the raw events of the device with the buttons."""
        return self.main.tap

    @tap.setter
    def tap(self, listener: Tap | None) -> None:
        self.main.tap = listener

    @property
    def devices(self) -> tuple[KernelDevice, ...]:
        """Devices of the pad, the one with the buttons first."""
        return tuple(self._devices)

    @property
    def descriptions(self) -> tuple[Description, ...]:
        """Descriptions of the devices, the one with the buttons first."""
        return tuple(device.description for device in self._devices)

    def positions(self) -> dict[int, int]:
        """Returns the positions of the axes of the device with the buttons.

        Raises:
            OSError: the device is gone.
        """
        return self.main.positions()

    @property
    def away(self) -> tuple[str, ...]:
        """Controls that may rest elsewhere than the codes suggest."""
        return tuple(control for device in self._devices for control in device.away)

    @property
    def is_automatic(self) -> bool:
        """False: a real pad is in somebody's hand."""
        return False

    @property
    def gyro_bias(self) -> Bias | None:
        """Known bias of the gyro."""
        return self.main.known.gyro_bias

    @property
    def trim(self) -> PadTrim:
        """Corrections of the card."""
        return self.main.known.trim

    def keep_gyro_bias(self, bias: Bias) -> None:
        """Writes the bias into the pad's card, in a thread, since the disk may be slow."""
        Thread(target=self._keep_bias, args=(bias,)).start()

    def _keep_bias(self, bias: Bias) -> None:
        try:
            keep_gyro_bias(self.main.description, bias)
        except (OSError, ProfileError) as error:  # a missing bias is learned again
            log.warning("%s: the bias of its gyro is not kept: %s", self.name, error)

    def filenos(self) -> tuple[int, ...]:
        """Returns the descriptors of all devices."""
        return tuple(self._by_fd)

    def due_us(self) -> None:
        """Returns None: the pad is read by its descriptors."""

    def read(self, now_us: int, fd: int | None = None) -> list[Frame]:
        """Returns the waiting frames of one descriptor, or of all.

        Raises:
            PadGone: the pad was unplugged.
        """
        try:
            if fd is not None:
                return self._by_fd[fd].frames(now_us)
            return [frame for device in self._devices for frame in device.frames(now_us)]
        except OSError as error:
            if error.errno == errno.ENODEV:
                raise PadGone(Code.UNPLUGGED, pad=self.name) from None
            raise PadGone(Code.DOES_NOT_ANSWER, pad=self.name, why=error.strerror) from None

    def set_grabbed(self, grabbed: bool) -> None:
        """Grabs all devices exclusively, so that a game does not see the pad besides its keys, or ungrabs them.

        Raises:
            PadError: another program has grabbed one of them.
        """
        for device in self._devices:
            device.set_grabbed(grabbed)

    def show_player(self, number: int) -> None:
        """Lights the player light of a number, if there are any, in a thread."""
        Thread(target=show_player, args=(self._parent, number), daemon=True).start()

    def rumble(self, pattern: Sequence[int]) -> None:
        """Runs the motors of the device with the buttons, in a thread."""
        self._rumble.play(pattern)

    def has_grown(self) -> bool:
        """Returns whether motion sensors or a surface have appeared or become readable since the pad was opened."""
        present = next((found for found in find_pads() if found.path == self.key), None)
        return present is not None and not self._paths.issuperset(present.parts)

    def close(self) -> None:
        """Closes all devices."""
        self._rumble.close()
        for device in self._devices:
            device.close()

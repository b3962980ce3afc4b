"""Outputs as a virtual keyboard and a virtual mouse, through the kernel's uinput.

The kernel releases all keys of a device that vanishes, so even SIGKILL leaves nothing pressed.
"""

from __future__ import annotations

import errno
import time
from collections.abc import Sequence

import evdev
from evdev import ecodes

from nub_shift.engine.values import Key, Pointer, Wheel
from nub_shift.engine.values import Output as EngineOutput
from nub_shift.model.keys import KEY_BY_CODE, MOUSE_BUTTONS
from nub_shift.outputs.output import DownKeys, OutputError, WheelClicks

# Ours alone, so that the pad search and a curious user can tell these devices (no vendor has the id 0x4e53).
VENDOR = 0x4E53
KEYBOARD_PRODUCT = 0x0001
MOUSE_PRODUCT = 0x0002
PHYS = "nub-shift/"
# A reader that comes after the removal is told of that only, so the releases get this long to be read.
LINGER_S = 0.1


class _Device(evdev.UInput):
    """A virtual device whose event node we never open: the base class would wait seconds for leave to read it."""

    def _find_device(self, fd: int) -> None:  # type: ignore[override]  # noqa: ARG002
        return None


class UInputOutput:
    """A virtual keyboard and a virtual mouse.

    Raises:
        OutputError: /dev/uinput is missing or may not be written.
    """

    def __init__(self) -> None:
        keyboard = [key.number for key in KEY_BY_CODE.values() if key.code not in MOUSE_BUTTONS]
        buttons = [KEY_BY_CODE[code].number for code in sorted(MOUSE_BUTTONS)]
        wheels = [ecodes.REL_WHEEL, ecodes.REL_HWHEEL, ecodes.REL_WHEEL_HI_RES, ecodes.REL_HWHEEL_HI_RES]
        self._keyboard = _open("Nub Shift keyboard", KEYBOARD_PRODUCT, "keyboard", {ecodes.EV_KEY: keyboard})
        try:
            mouse: dict[int, Sequence[int]] = {
                ecodes.EV_KEY: buttons,
                ecodes.EV_REL: [ecodes.REL_X, ecodes.REL_Y, *wheels],
            }
            self._mouse = _open("Nub Shift mouse", MOUSE_PRODUCT, "mouse", mouse)
        except BaseException:
            self._keyboard.close()
            raise
        self._down = DownKeys()
        self._clicks = WheelClicks()
        self._closed = False

    def send(self, outputs: list[EngineOutput]) -> None:
        """Writes one step's outputs as one packet a device."""
        self._down.note(outputs)
        keyboard = mouse = False
        try:
            for output in outputs:
                match output:
                    case Key(_, code, down):
                        device = self._mouse if code in MOUSE_BUTTONS else self._keyboard
                        device.write(ecodes.EV_KEY, KEY_BY_CODE[code].number, int(down))
                        mouse, keyboard = mouse or device is self._mouse, keyboard or device is self._keyboard
                    case Pointer(_, dx, dy):
                        self._relative(ecodes.REL_X, dx)
                        self._relative(ecodes.REL_Y, dy)
                        mouse = True
                    case Wheel(_, x, y):
                        self._wheel(0, x, ecodes.REL_HWHEEL, ecodes.REL_HWHEEL_HI_RES)
                        self._wheel(1, y, ecodes.REL_WHEEL, ecodes.REL_WHEEL_HI_RES)
                        mouse = True
            if keyboard:
                self._keyboard.syn()
            if mouse:
                self._mouse.syn()
        except OSError as error:
            raise OutputError(f"the virtual devices do not take events ({error.strerror})") from None

    def close(self) -> None:
        """Releases what is down and takes both devices away."""
        if self._closed:
            return
        self._closed = True
        releases = self._down.releases()
        try:
            if releases:
                self.send(releases)
                time.sleep(LINGER_S)
        finally:
            self._keyboard.close()
            self._mouse.close()

    def _relative(self, code: int, amount: int) -> None:
        if amount:
            self._mouse.write(ecodes.EV_REL, code, amount)

    def _wheel(self, axis: int, amount: int, code: int, fine_code: int) -> None:
        self._relative(fine_code, amount)
        self._relative(code, self._clicks.take(axis, amount))


def _open(name: str, product: int, part: str, events: dict[int, Sequence[int]]) -> evdev.UInput:
    try:
        return _Device(
            events=events,
            name=name,
            vendor=VENDOR,
            product=product,
            version=1,
            bustype=ecodes.BUS_VIRTUAL,
            phys=PHYS + part,
        )
    except evdev.UInputError as error:
        if "cannot be opened for writing" in str(error):
            raise OutputError(
                "no permission to write /dev/uinput; install the udev rule from the README, then log in again"
            ) from None
        raise OutputError("/dev/uinput is missing; load it with: sudo modprobe uinput") from None
    except OSError as error:
        why = "no permission to write it" if error.errno in (errno.EACCES, errno.EPERM) else error.strerror
        raise OutputError(f"/dev/uinput: {why}; install the udev rule from the README, then log in again") from None

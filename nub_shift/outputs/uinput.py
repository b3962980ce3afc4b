"""Outputs as a virtual keyboard and a virtual mouse, through the kernel's uinput.

The kernel releases all keys of a device that vanishes, so even SIGKILL leaves nothing pressed.
"""

from __future__ import annotations

import errno
import os
import time
from collections.abc import Sequence
from pathlib import Path

import evdev
from evdev import ecodes

from nub_shift.engine.values import Key, Output, Pointer, Wheel
from nub_shift.keyboard.keys import KEY_BY_CODE, MOUSE_BUTTONS
from nub_shift.model.kernel_event import INPUT_EVENT
from nub_shift.model.messages import Code
from nub_shift.outputs.output import DownKeys, OutputError, WheelClicks

# Ours alone, so that the pad search and a curious user can tell these devices (no vendor has the id 0x4e53).
UINPUT = "/dev/uinput"
VENDOR = 0x4E53
KEYBOARD_PRODUCT = 0x0001
MOUSE_PRODUCT = 0x0002
PHYS = "nub-shift/"
# A reader that comes after the removal is told of that only, so the releases get this long to be read.
LINGER_S = 0.1

_REPORT = INPUT_EVENT.pack(0, 0, ecodes.EV_SYN, ecodes.SYN_REPORT, 0)
# By code: what lets the key up, what presses it.
_KEYS = {
    code: (INPUT_EVENT.pack(0, 0, ecodes.EV_KEY, key.number, 0), INPUT_EVENT.pack(0, 0, ecodes.EV_KEY, key.number, 1))
    for code, key in KEY_BY_CODE.items()
}


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

    def send(self, outputs: list[Output]) -> None:
        """Writes one step's outputs as one packet a device."""
        keyboard = mouse = b""
        for output in outputs:
            if isinstance(output, Key):
                if output.code in MOUSE_BUTTONS:
                    mouse += _KEYS[output.code][output.down]
                else:
                    keyboard += _KEYS[output.code][output.down]
            elif isinstance(output, Pointer):
                mouse += _relative(ecodes.REL_X, output.dx) + _relative(ecodes.REL_Y, output.dy)
            elif isinstance(output, Wheel):
                mouse += self._wheel(0, output.x, ecodes.REL_HWHEEL, ecodes.REL_HWHEEL_HI_RES)
                mouse += self._wheel(1, output.y, ecodes.REL_WHEEL, ecodes.REL_WHEEL_HI_RES)
        try:
            if keyboard:
                os.write(self._keyboard.fd, keyboard + _REPORT)
            if mouse:
                os.write(self._mouse.fd, mouse + _REPORT)
        except OSError as error:
            raise OutputError(Code.DEVICES_TAKE_NOTHING, why=error.strerror) from None
        finally:
            self._down.note(outputs)

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

    def _wheel(self, axis: int, amount: int, code: int, fine_code: int) -> bytes:
        return _relative(fine_code, amount) + _relative(code, self._clicks.take(axis, amount))


def _relative(code: int, amount: int) -> bytes:
    return INPUT_EVENT.pack(0, 0, ecodes.EV_REL, code, amount) if amount else b""


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
    except evdev.UInputError:
        # The library tells the two apart by its words alone, so the device is asked.
        missing = not Path(UINPUT).exists()
        raise OutputError(Code.UINPUT_MISSING if missing else Code.UINPUT_NOT_ALLOWED) from None
    except OSError as error:
        if error.errno in (errno.EACCES, errno.EPERM):
            raise OutputError(Code.UINPUT_NOT_ALLOWED) from None
        raise OutputError(Code.UINPUT_FAILED, why=error.strerror) from None

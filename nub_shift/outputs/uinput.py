"""Outputs as a virtual keyboard, a virtual mouse and an absolute pointer, through the kernel's uinput.

The kernel releases all keys of a removed device, so that even SIGKILL leaves nothing pressed. If this process hangs, a
watcher (see `uinput_watcher`) releases the keys.
"""

from __future__ import annotations

import os
import time
from contextlib import ExitStack
from functools import lru_cache
from typing import Final, assert_never

from evdev import AbsInfo, ecodes

from nub_shift.engine.values import Key, Output, Place, PlaceBack, Pointer, ProfileRequest, Wheel
from nub_shift.keyboard.keys import KEY_BY_CODE, MOUSE_BUTTONS
from nub_shift.model.messages import Code
from nub_shift.model.pad.kernel_event import INPUT_EVENT
from nub_shift.outputs.output import DownKeys, OutputError, WheelClicks
from nub_shift.outputs.virtual_device import KEYBOARD_PRODUCT, MOUSE_PRODUCT, PLACER_PRODUCT, Codes, open_virtual
from nub_shift.outputs.watcher import DOWN, Watcher

# Time for readers to read the releases, since a reader that comes after the removal sees only the removal.
LINGER_S: Final = 0.1
# Range of the absolute pointer's axes.
PLACES: Final = 65_535

_write: Final = os.write
_REPORT: Final = INPUT_EVENT.pack(0, 0, ecodes.EV_SYN, ecodes.SYN_REPORT, 0)
# Events for release and press, by code.
_KEYS: Final = {
    code: (INPUT_EVENT.pack(0, 0, ecodes.EV_KEY, key.number, 0), INPUT_EVENT.pack(0, 0, ecodes.EV_KEY, key.number, 1))
    for code, key in KEY_BY_CODE.items()
}


class UInputOutput:
    """A virtual keyboard, a virtual mouse, and an absolute pointer that places the mouse.

    The kernel does not report the pointer's position, so the pointer does not return from where it was placed.

    Raises:
        OutputError: /dev/uinput is missing or not writable, or no process can be started.
    """

    def __init__(self) -> None:
        keyboard = [key.number for key in KEY_BY_CODE.values() if key.code not in MOUSE_BUTTONS]
        buttons = [KEY_BY_CODE[code].number for code in sorted(MOUSE_BUTTONS)]
        wheels = [ecodes.REL_WHEEL, ecodes.REL_HWHEEL, ecodes.REL_WHEEL_HI_RES, ecodes.REL_HWHEEL_HI_RES]
        across = AbsInfo(value=0, min=0, max=PLACES, fuzz=0, flat=0, resolution=0)
        with ExitStack() as opened:
            self._keyboard = opened.enter_context(
                open_virtual("Nub Shift keyboard", KEYBOARD_PRODUCT, "keyboard", {ecodes.EV_KEY: keyboard})
            )
            mouse: dict[int, Codes] = {
                ecodes.EV_KEY: buttons,
                ecodes.EV_REL: [ecodes.REL_X, ecodes.REL_Y, *wheels],
            }
            self._mouse = opened.enter_context(open_virtual("Nub Shift mouse", MOUSE_PRODUCT, "mouse", mouse))
            placer: dict[int, Codes] = {  # readers take a device with a button for a pointer
                ecodes.EV_KEY: [ecodes.BTN_LEFT],
                ecodes.EV_ABS: [(ecodes.ABS_X, across), (ecodes.ABS_Y, across)],
            }
            self._placer = opened.enter_context(open_virtual("Nub Shift pointer", PLACER_PRODUCT, "pointer", placer))
            self._keyboard_fd, self._mouse_fd, self._placer_fd = devices = (
                *(int(self._keyboard.fd), int(self._mouse.fd)),
                int(self._placer.fd),
            )
            words = map(str, (os.getpid(), *devices))
            self._watcher = Watcher("nub_shift.outputs.uinput_watcher", *words, keeps=devices)
            self._devices = opened.pop_all()
        self._down = DownKeys()
        self._clicks = WheelClicks()
        self._closed = False

    def send(self, outputs: list[Output]) -> None:
        """Writes one step's outputs, one packet per device."""
        keyboard = mouse = placer = b""
        keys = False
        for output in outputs:
            if type(output) is Pointer:  # nearly every output; comparing types costs a fifth of isinstance
                if dx := output.dx:
                    mouse += _across(dx)
                if dy := output.dy:
                    mouse += _downwards(dy)
            elif type(output) is Key:
                keys = True
                if output.code in MOUSE_BUTTONS:
                    mouse += _KEYS[output.code][output.down]
                else:
                    keyboard += _KEYS[output.code][output.down]
            elif type(output) is Wheel:
                mouse += self._wheel(0, output.x, ecodes.REL_HWHEEL, ecodes.REL_HWHEEL_HI_RES)
                mouse += self._wheel(1, output.y, ecodes.REL_WHEEL, ecodes.REL_WHEEL_HI_RES)
            elif type(output) is Place:
                placer = _placed(ecodes.ABS_X, output.x) + _placed(ecodes.ABS_Y, output.y)
            elif type(output) is not PlaceBack and type(output) is not ProfileRequest:  # neither is sent to devices
                assert_never(output)
        try:
            if placer:  # first, so that clicks happen at the new place
                _write(self._placer_fd, placer + _REPORT)
            if keyboard:
                _write(self._keyboard_fd, keyboard + _REPORT)
            if mouse:
                _write(self._mouse_fd, mouse + _REPORT)
        except OSError as error:
            raise OutputError(Code.DEVICES_TAKE_NOTHING, why=error.strerror) from None
        finally:
            if keys:
                self._down.note(outputs)

    @property
    def holds(self) -> bool:
        """Whether any key is down."""
        return bool(self._down)

    def beat(self) -> None:
        """Sends the watcher a heartbeat, with whether any key is down."""
        self._watcher.beat(DOWN if self._down else 0)

    def fileno(self) -> int:
        """Returns -1: the kernel does not go away."""
        return -1

    def check(self) -> None:
        """Does nothing; see `fileno`."""

    def close(self) -> None:
        """Releases all keys that are down and removes the devices."""
        if self._closed:
            return
        self._closed = True
        releases = self._down.releases()
        try:
            if releases:
                self.send(releases)
                time.sleep(LINGER_S)
        finally:
            self._watcher.close()
            self._devices.close()

    def _wheel(self, axis: int, amount: int, code: int, fine_code: int) -> bytes:
        return _relative(fine_code, amount) + _relative(code, self._clicks.take(axis, amount))


@lru_cache(maxsize=512)
def _across(counts: int) -> bytes:
    return _relative(ecodes.REL_X, counts)


@lru_cache(maxsize=512)
def _downwards(counts: int) -> bytes:
    return _relative(ecodes.REL_Y, counts)


def _placed(code: int, part: float) -> bytes:
    """Returns an event with a changed value, since the kernel drops repeated values, and the mouse may have moved
    since.
    """
    place = round(part * PLACES)
    return INPUT_EVENT.pack(0, 0, ecodes.EV_ABS, code, place ^ 1) + INPUT_EVENT.pack(0, 0, ecodes.EV_ABS, code, place)


def _relative(code: int, amount: int) -> bytes:
    return INPUT_EVENT.pack(0, 0, ecodes.EV_REL, code, amount) if amount else b""

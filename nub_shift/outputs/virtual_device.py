"""Creation of virtual devices by the device library, apart from the path of keys."""

from __future__ import annotations

import errno
from collections.abc import Sequence
from pathlib import Path

import evdev

from nub_shift.model.messages import Code
from nub_shift.model.pad.own_devices import BUS_VIRTUAL, PHYS, VENDOR
from nub_shift.outputs.output import OutputError

UINPUT = "/dev/uinput"
KEYBOARD_PRODUCT = 0x0001
MOUSE_PRODUCT = 0x0002
PLACER_PRODUCT = 0x0003


class _Device(evdev.UInput):
    """A virtual device that never opens its event node: the base class would wait seconds for permission to read it."""

    def _find_device(self, fd: int) -> None:  # type: ignore[override]  # noqa: ARG002
        return None


# Capabilities of a device for one event type: codes, for absolute axes with their ranges.
Codes = Sequence[int | tuple[int, evdev.AbsInfo]]


def open_virtual(name: str, product: int, part: str, events: dict[int, Codes]) -> evdev.UInput:
    """Creates a device with these events.

    Raises:
        OutputError: /dev/uinput is missing or not writable.
    """
    try:
        return _Device(
            events=events,  # type: ignore[arg-type]  # its stubs leave out the ranges of axes
            name=name,
            vendor=VENDOR,
            product=product,
            version=1,
            bustype=BUS_VIRTUAL,
            phys=PHYS + part,
        )
    except evdev.UInputError:
        # The library distinguishes the two cases by its texts alone, so the device is checked here.
        missing = not Path(UINPUT).exists()
        raise OutputError(Code.UINPUT_MISSING if missing else Code.UINPUT_NOT_ALLOWED) from None
    except OSError as error:
        if error.errno in (errno.EACCES, errno.EPERM):
            raise OutputError(Code.UINPUT_NOT_ALLOWED) from None
        raise OutputError(Code.UINPUT_FAILED, why=error.strerror) from None

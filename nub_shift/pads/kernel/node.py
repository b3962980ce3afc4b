"""One device node: the kernel's, by way of the device library, and a wall round both.

A device may be pulled out between any two words with it, and then the library may raise anything. Here every failure is
an OSError, and ENODEV if it is none that the kernel names.
"""

from __future__ import annotations

import errno
import fcntl
import functools
import os
import struct
import time
from collections.abc import Callable, Iterable
from contextlib import suppress
from typing import Any, Final, ParamSpec, TypeVar

import evdev

from nub_shift.pads.description import Description
from nub_shift.pads.input_codes import EV_ABS, EV_KEY, EV_SYN, Axis

_EVIOCSCLOCKID: Final = 0x400445A0

P = ParamSpec("P")
R = TypeVar("R")


def _or_gone(ask: Callable[P, R]) -> Callable[P, R]:
    """Has whatever `ask` raises be an OSError."""

    @functools.wraps(ask)
    def asked(*args: P.args, **named: P.kwargs) -> R:
        try:
            return ask(*args, **named)
        except OSError:
            raise
        except Exception as error:
            raise OSError(errno.ENODEV, os.strerror(errno.ENODEV)) from error

    return asked


class Node:
    """A device node that is open for reading. Everything raises OSError as the kernel says; ENODEV when it is gone.

    Attributes:
        fd: becomes readable with events, which are struct input_event.
    """

    @_or_gone
    def __init__(self, path: str) -> None:
        self.path = path
        self._device = evdev.InputDevice(path, readonly=True)
        self.fd = int(self._device.fd)

    @_or_gone
    def describe(self) -> Description:
        """Returns the description of the device."""
        device = self._device
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

    @_or_gone
    def time_by_monotonic_clock(self) -> None:
        """Has its events timed by the clock that all else here goes by."""
        fcntl.ioctl(self.fd, _EVIOCSCLOCKID, struct.pack("i", time.CLOCK_MONOTONIC))

    @_or_gone
    def positions(self, axes: Iterable[int]) -> dict[int, int]:
        """Returns the positions of these axes."""
        return {code: self._device.absinfo(code).value for code in axes}

    @_or_gone
    def keys_down(self) -> list[int]:
        """The keys that are down."""
        return list(self._device.active_keys())

    @_or_gone
    def grab(self) -> None:
        """Keeps it from all others; EBUSY if another has it."""
        self._device.grab()

    @_or_gone
    def ungrab(self) -> None:
        """Lets others have it."""
        self._device.ungrab()

    def close(self) -> None:
        """Lets it go, also when it has gone."""
        with suppress(Exception):
            self._device.close()

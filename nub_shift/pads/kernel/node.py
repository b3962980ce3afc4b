"""A kernel device node through the device library, with every failure as an OSError.

A device may be unplugged between any two calls, after which the library may raise anything; errors unknown to the
kernel become ENODEV.
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


def _or_gone(call: Callable[P, R]) -> Callable[P, R]:
    """Wraps a function so that any exception is raised as an OSError."""

    @functools.wraps(call)
    def requested(*args: P.args, **named: P.kwargs) -> R:
        try:
            return call(*args, **named)
        except OSError:
            raise
        except Exception as error:
            raise OSError(errno.ENODEV, os.strerror(errno.ENODEV)) from error

    return requested


class Node:
    """A device node open for reading. Every method raises OSError as the kernel does; ENODEV after an unplug.

    Attributes:
        fd: descriptor that becomes readable with events, each a struct input_event.
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
        """Sets the clock of its events to the monotonic clock."""
        fcntl.ioctl(self.fd, _EVIOCSCLOCKID, struct.pack("i", time.CLOCK_MONOTONIC))

    @_or_gone
    def positions(self, axes: Iterable[int]) -> dict[int, int]:
        """Returns the positions of these axes."""
        return {code: self._device.absinfo(code).value for code in axes}

    @_or_gone
    def keys_down(self) -> list[int]:
        """Returns the keys that are down."""
        return list(self._device.active_keys())

    @_or_gone
    def grab(self) -> None:
        """Grabs the node exclusively; EBUSY if another program has done so."""
        self._device.grab()

    @_or_gone
    def ungrab(self) -> None:
        """Ungrabs the node."""
        self._device.ungrab()

    def close(self) -> None:
        """Closes the node, also after an unplug."""
        with suppress(Exception):
            self._device.close()

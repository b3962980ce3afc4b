"""Notification of plugged input devices, lights and batteries, so that an unplugged pad continues at its return."""

from __future__ import annotations

import logging
import re
from pathlib import Path

import pyudev

from nub_shift.model.pad.own_devices import is_own

log = logging.getLogger("nub_shift.pads")

# Socket of the udev daemon. With the daemon a device is reported after its permissions are set; without it, only by the
# kernel.
_DAEMON = Path("/run/udev/control")
# Device nodes of pads, and player lights by the kernel's name of their function.
_COMING = re.compile(r"^event\d|:player-\d$")


class Hotplug:
    """Receives device events by netlink.

    Attributes:
        power: a battery has changed; reset by the reader.
        gone: a device node has gone; reset by the reader.
        is_sure: a reported device can be opened at once, so that no second look is needed.

    Raises:
        OSError: netlink is not available.
    """

    def __init__(self) -> None:
        self.is_sure = _DAEMON.exists()
        self.power = self.gone = False
        source = "udev" if self.is_sure else "kernel"
        self._monitor = pyudev.Monitor.from_netlink(pyudev.Context(), source)
        self._monitor.filter_by("input")
        self._monitor.filter_by("leds")
        self._monitor.filter_by("power_supply")
        self._monitor.start()

    def fileno(self) -> int:
        """Returns the descriptor that becomes readable with events."""
        return int(self._monitor.fileno())

    def came(self) -> bool:
        """Returns whether a device node or a player light has come since the last call."""
        found = False
        try:
            while (device := self._monitor.poll(timeout=0)) is not None:
                self.power = self.power or device.subsystem == "power_supply"
                if _COMING.search(device.sys_name) is None:
                    continue
                self.gone = self.gone or device.action == "remove"
                found = found or (device.action == "add" and not _is_own(device))
        except OSError:
            return True  # the socket has overflowed: a device may have come
        except Exception:  # the library may raise anything about a device that has gone again
            log.exception("news of devices")
            return True
        return found


def _is_own(device: pyudev.Device) -> bool:
    """Returns whether a device is a virtual one of ours, which needs no search for pads."""
    parent = device.parent
    if parent is None:
        return False
    bus, vendor, phys = (parent.attributes.get(name) or b"0" for name in ("id/bustype", "id/vendor", "phys"))
    return is_own(int(bus, 16), int(vendor, 16), phys.decode(errors="replace"))

"""Tells when input devices, their lights and batteries come, so that a pad plays on once it is plugged in again."""

from __future__ import annotations

import logging
import re
from pathlib import Path

import pyudev

from nub_shift.model.pad.own_devices import is_own

log = logging.getLogger("nub_shift.pads")

# Socket of the udev daemon. With it, a device is reported once its permissions are set; without it, the kernel's own
# word is all there is.
_DAEMON = Path("/run/udev/control")
# Device nodes by which pads are read, and player lights by the name that the kernel gives their function.
_COMING = re.compile(r"^event\d|:player-\d$")


class Hotplug:
    """Listens on the kernel's netlink socket for devices.

    Attributes:
        power: whether a battery has changed since somebody asked last; who asks takes it back.
        gone: whether a device node has gone, likewise.
        is_sure: whether a device that is told of can be opened by then, so that nobody needs to look again.

    Raises:
        OSError: there is no such socket here.
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
        """The descriptor that becomes readable with news."""
        return int(self._monitor.fileno())

    def came(self) -> bool:
        """Whether a device node, or a player light, has come since the last call."""
        found = False
        try:
            while (device := self._monitor.poll(timeout=0)) is not None:
                self.power = self.power or device.subsystem == "power_supply"
                if _COMING.search(device.sys_name) is None:
                    continue
                self.gone = self.gone or device.action == "remove"
                found = found or (device.action == "add" and not _is_own(device))
        except OSError:
            return True  # more news than the socket could keep: something may have come
        except Exception:  # of a device that has gone again, the library may say anything
            log.exception("news of devices")
            return True
        return found


def _is_own(device: pyudev.Device) -> bool:
    """Whether it is a virtual device of ours, for which nobody need look through all the others as it goes live."""
    parent = device.parent
    if parent is None:
        return False
    bus, vendor, phys = (parent.attributes.get(name) or b"0" for name in ("id/bustype", "id/vendor", "phys"))
    return is_own(int(bus, 16), int(vendor, 16), phys.decode(errors="replace"))

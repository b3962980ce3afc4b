"""Notifications to systemd, one datagram each (sd_notify(3))."""

from __future__ import annotations

import logging
import os
import socket
from collections.abc import Mapping

log = logging.getLogger("nub_shift.runner")


class ServiceManager:
    """The service manager that started the process. Without one, nothing is sent.

    Attributes:
        ping_us: interval of heartbeats, half of the manager's limit; None without.
    """

    def __init__(self, environment: Mapping[str, str] = os.environ) -> None:
        address = environment.get("NOTIFY_SOCKET", "")
        self._address = "\0" + address[1:] if address.startswith("@") else address
        self._said = ""
        wanted = environment.get("WATCHDOG_USEC", "")
        for_us = environment.get("WATCHDOG_PID", str(os.getpid())) == str(os.getpid())
        self.ping_us = int(wanted) // 2 if wanted.isdecimal() and for_us and self._address else None

    def notify(self, *assignments: str) -> None:
        """Sends assignments, such as `READY=1`."""
        if not self._address:
            return
        try:
            with socket.socket(socket.AF_UNIX, socket.SOCK_DGRAM | socket.SOCK_NONBLOCK) as end:
                end.sendto("\n".join(assignments).encode(), self._address)
        except OSError as error:
            log.warning("the service manager does not hear: %s", error)

    def notify_status(self, status: str) -> None:
        """Sends a status line for people if changed."""
        line = " ".join(status.split())
        if line != self._said:
            self._said = line
            self.notify(f"STATUS={line}")

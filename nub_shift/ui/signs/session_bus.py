"""The session's D-Bus in Qt's event loop."""

from __future__ import annotations

from collections.abc import Callable

from PyQt6.QtCore import QObject, QSocketNotifier
from PyQt6.sip import voidptr

from nub_shift.desktop_bus.bus import Bus


class BusNotifiers(QObject):
    """Wakes a bus when its descriptor is readable or writable; ends with the bus."""

    def __init__(self, bus: Bus, gone: Callable[[], None] = lambda: None) -> None:
        """`gone` is called when the bus has gone."""
        super().__init__()
        self._gone = gone
        descriptor = voidptr(bus.fileno())
        self._reads = QSocketNotifier(descriptor, QSocketNotifier.Type.Read, self)
        self._reads.activated.connect(bus.take)
        self._writes = QSocketNotifier(descriptor, QSocketNotifier.Type.Write, self)
        self._writes.setEnabled(False)
        self._writes.activated.connect(bus.give)
        bus.on_writing = self._writes.setEnabled
        bus.on_gone = self._end
        bus.give()  # messages queued before the notifiers existed

    def _end(self) -> None:
        for notifier in (self._reads, self._writes):
            notifier.setEnabled(False)
        self._gone()

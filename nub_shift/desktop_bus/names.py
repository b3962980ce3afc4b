"""Names of the programs on the session's bus."""

from __future__ import annotations

from typing import Final

from jeepney import DBusAddress

from nub_shift.desktop_bus.bus import NOTHING, Bus

_BUS: Final = DBusAddress("/org/freedesktop/DBus", bus_name="org.freedesktop.DBus", interface="org.freedesktop.DBus")


def names_on_bus() -> frozenset[str] | None:
    """Returns the names on the session's bus, and those that it can start; None without a bus."""
    bus = Bus.open()
    if bus is None:
        return None
    found: set[str] = set()
    try:
        for member in ("ListNames", "ListActivatableNames"):
            answer = bus.call_blocking(_BUS, member, NOTHING)
            if answer is None:
                return None
            found.update(answer[0])
    finally:
        bus.close()
    return frozenset(found)

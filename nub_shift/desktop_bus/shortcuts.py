"""Presence of the desktop's portal for global shortcuts."""

from __future__ import annotations

from typing import Final

from jeepney import DBusAddress

from nub_shift.desktop_bus.bus import Bus

SHORTCUTS: Final = DBusAddress(
    "/org/freedesktop/portal/desktop",
    bus_name="org.freedesktop.portal.Desktop",
    interface="org.freedesktop.portal.GlobalShortcuts",
)
_PROPERTIES: Final = SHORTCUTS.with_interface("org.freedesktop.DBus.Properties")


def has_shortcut_portal() -> bool:
    """Queries the session's bus; starts a portal that is not running yet."""
    bus = Bus.open()
    if bus is None:
        return False
    answer = bus.call_blocking(_PROPERTIES, "Get", ("ss", (SHORTCUTS.interface, "version")))
    bus.close()
    return answer is not None

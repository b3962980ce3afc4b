"""Whether the desktop hands out keys that are heard whatever window is in front: its portal for global shortcuts."""

from __future__ import annotations

from typing import Final

from jeepney import DBusAddress, MessageType, Properties
from jeepney.io.blocking import open_dbus_connection

SHORTCUTS: Final = DBusAddress(
    "/org/freedesktop/portal/desktop",
    bus_name="org.freedesktop.portal.Desktop",
    interface="org.freedesktop.portal.GlobalShortcuts",
)
_LIMIT_S: Final = 2.0


def hands_out_keys() -> bool:
    """Asks the session's bus; a portal that is not running yet is started by that."""
    try:
        with open_dbus_connection("SESSION") as connection:
            reply = connection.send_and_get_reply(Properties(SHORTCUTS).get("version"), timeout=_LIMIT_S)
    except (OSError, KeyError, ValueError, RuntimeError):
        return False
    return bool(reply.header.message_type is MessageType.method_return)

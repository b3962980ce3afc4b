"""State of the screen lock and of the active session, by the login service and screen savers."""

from __future__ import annotations

import os
from collections.abc import Callable
from typing import Any, Final

from jeepney import DBusAddress, MatchRule

from nub_shift.desktop_bus.bus import Bus

_LOGIN: Final = "org.freedesktop.login1"
_MANAGER: Final = DBusAddress("/org/freedesktop/login1", bus_name=_LOGIN, interface=f"{_LOGIN}.Manager")
_SESSION: Final = f"{_LOGIN}.Session"
_PROPERTIES: Final = "org.freedesktop.DBus.Properties"
# Lock screens that report their state, by their names on the session's bus.
_SAVERS: Final = ("org.freedesktop.ScreenSaver", "org.gnome.ScreenSaver")


class ScreenLock:
    """Tracks the lock. Without any report the session counts as unlocked.

    Attributes:
        locked: whether the screen is locked, or shows another session.
    """

    def __init__(self, changed: Callable[[], None]) -> None:
        """`changed` is called when `locked` changes."""
        self._changed = changed
        self._by_login: dict[str, bool] = {}  # LockedHint and Active of this session
        self._by_saver: dict[str, bool] = {}
        self.locked = False

    def follow_savers(self, bus: Bus) -> None:
        """Subscribes to screen savers on the session's bus."""
        for name in _SAVERS:
            active = MatchRule(type="signal", interface=name, member="ActiveChanged")

            def on_signal(values: tuple[Any, ...], name: str = name) -> None:
                self._by_saver[name] = bool(values and values[0])
                self._settle()

            bus.subscribe(active, on_signal, owner=name)

    def follow_login(self, bus: Bus) -> None:
        """Subscribes to the login service on the system's bus, and queries the present state."""

        def on_user(values: tuple[Any, ...] | None) -> None:
            if values is not None:
                user = DBusAddress(values[0], bus_name=_LOGIN, interface=_PROPERTIES)
                bus.call(user, "Get", ("ss", (f"{_LOGIN}.User", "Display")), on_session)

        def on_session(values: tuple[Any, ...] | None) -> None:
            path = values[0][1][1] if values is not None else ""
            if not path or path == "/":
                return  # this user has no graphical session
            session = DBusAddress(path, bus_name=_LOGIN, interface=_PROPERTIES)
            rule = MatchRule(type="signal", interface=_PROPERTIES, member="PropertiesChanged", path=path)
            bus.subscribe(rule, lambda values: self._on_properties(values[1]), owner=_LOGIN)
            bus.call(session, "GetAll", ("s", (_SESSION,)), on_all)

        def on_all(values: tuple[Any, ...] | None) -> None:
            self._on_properties(values[0] if values is not None else {})

        bus.call(_MANAGER, "GetUser", ("u", (os.getuid(),)), on_user)

    def forget(self) -> None:
        """Treats the session as unlocked, since a bus has gone and its last report may be outdated."""
        self._by_login.clear()
        self._by_saver.clear()
        self._settle()

    def _on_properties(self, properties: dict[str, tuple[str, Any]]) -> None:
        for name in ("LockedHint", "Active"):
            if name in properties:
                self._by_login[name] = bool(properties[name][1])
        self._settle()

    def _settle(self) -> None:
        hidden = self._by_login.get("LockedHint", False) or not self._by_login.get("Active", True)
        locked = hidden or any(self._by_saver.values())
        if locked is not self.locked:
            self.locked = locked
            self._changed()

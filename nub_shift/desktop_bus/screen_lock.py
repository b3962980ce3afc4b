"""Whether the session is locked, or another one is on the screen: as the login service and screen savers tell."""

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
# Lock screens that report locking themselves, by their names on the session's bus.
_SAVERS: Final = ("org.freedesktop.ScreenSaver", "org.gnome.ScreenSaver")


class ScreenLock:
    """Notes what is told of the lock. Where nobody tells, the session counts as unlocked.

    Attributes:
        locked: whether anybody says that the screen is locked, or shows somebody else's session.
    """

    def __init__(self, changed: Callable[[], None]) -> None:
        """`changed` is called when `locked` is another."""
        self._changed = changed
        self._by_login: dict[str, bool] = {}  # LockedHint and Active of our session
        self._by_saver: dict[str, bool] = {}
        self.locked = False

    def follow_savers(self, bus: Bus) -> None:
        """Listens to screen savers on the session's bus."""
        for name in _SAVERS:
            active = MatchRule(type="signal", interface=name, member="ActiveChanged")

            def heard(values: tuple[Any, ...], name: str = name) -> None:
                self._by_saver[name] = bool(values and values[0])
                self._settle()

            bus.hear(active, heard, owner=name)

    def follow_login(self, bus: Bus) -> None:
        """Listens to the login service on the system's bus, and asks how things are."""

        def on_user(values: tuple[Any, ...] | None) -> None:
            if values is not None:
                user = DBusAddress(values[0], bus_name=_LOGIN, interface=_PROPERTIES)
                bus.ask(user, "Get", ("ss", (f"{_LOGIN}.User", "Display")), on_session)

        def on_session(values: tuple[Any, ...] | None) -> None:
            path = values[0][1][1] if values is not None else ""
            if not path or path == "/":
                return  # this user has no session with a screen
            session = DBusAddress(path, bus_name=_LOGIN, interface=_PROPERTIES)
            rule = MatchRule(type="signal", interface=_PROPERTIES, member="PropertiesChanged", path=path)
            bus.hear(rule, lambda values: self._on_properties(values[1]), owner=_LOGIN)
            bus.ask(session, "GetAll", ("s", (_SESSION,)), on_all)

        def on_all(values: tuple[Any, ...] | None) -> None:
            self._on_properties(values[0] if values is not None else {})

        bus.ask(_MANAGER, "GetUser", ("u", (os.getuid(),)), on_user)

    def forget(self) -> None:
        """Nobody tells any more: a bus has gone, and what it said last may be long over."""
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

"""Windows reported by a Wayland compositor (wlr-foreign-toplevel-management), completed by its X server.

The compositor does not report the process of a window. The X server inside it does, for its own windows.
"""

from __future__ import annotations

import os
from contextlib import suppress
from dataclasses import dataclass, replace
from itertools import count
from typing import Any

from pywayland.client import Display

from nub_shift.front.foreign_toplevel import ACTIVATED, ToplevelManager
from nub_shift.front.windows import is_wayland
from nub_shift.front.x11 import MAX_WINDOWS, X11Windows
from nub_shift.model.profile.activation import MAX_TEXT, Front
from nub_shift.translation import tr


@dataclass
class _Window:
    """State of a window; `title`, `app_id` and `active` are in force, the other fields take effect at the next
    "done".
    """

    title: str = ""
    app_id: str = ""
    active: bool = False
    next_title: str = ""
    next_app_id: str = ""
    next_active: bool = False


def opened() -> Display | None:
    """Connects to the session's compositor; None outside a Wayland session, or without an answer."""
    if not is_wayland():
        return None
    display = Display()
    try:
        display.connect()
    except (ValueError, RuntimeError, OSError):
        return None
    return display


class WaylandWindows:
    """A connection to the session's compositor. Every method raises OSError once the compositor has gone."""

    reports_all = True

    def __init__(self, display: Display) -> None:
        self._display = display
        self._windows: dict[int, _Window] = {}
        self._proxies: dict[int, Any] = {}
        self._gone: list[Any] = []  # destroyed after their event
        self._numbers = count(1)
        self._manager: Any = None
        self._news = False
        self.gone: set[int] = set()
        self._x11: X11Windows | None = None

        def on_global(registry: Any, number: int, interface: str, _version: int) -> None:
            if interface == ToplevelManager.name:
                self._manager = registry.bind(number, ToplevelManager, 1)
                self._manager.dispatcher["toplevel"] = self._on_window

        self._registry = display.get_registry()
        self._registry.dispatcher["global"] = on_global
        display.roundtrip()

    @classmethod
    def connect(cls) -> WaylandWindows | None:
        """Connects, if the compositor answers and reports windows."""
        display = opened()
        if display is None:
            return None
        made = cls(display)
        if made._manager is None:
            display.disconnect()
            return None
        display.roundtrip()  # the windows
        display.roundtrip()  # their properties
        return made

    def close(self) -> None:
        """Closes the connection."""
        with suppress(ValueError):  # closed already
            self._display.disconnect()
        if self._x11 is not None:
            self._x11.close()
            self._x11 = None

    def fileno(self) -> int:
        """Returns the descriptor that becomes readable with events."""
        return int(self._display.get_fd())

    def follow(self) -> None:
        """Does nothing: the compositor reports the window in front from the beginning."""

    def came(self) -> bool:
        """Returns whether the window in front or its title may have changed since the last call.

        Called when the descriptor is readable.
        """
        try:
            while self._gone:
                self._gone.pop().destroy()
            self._display.read()
            self._display.dispatch(block=False)
            self._display.flush()
        except (RuntimeError, ValueError):
            raise OSError(tr("the compositor is gone")) from None
        found, self._news = self._news, False
        return found

    def in_front(self) -> int:
        """Returns the number of the window in front; 0 without one."""
        return next((number for number, window in self._windows.items() if window.active), 0)

    def keyboard_taken(self) -> bool | None:
        """Returns False: a compositor gives the keyboard to the window in front, or reports none."""
        return False

    def look(self, window: int) -> Front:
        """Returns everything known of a window; only its number if it has gone."""
        told = self._windows.get(window)
        if told is None:
            return Front(window)
        names = tuple(dict.fromkeys(name for name in (told.app_id, told.app_id.rpartition(".")[2]) if name))
        front = Front(window, names, told.title)
        known = self._as_x11_knows(front)
        return replace(known, window=window) if known is not None else front

    def all(self) -> list[Front]:
        """Returns all windows, the newest last."""
        return [self.look(number) for number in list(self._windows)[:MAX_WINDOWS]]

    def _as_x11_knows(self, front: Front) -> Front | None:
        """Returns the window as described by the X server inside the session, if it is one of its windows."""
        if not os.environ.get("DISPLAY"):
            return None
        try:
            if self._x11 is None:
                self._x11 = X11Windows.connect()
            found = self._x11.all() if self._x11 is not None else []
        except OSError:
            self._x11 = None  # that server starts and ends on demand
            return None
        same = (other for other in found if other.title == front.title and set(front.names) & set(other.names))
        return next(same, None)

    def _on_window(self, _manager: Any, proxy: Any) -> None:
        number = next(self._numbers)
        window = self._windows[number] = _Window()
        self._proxies[number] = proxy  # the only reference to the proxy

        def on_title(_proxy: Any, title: str) -> None:
            window.next_title = title[:MAX_TEXT]

        def on_app_id(_proxy: Any, app_id: str) -> None:
            window.next_app_id = app_id[:MAX_TEXT]

        def on_state(_proxy: Any, states: bytes) -> None:
            window.next_active = ACTIVATED in memoryview(states).cast("I")

        def on_done(_proxy: Any) -> None:
            shows = window.active or window.next_active
            told = window.title, window.app_id, window.active
            window.title, window.app_id, window.active = window.next_title, window.next_app_id, window.next_active
            self._news = self._news or (shows and told != (window.title, window.app_id, window.active))

        def on_closed(_proxy: Any) -> None:
            self._news = self._news or window.active
            del self._windows[number]
            self.gone.add(number)
            self._gone.append(self._proxies.pop(number))

        heard = {"title": on_title, "app_id": on_app_id, "state": on_state, "done": on_done, "closed": on_closed}
        for event, act in heard.items():
            proxy.dispatcher[event] = act


def offered() -> frozenset[str]:
    """Returns the names of the compositor's interfaces; none where no compositor answers."""
    display = opened()
    if display is None:
        return frozenset()
    found: set[str] = set()
    registry = display.get_registry()
    registry.dispatcher["global"] = lambda _registry, _number, interface, _version: found.add(interface)
    display.roundtrip()
    display.disconnect()
    return frozenset(found)


if __name__ == "__main__":  # for `front.offers`
    print(*offered())

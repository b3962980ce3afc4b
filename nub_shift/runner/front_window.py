"""Which window is in front, where the session's X server tells."""

from __future__ import annotations

import os
from typing import Any

from nub_shift.runner.beside import Beside
from nub_shift.runner.watch import Watch

# By the Extended Window Manager Hints, window managers keep the window in front in this property of the root window.
_PROPERTY = "_NET_ACTIVE_WINDOW"


class FrontWindow:
    """Notes which window comes to the front. It connects when first asked; where nothing tells, nothing comes."""

    def __init__(self, watch: Watch, beside: Beside) -> None:
        self._watch = watch
        self._beside = beside
        self._display: Any = None
        self._fd = -1
        self._tried = False
        self._window = 0
        self._changes: list[tuple[int, int]] = []

    def changes(self) -> list[tuple[int, int]]:
        """The windows that came to the front since the last call, each with the one that was there before."""
        if not self._tried:
            self._tried = True
            if os.environ.get("DISPLAY"):
                self._beside.run(_connected, self._on_connected)
        found, self._changes = self._changes, []
        return found

    def close(self) -> None:
        """Hangs up."""
        if self._display is not None:
            self._watch.forget(self._fd)
            self._display.close()
            self._display = None

    def _on_connected(self, connection: Any) -> None:
        if connection is None:
            return
        from Xlib import X

        self._display = connection
        self._root = self._display.screen().root
        self._root.change_attributes(event_mask=X.PropertyChangeMask)
        self._atom = self._display.intern_atom(_PROPERTY)
        self._window = self._in_front()
        self._fd = self._display.fileno()
        self._watch.read(self._fd, self._on_events)
        self._on_events()  # what came while we asked waits in the library, not in the socket

    def _on_events(self) -> None:
        from Xlib import X, error

        try:
            while self._display.pending_events():
                event = self._display.next_event()
                if event.type == X.PropertyNotify and event.atom == self._atom:
                    self._note(self._in_front())
        except (error.ConnectionClosedError, OSError):
            self._watch.forget(self._fd)
            self._display = None  # the server has gone

    def _in_front(self) -> int:
        from Xlib import X

        found = self._root.get_full_property(self._atom, X.AnyPropertyType)
        return int(found.value[0]) if found is not None and len(found.value) else 0

    def _note(self, window: int) -> None:
        if window != self._window:
            self._changes.append((window, self._window))
            self._window = window


def _connected() -> Any:
    """A connection to the session's X server, or None."""
    from Xlib import display, error

    try:
        return display.Display()
    except (error.DisplayError, error.ConnectionClosedError, OSError):
        return None

"""Notification of a changed keyboard layout by the session's X server."""

from __future__ import annotations

import os
from contextlib import suppress
from typing import TYPE_CHECKING

from nub_shift.keyboard.session import RULES_PROPERTY
from nub_shift.translation import tr

if TYPE_CHECKING:
    from Xlib.display import Display


class LayoutWatch:
    """Watches the layout; its descriptor becomes readable with events."""

    def __init__(self, connection: Display) -> None:
        from Xlib import X

        self._connection = connection
        self._fd = int(connection.fileno())  # the library does not return the number once the server has gone
        self._atom = connection.intern_atom(RULES_PROPERTY)
        connection.screen().root.change_attributes(event_mask=X.PropertyChangeMask)
        connection.flush()

    @classmethod
    def connect(cls) -> LayoutWatch | None:
        """Connects to the session's X server; None without one."""
        if not os.environ.get("DISPLAY"):
            return None
        from Xlib import display, error

        try:
            return cls(display.Display())
        except (error.DisplayError, error.ConnectionClosedError, OSError):
            return None

    def fileno(self) -> int:
        """Returns the descriptor to poll."""
        return self._fd

    def came(self) -> bool:
        """Reads events; returns whether the layout has been set since the last call.

        Raises:
            OSError: the server has gone; no more events will come.
        """
        from Xlib import X, error

        found = False
        try:
            while self._connection.pending_events():
                event = self._connection.next_event()
                found = found or (event.type == X.PropertyNotify and event.atom == self._atom)
        except error.ConnectionClosedError as gone:
            raise OSError(tr("the X server is gone")) from gone
        return found

    def close(self) -> None:
        """Closes the connection."""
        from Xlib import error

        with suppress(error.ConnectionClosedError, OSError):  # the server has gone
            self._connection.close()

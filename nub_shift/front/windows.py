"""Interface to the windows of the session, whichever server reports them."""

from __future__ import annotations

import os
from typing import Protocol

from nub_shift.model.profile.activation import Front


class Windows(Protocol):
    """A connection to a server that reports windows. Every method that queries the server raises OSError once it has
    gone.

    Attributes:
        reports_all: whether the server reports all windows of the session.
        gone: numbers of closed windows, which the server may reuse; emptied by the reader.
    """

    gone: set[int]

    @property
    def reports_all(self) -> bool:
        """Whether the server reports all windows of the session."""

    def fileno(self) -> int:
        """Returns the descriptor that becomes readable with events."""

    def close(self) -> None:
        """Closes the connection."""

    def follow(self) -> None:
        """Subscribes to changes of the window in front."""

    def came(self) -> bool:
        """Returns whether the window in front or its title may have changed since the last call."""

    def in_front(self) -> int:
        """Returns the number of the window in front; 0 without one."""

    def keyboard_taken(self) -> bool | None:
        """Returns whether a program other than the one in front has the keyboard; None if that may pass in a moment."""

    def look(self, window: int) -> Front:
        """Returns everything known of a window; only its number if it has gone."""

    def all(self) -> list[Front]:
        """Returns all windows, the newest last."""


def has_display() -> bool:
    """Returns whether this session has a display."""
    return any(os.environ.get(name) for name in ("DISPLAY", "WAYLAND_DISPLAY"))


def is_wayland() -> bool:
    """Returns whether this is a Wayland session."""
    return bool(os.environ.get("WAYLAND_DISPLAY"))

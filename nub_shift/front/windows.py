"""Windows of the session, whichever server reports them."""

from __future__ import annotations

import os
from typing import Protocol

from nub_shift.model.profile.comes_on import Front


class Windows(Protocol):
    """A connection to whatever tells of windows. Every method that asks raises OSError once that has gone.

    Attributes:
        tells_all: it knows of all windows of the session.
        gone: numbers of windows that are there no more, for whoever takes them: the server may use them again.
    """

    gone: set[int]

    @property
    def tells_all(self) -> bool:
        """See above."""

    def fileno(self) -> int:
        """The descriptor that becomes readable with news."""

    def close(self) -> None:
        """Hangs up."""

    def follow(self) -> None:
        """From now on it is told which window comes to the front."""

    def came(self) -> bool:
        """Whether another window may be in front, or the one that is has another title, since the last call."""

    def in_front(self) -> int:
        """The number of the window in front; 0 if there is none."""

    def keyboard_taken(self) -> bool | None:
        """Whether another program than the one in front has the keyboard; None if that may change in a moment."""

    def look(self, window: int) -> Front:
        """All that is told of a window; nothing but its number if it has gone."""

    def all(self) -> list[Front]:
        """The windows that there are, the newest last."""


def has_display() -> bool:
    """Whether this session shows windows."""
    return any(os.environ.get(name) for name in ("DISPLAY", "WAYLAND_DISPLAY"))


def is_wayland() -> bool:
    """Whether this is a Wayland session."""
    return bool(os.environ.get("WAYLAND_DISPLAY"))

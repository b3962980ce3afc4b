"""The window in front, as reported by the process that watches the session."""

from __future__ import annotations

from collections.abc import Callable
from typing import Final

from nub_shift.model.profile.activation import Front

# Bound on unread changes.
MAX_CHANGES: Final = 16


class FrontWindow:
    """Records the windows in front. Silent where no process reports them.

    Attributes:
        news: last report, until the listener has received it.
    """

    def __init__(self) -> None:
        self._listener: Callable[[Front], None] | None = None
        self._window = 0
        self.news: Front | None = None
        self._changes: list[tuple[int, int]] = []

    def changes(self) -> list[tuple[int, int]]:
        """Returns the changes since the last call, each as the new and the former window."""
        found, self._changes = self._changes, []
        return found

    def follow(self, listener: Callable[[Front], None]) -> None:
        """Sets the listener, which receives the window in front and later changes of window or title."""
        self._listener = listener

    def told(self, front: Front) -> None:
        """Records a report."""
        if front.window != self._window:
            self._changes.append((front.window, self._window))
            del self._changes[:-MAX_CHANGES]
            self._window = front.window
        self.news = front

    def notify(self) -> None:
        """Notifies the listener, after the readers of `changes`."""
        front, self.news = self.news, None
        if self._listener is not None and front is not None:
            self._listener(front)

"""Which window is in front, as the process that watches the session tells it."""

from __future__ import annotations

from collections.abc import Callable
from typing import Final

from nub_shift.model.profile.comes_on import Front

# Nobody may take them.
MAX_CHANGES: Final = 16


class FrontWindow:
    """Notes which window comes to the front. Where nobody tells, nothing comes.

    Attributes:
        news: what was told last, if the listener has not been told.
    """

    def __init__(self) -> None:
        self._listener: Callable[[Front], None] | None = None
        self._window = 0
        self.news: Front | None = None
        self._changes: list[tuple[int, int]] = []

    def changes(self) -> list[tuple[int, int]]:
        """The windows that came to the front since the last call, each with the one that was there before."""
        found, self._changes = self._changes, []
        return found

    def follow(self, listener: Callable[[Front], None]) -> None:
        """From now on `listener` gets what is known of the window in front, and again when its title is another."""
        self._listener = listener

    def told(self, front: Front) -> None:
        """Takes the window in front."""
        if front.window != self._window:
            self._changes.append((front.window, self._window))
            del self._changes[:-MAX_CHANGES]
            self._window = front.window
        self.news = front

    def tell(self) -> None:
        """Has the listener told, after whoever asks for `changes` has heard of them."""
        front, self.news = self.news, None
        if self._listener is not None and front is not None:
            self._listener(front)

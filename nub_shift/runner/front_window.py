"""Which window is in front, as the session's X server or a client tells it, without holding play up."""

from __future__ import annotations

import os
from collections.abc import Callable
from functools import partial
from typing import TYPE_CHECKING, Final

from nub_shift.model.comes_on import Front
from nub_shift.runner.beside import Beside
from nub_shift.runner.watch import Watch

if TYPE_CHECKING:
    from nub_shift.front.x11 import X11Windows


# Nobody may ask for them.
MAX_CHANGES: Final = 16


class FrontWindow:
    """Notes which window comes to the front. It connects when first asked; where nothing tells, nothing comes.

    Attributes:
        news: what a client said last, if the listener has not been told.
    """

    def __init__(self, watch: Watch, beside: Beside, by_client: bool = False) -> None:
        """Of windows that a client tells `by_client` the X server is not asked."""
        self._watch = watch
        self._beside = beside
        self._events: X11Windows | None = None
        self._asker: X11Windows | None = None  # all that takes more than one answer is asked beside play, through this
        self._asking = self._again = False
        self._listener: Callable[[Front], None] | None = None
        self._fd = -1
        self._tried = by_client
        self._window = 0
        self.news: Front | None = None
        self._changes: list[tuple[int, int]] = []

    def changes(self) -> list[tuple[int, int]]:
        """The windows that came to the front since the last call, each with the one that was there before."""
        self._connect()
        found, self._changes = self._changes, []
        return found

    def follow(self, listener: Callable[[Front], None]) -> None:
        """From now on `listener` gets what is known of the window in front, and again when its title is another."""
        self._listener = listener
        self._connect()

    def told(self, front: Front) -> None:
        """A client says which window is in front."""
        if front.window != self._window:
            self._changes.append((front.window, self._window))
            del self._changes[:-MAX_CHANGES]
            self._window = front.window
        self.news = front

    def tell(self) -> None:
        """Has the listener told what a client said, after whoever asks for `changes` has heard of them."""
        front, self.news = self.news, None
        if self._listener is not None and front is not None:
            self._listener(front)

    def close(self) -> None:
        """Hangs up."""
        if self._events is not None:
            self._watch.forget(self._fd)
            self._events.close()
            self._events = None
        if self._asker is not None and not self._asking:
            self._asker.close()

    def _connect(self) -> None:
        if not self._tried:
            self._tried = True
            if os.environ.get("DISPLAY"):
                self._beside.run(_connected, self._on_connected)

    def _on_connected(self, connections: tuple[X11Windows, X11Windows] | None) -> None:
        if connections is None:
            return
        self._events, self._asker = connections
        try:
            self._events.follow()
            self._window = self._events.in_front()
        except OSError:
            self.close()
            return
        self._fd = self._events.fileno()
        self._watch.read(self._fd, self._on_events)
        self._on_events()
        self._ask()

    def _on_events(self) -> None:
        if self._events is None:
            return
        try:
            # What comes while we ask waits in the library, and wakes nobody.
            while self._events.came():
                window = self._events.in_front()
                if window != self._window:
                    self._changes.append((window, self._window))
                    self._window = window
                self._ask()
        except OSError:
            self.close()  # the server has gone

    def _ask(self) -> None:
        """Has the listener told of the window in front; what comes meanwhile is asked for afterwards."""
        if self._listener is None or self._asker is None:
            return
        if self._asking:
            self._again = True
            return
        self._asking, self._again = True, False
        self._beside.run(partial(_look, self._asker, self._window), self._on_look)

    def _on_look(self, front: Front | None) -> None:
        self._asking = False
        if front is None or self._events is None:
            return
        if self._again:
            self._ask()
        elif self._listener is not None:
            self._listener(front)


def _connected() -> tuple[X11Windows, X11Windows] | None:
    """Two connections to the session's X server, or None."""
    from nub_shift.front.x11 import X11Windows

    events = X11Windows.connect()
    asker = X11Windows.connect() if events is not None else None
    return (events, asker) if events is not None and asker is not None else None


def _look(asker: X11Windows, window: int) -> Front | None:
    try:
        return asker.look(window)
    except OSError:
        return None

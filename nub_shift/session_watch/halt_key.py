"""Watch of the keyboard's halt key, whatever window is in front, without a grab."""

from __future__ import annotations

import asyncio
import os
from collections.abc import Callable
from contextlib import suppress
from typing import TYPE_CHECKING

from nub_shift.front.raw_input import RAW_KEY_PRESS, key_pressed, listen
from nub_shift.keyboard.keys import KEY_BY_CODE, KEYCODE_OFFSET
from nub_shift.model.halting import HALT_KEY
from nub_shift.session_watch.retry import Retry

if TYPE_CHECKING:
    from Xlib.display import Display

_KEYCODE = KEY_BY_CODE[HALT_KEY].number + KEYCODE_OFFSET


class HaltKey:
    """Watches all keyboards of an X server; after its end, those of the next one."""

    def __init__(
        self, loop: asyncio.AbstractEventLoop, pressed: Callable[[], None], on_key: Callable[[str], None]
    ) -> None:
        """`on_key` receives the key while watched, and an empty text afterwards."""
        self._loop = loop
        self._pressed = pressed
        self._heard = on_key
        self._again = Retry(loop, self._connect)
        self._connection: Display | None = None
        self._fd = -1  # the library does not return the number once the server has gone

    def begin(self) -> None:
        """Begins to watch, in a session with an X server."""
        if os.environ.get("DISPLAY"):
            self._again.begin()

    def end(self) -> None:
        """Ends the watch."""
        self._again.end()
        connection, self._connection = self._connection, None
        if connection is not None:
            from Xlib import error

            self._loop.remove_reader(self._fd)
            with suppress(error.ConnectionClosedError, OSError):  # the server has gone
                connection.close()

    def _connect(self) -> bool:
        """Connects; returns whether no retry is needed."""
        from Xlib import display, error

        try:
            connection = display.Display()
            if not listen(connection, RAW_KEY_PRESS):
                connection.close()
                return True
        except (error.DisplayError, error.ConnectionClosedError, OSError):
            return False
        self._connection, self._fd = connection, int(connection.fileno())
        self._loop.add_reader(self._fd, self._on_news)
        self._heard(KEY_BY_CODE[HALT_KEY].label)
        return True

    def _on_news(self) -> None:
        from Xlib import error

        connection = self._connection
        if connection is None:
            return
        presses = 0
        try:
            while connection.pending_events():
                presses += key_pressed(connection.next_event()) == _KEYCODE
        except (error.ConnectionClosedError, OSError):
            self.end()
            self._heard("")
            self._again.begin(at_once=False)
        for _ in range(presses):
            self._pressed()

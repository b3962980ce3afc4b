"""The key of the keyboard that stops everything, heard whatever window is in front; nothing is grabbed for it."""

from __future__ import annotations

import os
from collections.abc import Callable
from typing import TYPE_CHECKING

from PyQt6.QtCore import QObject

from nub_shift.front.raw_input import RAW_KEY_PRESS, key_pressed, listen
from nub_shift.keyboard.keys import KEY_BY_CODE, KEYCODE_OFFSET
from nub_shift.model.halting import HALT_KEY
from nub_shift.ui.listening import Listening

if TYPE_CHECKING:
    from Xlib.display import Display

_KEYCODE = KEY_BY_CODE[HALT_KEY].number + KEYCODE_OFFSET


class HaltKey(QObject):
    """Listens to all keyboards of an X server."""

    def __init__(self, pressed: Callable[[], None], heard: Callable[[str], None]) -> None:
        """`heard` is told which key it is, once that is listened for."""
        super().__init__()
        self._pressed = pressed
        self._heard = heard
        self._listening: Listening[Display] = Listening(self)
        self._listening.news.connect(self._on_news)

    def begin(self) -> None:
        """Listens, where there is a server to listen to."""
        if not os.environ.get("DISPLAY"):
            return
        from Xlib import display, error

        try:
            connection = display.Display()
            if listen(connection, RAW_KEY_PRESS):
                self._listening.begin(connection)
                self._heard(KEY_BY_CODE[HALT_KEY].label)
            else:
                connection.close()
        except (error.DisplayError, error.ConnectionClosedError, OSError):
            pass  # nobody tells

    def end(self) -> None:
        """Listens no more."""
        self._listening.end()

    def _on_news(self) -> None:
        from Xlib import error

        connection = self._listening.connection
        if connection is None:
            return
        presses = 0
        try:
            while connection.pending_events():
                presses += key_pressed(connection.next_event()) == _KEYCODE
        except (error.ConnectionClosedError, OSError):
            self.end()
        for _ in range(presses):
            self._pressed()

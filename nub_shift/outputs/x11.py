"""Outputs as synthetic input of an X11 server, through XTEST. Needs no device permissions.

The server keeps synthetic keys down when their client dies, so a watcher process (see `x11_watcher`) keeps the list of
pressed keys and releases them if this process dies or hangs.
"""

from __future__ import annotations

import select
from threading import Thread
from typing import Any, Final, assert_never

from Xlib import X, display, error
from Xlib.ext import xtest
from Xlib.protocol import request

from nub_shift.engine.values import Key, Output, Place, PlaceBack, Pointer, ProfileRequest, Wheel
from nub_shift.keyboard.keys import KEY_BY_CODE, KEYCODE_OFFSET
from nub_shift.model.messages import Code
from nub_shift.outputs.output import DownKeys, OutputError, WheelClicks
from nub_shift.outputs.watcher import BUTTON, DOWN, HANGS_S, Watcher

_BUTTONS = {"BTN_LEFT": 1, "BTN_MIDDLE": 2, "BTN_RIGHT": 3, "BTN_SIDE": 8, "BTN_EXTRA": 9}
_WHEEL_BUTTONS = {(1, 1): 4, (1, -1): 5, (0, -1): 6, (0, 1): 7}  # (axis, sign) to X button

# Timeout for the connection to a server.
ANSWERS_S: Final = 3.0

Fake = tuple[bool, int]


def fake_of(code: str) -> Fake:
    """Returns the XTEST form of a key or mouse button: whether it is a button, and its number."""
    if code in _BUTTONS:
        return True, _BUTTONS[code]
    return False, KEY_BY_CODE[code].number + KEYCODE_OFFSET


class X11Output:
    """Synthetic keys and pointer motion.

    Raises:
        OutputError: no X server answers, it lacks XTEST, or the watcher does not start.
    """

    def __init__(self, display_name: str | None = None) -> None:
        name = [display_name] if display_name is not None else []
        self._watcher = Watcher("nub_shift.outputs.x11_watcher", *name)
        try:
            self._display = _connect(display_name)
        except BaseException:
            self._watcher.close()
            raise
        try:
            self._watcher.await_ready()
        except BaseException:
            self._display.close()
            raise
        self._fd = int(self._display.fileno())
        self._down = DownKeys()
        self._clicks = WheelClicks()
        self._released: dict[Fake, None] = {}  # keys released at any time
        self._was_at: Any = None  # pending reply with the pointer's former position
        self._closed = False

    def send(self, outputs: list[Output]) -> None:
        """Sends one step's outputs and flushes them. The watcher is notified before each press and after each
        release.
        """
        if not self._closed:
            self._watcher.check()
        self._down.note(outputs)
        try:
            for output in outputs:
                match output:
                    case Key(_, code, down):
                        self._key(fake_of(code), down)
                    case Pointer(_, dx, dy):
                        xtest.fake_input(self._display, X.MotionNotify, True, x=dx, y=dy)
                    case Wheel(_, x, y):
                        self._wheel(0, x)
                        self._wheel(1, y)
                    case Place(_, left, top):
                        self._place(left, top)
                    case PlaceBack():
                        self._place_back()
                    case ProfileRequest():
                        pass  # handled by the runner
                    case _:
                        assert_never(output)
            self._flush()
        except (error.ConnectionClosedError, OSError):
            raise OutputError(Code.X_SERVER_GONE) from None

    @property
    def holds(self) -> bool:
        """Whether any key is down."""
        return bool(self._down)

    def beat(self) -> None:
        """Sends the watcher a heartbeat."""
        self._watcher.beat()

    def fileno(self) -> int:
        """Returns the descriptor of the connection to the server."""
        return self._fd

    def check(self) -> None:
        """Reads the server's messages.

        Raises:
            OutputError: the server has gone.
        """
        try:
            while self._display.pending_events():
                self._display.next_event()
        except (error.ConnectionClosedError, OSError):
            raise OutputError(Code.X_SERVER_GONE) from None

    def close(self) -> None:
        """Releases all keys that are down, waits for the server, and ends the watcher.

        A hanging server is not awaited: the watcher releases the keys when the server continues.
        """
        if self._closed:
            return
        self._closed = True
        taken = False
        try:
            self.send(self._down.releases())
            # The library waits for a reply without a timeout.
            waiting = Thread(target=self._display.sync, daemon=True)
            waiting.start()
            waiting.join(HANGS_S)
            taken = not waiting.is_alive()
            if taken:
                self._display.close()
        except (OutputError, error.ConnectionClosedError, OSError):
            pass  # the server has gone, and with it the pressed keys
        finally:
            if not taken:  # a server that continues after this client's end drops its unread requests
                for fake in self._released:
                    self._notify(fake, DOWN)
            self._watcher.close(spares=not taken)

    def _key(self, fake: Fake, down: bool) -> None:
        is_button, number = fake
        if down:
            self._notify(fake, DOWN)  # before the press is sent
            xtest.fake_input(self._display, X.ButtonPress if is_button else X.KeyPress, number)
        else:
            xtest.fake_input(self._display, X.ButtonRelease if is_button else X.KeyRelease, number)
            self._flush()
            self._notify(fake, 0)  # after the release was sent
            self._released[fake] = None

    def _place(self, left: float, top: float) -> None:
        """Places the pointer. The server's reply with the former position is read later."""
        screen = self._display.screen()
        self._was_at = request.QueryPointer(display=self._display.display, defer=1, window=screen.root.id)
        x, y = round(left * (screen.width_in_pixels - 1)), round(top * (screen.height_in_pixels - 1))
        xtest.fake_input(self._display, X.MotionNotify, False, root=screen.root, x=x, y=y)

    def _place_back(self) -> None:
        """Moves the pointer back to its former position, if the server has replied with it."""
        was_at, self._was_at = self._was_at, None
        if was_at is None:
            return
        self._display.pending_events()  # reads what the server has sent, replies included
        answer = was_at._data
        if answer:
            root = self._display.screen().root
            xtest.fake_input(self._display, X.MotionNotify, False, root=root, x=answer["root_x"], y=answer["root_y"])

    def _notify(self, fake: Fake, flags: int) -> None:
        is_button, number = fake
        self._watcher.notify(flags | (BUTTON if is_button else 0), number)

    def _flush(self) -> None:
        """Sends the written requests; a server that reads nothing must not block the runner."""
        if not select.select((), (self._fd,), (), 0.0)[1]:
            raise OutputError(Code.X_SERVER_HANGS)
        self._display.flush()

    def _wheel(self, axis: int, amount: int) -> None:
        clicks = self._clicks.take(axis, amount)
        for _ in range(abs(clicks)):
            button = _WHEEL_BUTTONS[axis, 1 if clicks > 0 else -1]
            xtest.fake_input(self._display, X.ButtonPress, button)
            xtest.fake_input(self._display, X.ButtonRelease, button)


def _connect(display_name: str | None) -> Any:
    """Connects in a thread, since the library waits for a hanging server without a timeout."""
    came: list[Any] = []

    def connect() -> None:
        try:
            came.append(display.Display(display_name))
        except (error.DisplayError, error.ConnectionClosedError, OSError) as problem:
            came.append(problem)

    connecting = Thread(target=connect, daemon=True)
    connecting.start()
    connecting.join(ANSWERS_S)
    if not came:
        raise OutputError(Code.X_SERVER_HANGS)
    found = came[0]
    if isinstance(found, Exception):
        raise OutputError(Code.NO_X_SERVER, why=str(found)) from None
    if not found.has_extension("XTEST"):
        found.close()
        raise OutputError(Code.NO_XTEST)
    return found

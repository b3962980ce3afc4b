"""A real X server without a screen, and a real window on it."""

from __future__ import annotations

import os
import select
import subprocess
import time
from collections.abc import Callable, Iterator
from contextlib import contextmanager

from Xlib import X, display

LIMIT_S = 20.0


def xvfb() -> Iterator[str]:
    """The name of the display of an Xvfb of our own."""
    with x_process() as (name, _):
        yield name


@contextmanager
def x_process(name: str = "") -> Iterator[tuple[str, subprocess.Popen[bytes]]]:
    """The same, and its process; of that name, if one is given."""
    read_end, write_end = os.pipe()
    command = [
        "Xvfb",
        *([name] if name else []),
        "-displayfd",
        str(write_end),
        "-screen",
        "0",
        "800x600x24",
        "-nolisten",
        "tcp",
    ]
    command.append("-noreset")  # it would drop whoever connects just when the last client has left
    server = subprocess.Popen(command, pass_fds=[write_end], stderr=subprocess.DEVNULL)
    os.close(write_end)
    try:
        assert select.select([read_end], [], [], LIMIT_S)[0], "Xvfb did not start"
        yield ":" + os.read(read_end, 16).decode().strip(), server
    finally:
        os.close(read_end)
        server.terminate()
        server.wait(LIMIT_S)


@contextmanager
def window_manager(name: str) -> Iterator[None]:
    """A window manager that is at work: a window that is mapped before is managed, but gets no focus."""
    server = display.Display(name)
    selection = server.intern_atom("WM_S0")  # held by the one at work (ICCCM, 4.3)

    def works() -> bool:
        return bool(server.get_selection_owner(selection))

    command = ["openbox", "--sm-disable"]
    with subprocess.Popen(command, env={**os.environ, "DISPLAY": name}, stderr=subprocess.DEVNULL) as manager:
        try:
            _await(works)
            yield
        finally:
            manager.terminate()
            manager.wait(LIMIT_S)
    _await(lambda: not works())
    server.close()


def _await(wanted: Callable[[], bool]) -> None:
    end = time.monotonic() + LIMIT_S
    while not wanted():
        assert time.monotonic() < end, "not so in time"
        time.sleep(0.005)


class XWindow:
    """A window that has the focus and notes what is typed and clicked into it."""

    def __init__(self, name: str) -> None:
        self.display = display.Display(name)
        root = self.display.screen().root
        mask = X.KeyPressMask | X.KeyReleaseMask | X.ButtonPressMask | X.ButtonReleaseMask | X.StructureNotifyMask
        self.window = root.create_window(0, 0, 800, 600, 0, X.CopyFromParent, event_mask=mask, override_redirect=True)
        self.window.map()
        while self.display.next_event().type != X.MapNotify:
            pass
        self.window.set_input_focus(X.RevertToParent, X.CurrentTime)
        self.display.sync()
        self.seen: list[tuple[int, int]] = []

    def wait(self, *wanted: tuple[int, int]) -> None:
        """Waits until these events (type, key code or button) have come, in this order."""
        end = time.monotonic() + LIMIT_S
        while not self._has(wanted):
            left = end - time.monotonic()
            assert left > 0, f"waited for {wanted}, saw {self.seen}"
            if not self.display.pending_events():
                select.select([self.display.fileno()], [], [], left)
            for _ in range(self.display.pending_events()):
                event = self.display.next_event()
                if event.type in (X.KeyPress, X.KeyRelease, X.ButtonPress, X.ButtonRelease):
                    self.seen.append((event.type, event.detail))

    def text(self, presses: int) -> str:
        """What that many presses of keys have typed, by the server's own keymap."""
        letters = ""
        while presses:
            event = self.display.next_event()
            if event.type == X.MappingNotify:
                self.display.refresh_keyboard_mapping(event)
            if event.type == X.KeyPress:
                presses -= 1
                level = bool(event.state & X.ShiftMask) + 4 * bool(event.state & X.Mod5Mask)
                letters += self.display.lookup_string(self.display.keycode_to_keysym(event.detail, level)) or ""
        return letters

    def pointer(self) -> tuple[int, int]:
        """Where the pointer is."""
        found = self.window.query_pointer()
        return found.root_x, found.root_y

    def keys_down(self) -> list[int]:
        """Key codes that the server holds to be down."""
        return [
            8 * i + bit for i, byte in enumerate(self.display.query_keymap()) for bit in range(8) if byte >> bit & 1
        ]

    def buttons_down(self) -> bool:
        """Whether the server holds any mouse button to be down."""
        return bool(self.window.query_pointer().mask & (X.Button1Mask | X.Button2Mask | X.Button3Mask))

    def until(self, wanted: Callable[[], bool], limit_s: float = LIMIT_S) -> None:
        """Waits until something is so."""
        end = time.monotonic() + limit_s
        while not wanted():
            assert time.monotonic() < end, f"never so; keys down: {self.keys_down()}"
            time.sleep(0.002)

    def close(self) -> None:
        self.display.close()

    def _has(self, wanted: tuple[tuple[int, int], ...]) -> bool:
        rest = iter(self.seen)
        return all(event in rest for event in wanted)

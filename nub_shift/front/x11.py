"""Windows as an X server tells of them, by the Extended Window Manager Hints."""

from __future__ import annotations

from collections.abc import Iterator
from contextlib import contextmanager
from typing import Any

from Xlib import X, Xatom, display, error, ext

from nub_shift.front.processes import program_of
from nub_shift.front.windows import is_wayland
from nub_shift.model.comes_on import Front
from nub_shift.translation import tr

_ACTIVE = "_NET_ACTIVE_WINDOW"
_LIST = "_NET_CLIENT_LIST"
_NAME = "_NET_WM_NAME"
_PID = "_NET_WM_PID"
MAX_WINDOWS = 200
# A window may say anything of itself; nobody needs more of it.
MAX_TEXT = 500


def leave_out_extensions() -> None:
    """Has the library leave out what it knows of the server's extensions, a megabyte, for a process that uses none.

    Raw keys come as generic events, which is an extension that the library has to know.
    """
    ext.__extensions__[:] = [entry for entry in ext.__extensions__ if entry[1] == "ge"]


class X11Windows:
    """A connection of its own to the session's X server.

    Every method that asks the server raises OSError once that has gone.
    """

    def __init__(self, connection: display.Display) -> None:
        self._display = connection
        self._display.set_error_handler(lambda *_: None)  # of a window that has gone meanwhile
        self._root = connection.screen().root
        self._active, self._list, self._name, self._pid = map(connection.intern_atom, (_ACTIVE, _LIST, _NAME, _PID))
        self._titled = 0  # the window whose title is watched

    @classmethod
    def connect(cls) -> X11Windows | None:
        """A connection, if a server answers."""
        try:
            return cls(display.Display())
        except (error.DisplayError, error.ConnectionClosedError, OSError):
            return None

    @property
    def tells_all(self) -> bool:
        """Whether it knows of all windows of the session: the one in a Wayland session knows its own."""
        return not is_wayland()

    def close(self) -> None:
        """Hangs up."""
        self._display.close()

    def fileno(self) -> int:
        """The descriptor that becomes readable with news."""
        return int(self._display.fileno())

    def follow(self) -> None:
        """From now on the server tells which window comes to the front."""
        with _gone_as_oserror():
            self._root.change_attributes(event_mask=X.PropertyChangeMask)
            self._display.flush()

    def came(self) -> bool:
        """Whether another window may be in front, or the one that is has another title, since the last call."""
        found = False
        with _gone_as_oserror():
            while self._display.pending_events():
                event = self._display.next_event()
                if event.type == X.PropertyNotify:
                    found = found or event.atom in (self._active, self._name, Xatom.WM_NAME)
        return found

    def in_front(self) -> int:
        """The number of the window in front; 0 if there is none. Its title is watched from then on."""
        with _gone_as_oserror():
            found = self._root.get_full_property(self._active, X.AnyPropertyType)
            window = int(found.value[0]) if found is not None and len(found.value) else 0
            if window != self._titled:
                self._titled = window
                if window:
                    self._window(window).change_attributes(event_mask=X.PropertyChangeMask)
                    self._display.flush()
            return window

    def look(self, window: int) -> Front:
        """All that is told of a window; nothing but its number if it has gone."""
        if not window:
            return Front()
        with _gone_as_oserror():
            shown = self._window(window)
            try:
                called = shown.get_wm_class() or ()
                title = self._text(shown, self._name) or self._text(shown, Xatom.WM_NAME)
                found = shown.get_full_property(self._pid, Xatom.CARDINAL)
            except error.XError:
                return Front(window)
            names = tuple(dict.fromkeys(str(name)[:MAX_TEXT] for name in reversed(called) if name))
            pid = int(found.value[0]) if found is not None and len(found.value) else 0
            programs, path, arguments = program_of(pid) if pid else ((), "", ())
            return Front(window, names, title, programs, path, arguments)

    def all(self) -> list[Front]:
        """The windows that the window manager knows, the newest last."""
        with _gone_as_oserror():
            found = self._root.get_full_property(self._list, Xatom.WINDOW)
            windows = [int(window) for window in found.value[:MAX_WINDOWS]] if found is not None else []
            return [self.look(window) for window in windows]

    def composes(self) -> bool:
        """Whether a compositing manager is there, so that a window can let others shine through."""
        with _gone_as_oserror():
            return bool(self._display.get_selection_owner(self._display.intern_atom("_NET_WM_CM_S0")))

    def _window(self, window: int) -> Any:
        return self._display.create_resource_object("window", window)

    def _text(self, window: Any, name: int) -> str:
        found = window.get_property(name, X.AnyPropertyType, 0, MAX_TEXT // 4)
        value = found.value if found is not None else b""
        return (value.decode(errors="replace") if isinstance(value, bytes) else str(value))[:MAX_TEXT]


@contextmanager
def _gone_as_oserror() -> Iterator[None]:
    """The library has an error of its own for a server that has gone."""
    try:
        yield
    except error.ConnectionClosedError:
        raise OSError(tr("the X server has gone")) from None

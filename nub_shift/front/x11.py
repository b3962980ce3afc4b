"""Windows reported by an X server, by the Extended Window Manager Hints."""

from __future__ import annotations

from collections.abc import Iterator
from contextlib import contextmanager, suppress
from enum import Enum
from typing import Any

from Xlib import X, Xatom, display, error, ext

from nub_shift.front.processes import program_of
from nub_shift.front.windows import is_wayland
from nub_shift.model.profile.activation import MAX_TEXT, Front
from nub_shift.translation import tr

_ACTIVE = "_NET_ACTIVE_WINDOW"
_LIST = "_NET_CLIENT_LIST"
_NAME = "_NET_WM_NAME"
_PID = "_NET_WM_PID"
MAX_WINDOWS = 200


# Properties that are read of the window in front.
_OF_FRONT = X.PropertyChangeMask | X.StructureNotifyMask | X.FocusChangeMask


class _Grab(Enum):
    """Kind of a keyboard grab that takes the keys from the window in front."""

    NONE = "none"
    SHORTCUT = "shortcut"  # on the root window: a shortcut of the desktop, or a screen locker
    WINDOW = "window"  # on a window of the grabbing program


def leave_out_extensions() -> None:
    """Removes the library's support of unused server extensions, which takes a megabyte.

    Raw keys are generic events, whose extension stays.
    """
    ext.__extensions__[:] = [entry for entry in ext.__extensions__ if entry[1] == "ge"]


class X11Windows:
    """A connection to the session's X server.

    Every method that queries the server raises OSError once it has gone.
    """

    def __init__(self, connection: display.Display) -> None:
        self._display = connection
        self._fd = int(connection.fileno())  # the library does not return the number once the server has gone
        self._display.set_error_handler(lambda *_: None)  # errors about windows closed meanwhile
        self._root = connection.screen().root
        self._active, self._list, self._name, self._pid = map(connection.intern_atom, (_ACTIVE, _LIST, _NAME, _PID))
        self.gone: set[int] = set()
        self._watched = 0  # window whose title, end and focus are watched
        self._listed: frozenset[int] = frozenset()  # windows in the window manager's list
        self._grab = _Grab.NONE

    @classmethod
    def connect(cls) -> X11Windows | None:
        """Connects; None if no server answers."""
        try:
            return cls(display.Display())
        except (error.DisplayError, error.ConnectionClosedError, OSError):
            return None

    @property
    def reports_all(self) -> bool:
        """Whether the server reports all windows: in a Wayland session, only its own."""
        return not is_wayland()

    def close(self) -> None:
        """Closes the connection."""
        with suppress(error.ConnectionClosedError, OSError):  # the server has gone
            self._display.close()

    def fileno(self) -> int:
        """Returns the descriptor that becomes readable with events."""
        return self._fd

    def follow(self) -> None:
        """Subscribes to changes of the window in front."""
        with _gone_as_oserror():
            self._root.change_attributes(event_mask=X.PropertyChangeMask)
            self._display.flush()
            self._note_listed()

    def came(self) -> bool:
        """Returns whether the window in front, its title or the keyboard may have changed since the last call."""
        found = False
        with _gone_as_oserror():
            while self._display.pending_events():
                event = self._display.next_event()
                match event.type:
                    case X.PropertyNotify if event.atom == self._list:
                        self._note_listed()
                    case X.PropertyNotify:
                        found = found or event.atom in (self._active, self._name, Xatom.WM_NAME)
                    case X.DestroyNotify:
                        self._forget(event.window.id)
                        found = True
                    case X.FocusIn | X.FocusOut if event.window.id == self._watched:
                        self._note_focus(event)
                        found = True
        return found

    def _note_listed(self) -> None:
        """Notes windows that the window manager no longer lists as closed."""
        found = self._root.get_full_property(self._list, Xatom.WINDOW)
        listed = frozenset(map(int, found.value)) if found is not None else frozenset()
        for window in self._listed - listed:
            self._forget(window)
        self._listed = listed

    def _forget(self, window: int) -> None:
        self.gone.add(window)
        if window == self._watched:
            self._watched = 0
            self._grab = _Grab.NONE

    def _note_focus(self, event: Any) -> None:
        """Handles a change of focus. A program's own grab returns the keyboard at once."""
        if event.mode == X.NotifyGrab and event.type == X.FocusOut:
            self._grab = _Grab.SHORTCUT if event.detail == X.NotifyAncestor else _Grab.WINDOW
        elif event.mode in (X.NotifyGrab, X.NotifyUngrab):
            self._grab = _Grab.NONE

    def keyboard_taken(self) -> bool | None:
        """Returns whether another client has the keyboard, by a grab or the focus; None if that may pass in a moment.

        A grab on the root window may be a shortcut of the desktop, and a window manager changes focus and active window
        one after the other.
        """
        if self._grab is _Grab.WINDOW:
            return True
        return None if self._grab is _Grab.SHORTCUT or self._focus_is_elsewhere() else False

    def _focus_is_elsewhere(self) -> bool:
        """Returns whether a window of another top-level window than the one in front has the focus."""
        if not self._watched:
            return False
        with _gone_as_oserror():
            focus = self._display.get_input_focus().focus
            if isinstance(focus, int) or focus.id == self._root.id:  # no focus, or the window below the pointer
                return False
            try:
                return self._top_level(focus) != self._top_level(self._window(self._watched))
            except error.XError:
                return False  # closed meanwhile; the next event tells more

    def _top_level(self, window: Any) -> int:
        """Returns the child of the root window that contains a window: its frame, if the window manager has one."""
        while (parent := window.query_tree().parent) is not None and parent.id != self._root.id:
            window = parent
        return int(window.id)

    def in_front(self) -> int:
        """Returns the number of the window in front; 0 without one. Its title, end and focus are watched from then
        on.
        """
        with _gone_as_oserror():
            found = self._root.get_full_property(self._active, X.AnyPropertyType)
            window = int(found.value[0]) if found is not None and len(found.value) else 0
            if window != self._watched:
                self._watched = window
                self._grab = _Grab.NONE
            if window:  # each time, since a new window may have the same number
                self._window(window).change_attributes(event_mask=_OF_FRONT)
                self._display.flush()
            return window

    def look(self, window: int) -> Front:
        """Returns everything known of a window; only its number if it has gone."""
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
            return Front(window, names, title, programs, path, arguments, pid)

    def all(self) -> list[Front]:
        """Returns the windows that the window manager lists, the newest last."""
        with _gone_as_oserror():
            found = self._root.get_full_property(self._list, Xatom.WINDOW)
            windows = [int(window) for window in found.value[:MAX_WINDOWS]] if found is not None else []
            return [self.look(window) for window in windows]

    def place(self, window: int) -> tuple[int, int, int, int] | None:
        """Returns a window's place on the root window, in pixels: left, top, width and height; None if it has gone."""
        with _gone_as_oserror():
            shown = self._window(window)
            try:
                size = shown.get_geometry()
                at = shown.translate_coords(self._root, 0, 0)
            except error.XError:
                return None
            return -int(at.x), -int(at.y), int(size.width), int(size.height)

    def has_compositor(self) -> bool:
        """Returns whether a compositing manager runs, so that windows can be translucent."""
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
    """Converts the library's own error for a lost server into an OSError."""
    try:
        yield
    except error.ConnectionClosedError:
        raise OSError(tr("the X server is gone")) from None

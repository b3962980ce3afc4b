"""Windows as an X server tells of them, by the Extended Window Manager Hints."""

from __future__ import annotations

from collections.abc import Iterator
from contextlib import contextmanager, suppress
from enum import Enum
from typing import Any

from Xlib import X, Xatom, display, error, ext

from nub_shift.front.processes import program_of
from nub_shift.front.windows import is_wayland
from nub_shift.model.profile.comes_on import MAX_TEXT, Front
from nub_shift.translation import tr

_ACTIVE = "_NET_ACTIVE_WINDOW"
_LIST = "_NET_CLIENT_LIST"
_NAME = "_NET_WM_NAME"
_PID = "_NET_WM_PID"
MAX_WINDOWS = 200


# Properties that are read of the window in front.
_OF_FRONT = X.PropertyChangeMask | X.StructureNotifyMask | X.FocusChangeMask


class _Grab(Enum):
    """Holder of a keyboard grab that takes the keys from the window in front."""

    NONE = "none"
    SHORTCUT = "shortcut"  # by way of the root window: a shortcut of the desktop's, or a screen locker
    WINDOW = "window"  # with a window of its own


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
        self._fd = int(connection.fileno())  # the library tells it no more once the server has gone
        self._display.set_error_handler(lambda *_: None)  # of a window that has gone meanwhile
        self._root = connection.screen().root
        self._active, self._list, self._name, self._pid = map(connection.intern_atom, (_ACTIVE, _LIST, _NAME, _PID))
        self.gone: set[int] = set()
        self._watched = 0  # the window whose title, end and focus are told
        self._listed: frozenset[int] = frozenset()  # by the window manager
        self._grab = _Grab.NONE

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
        with suppress(error.ConnectionClosedError, OSError):  # the server has gone
            self._display.close()

    def fileno(self) -> int:
        """The descriptor that becomes readable with news."""
        return self._fd

    def follow(self) -> None:
        """From now on the server tells which window comes to the front."""
        with _gone_as_oserror():
            self._root.change_attributes(event_mask=X.PropertyChangeMask)
            self._display.flush()
            self._note_listed()

    def came(self) -> bool:
        """Whether another window may be in front, the one that is has another title, or the keyboard moved, since."""
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
        """A window that the window manager lists no more has gone."""
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
        """A grab takes the keyboard from the window; one by the program itself gives it back in the same moment."""
        if event.mode == X.NotifyGrab and event.type == X.FocusOut:
            self._grab = _Grab.SHORTCUT if event.detail == X.NotifyAncestor else _Grab.WINDOW
        elif event.mode in (X.NotifyGrab, X.NotifyUngrab):
            self._grab = _Grab.NONE

    def keyboard_taken(self) -> bool | None:
        """Whether another client has the keyboard, by a grab or the focus; None if that may be over in a moment.

        A grab by way of the root window may be a shortcut of the desktop's, and a window manager moves the focus and
        what it calls the active window one after the other.
        """
        if self._grab is _Grab.WINDOW:
            return True
        return None if self._grab is _Grab.SHORTCUT or self._focus_is_elsewhere() else False

    def _focus_is_elsewhere(self) -> bool:
        """Whether a window has the focus that belongs to another top-level window than the one in front."""
        if not self._watched:
            return False
        with _gone_as_oserror():
            focus = self._display.get_input_focus().focus
            if isinstance(focus, int) or focus.id == self._root.id:  # none, or what is below the pointer
                return False
            try:
                return self._top_level(focus) != self._top_level(self._window(self._watched))
            except error.XError:
                return False  # it has gone meanwhile, and the next event tells more

    def _top_level(self, window: Any) -> int:
        """The child of the root window that a window is, or is within: its frame, if the window manager has one."""
        while (parent := window.query_tree().parent) is not None and parent.id != self._root.id:
            window = parent
        return int(window.id)

    def in_front(self) -> int:
        """The number of the window in front; 0 if there is none. Its title, end and focus are told from then on."""
        with _gone_as_oserror():
            found = self._root.get_full_property(self._active, X.AnyPropertyType)
            window = int(found.value[0]) if found is not None and len(found.value) else 0
            if window != self._watched:
                self._watched = window
                self._grab = _Grab.NONE
            if window:  # each time: one that was not there yet may have come by this number
                self._window(window).change_attributes(event_mask=_OF_FRONT)
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
            return Front(window, names, title, programs, path, arguments, pid)

    def all(self) -> list[Front]:
        """The windows that the window manager knows, the newest last."""
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
        raise OSError(tr("the X server is gone")) from None

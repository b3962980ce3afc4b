"""Keys pressed in the window, as kernel names."""

from __future__ import annotations

from collections.abc import Callable

from PyQt6.QtCore import QEvent, QObject, Qt, pyqtSignal
from PyQt6.QtGui import QKeyEvent
from PyQt6.QtWidgets import QWidget

from nub_shift.keyboard.keys import CODE_BY_NUMBER, KEY_BY_CODE, KEYCODE_OFFSET
from nub_shift.translation import tr

_K = Qt.Key
# Keys of platforms without scan codes (offscreen), and of synthetic events.
_NAMED = {
    _K.Key_Escape: "KEY_ESC",
    _K.Key_Tab: "KEY_TAB",
    _K.Key_Backtab: "KEY_TAB",
    _K.Key_Backspace: "KEY_BACKSPACE",
    _K.Key_Return: "KEY_ENTER",
    _K.Key_Enter: "KEY_KPENTER",
    _K.Key_Insert: "KEY_INSERT",
    _K.Key_Delete: "KEY_DELETE",
    _K.Key_Home: "KEY_HOME",
    _K.Key_End: "KEY_END",
    _K.Key_Left: "KEY_LEFT",
    _K.Key_Up: "KEY_UP",
    _K.Key_Right: "KEY_RIGHT",
    _K.Key_Down: "KEY_DOWN",
    _K.Key_PageUp: "KEY_PAGEUP",
    _K.Key_PageDown: "KEY_PAGEDOWN",
    _K.Key_Shift: "KEY_LEFTSHIFT",
    _K.Key_Control: "KEY_LEFTCTRL",
    _K.Key_Alt: "KEY_LEFTALT",
    _K.Key_AltGr: "KEY_RIGHTALT",
    _K.Key_Meta: "KEY_LEFTMETA",
    _K.Key_CapsLock: "KEY_CAPSLOCK",
    _K.Key_Space: "KEY_SPACE",
    _K.Key_Minus: "KEY_MINUS",
    _K.Key_Equal: "KEY_EQUAL",
    _K.Key_BracketLeft: "KEY_LEFTBRACE",
    _K.Key_BracketRight: "KEY_RIGHTBRACE",
    _K.Key_Semicolon: "KEY_SEMICOLON",
    _K.Key_Apostrophe: "KEY_APOSTROPHE",
    _K.Key_Comma: "KEY_COMMA",
    _K.Key_Period: "KEY_DOT",
    _K.Key_Slash: "KEY_SLASH",
    _K.Key_Backslash: "KEY_BACKSLASH",
    _K.Key_QuoteLeft: "KEY_GRAVE",
}


def code_of(event: QKeyEvent) -> str | None:
    """Returns the kernel name of an event's key; None for a key that no profile can name."""
    number = event.nativeScanCode() - KEYCODE_OFFSET
    if number > 0:
        return CODE_BY_NUMBER.get(number)
    key = event.key()
    if key in _NAMED:
        return _NAMED[_K(key)]
    if 0x20 < key < 0x7F:
        named = f"KEY_{chr(key)}"
        return named if named in KEY_BY_CODE else None
    if _K.Key_F1 <= key <= _K.Key_F24:
        return f"KEY_F{key - _K.Key_F1 + 1}"
    return None


class Listener:
    """Collects keys pressed together until the first release.

    Attributes:
        held: the codes so far.
    """

    def __init__(self) -> None:
        self.held: list[str] = []

    def press(self, code: str) -> None:
        """Adds a pressed key."""
        if code not in self.held:
            self.held.append(code)

    def release(self, code: str) -> tuple[str, ...] | None:
        """Processes the release of a key; returns the combination if that completes one."""
        if code not in self.held:
            return None
        found, self.held = tuple(self.held), []
        return found


# With Alt, or Ctrl and Alt, desktops use these to change windows, close them and log out.
_WITH_ALT = {"KEY_TAB", "KEY_ESC", "KEY_F4", "KEY_SPACE", "KEY_F2"}
_WITH_BOTH = {"KEY_DELETE", "KEY_BACKSPACE", "KEY_LEFT", "KEY_RIGHT", "KEY_UP", "KEY_DOWN"}


def _is_of_the_desktop(codes: tuple[str, ...]) -> bool:
    """Returns whether the window manager handles these keys too, so that pressing them cannot mean a binding."""
    held = set(codes)
    alt = bool(held & {"KEY_LEFTALT", "KEY_RIGHTALT"})
    both = alt and bool(held & {"KEY_LEFTCTRL", "KEY_RIGHTCTRL"})
    supers = bool(held & {"KEY_LEFTMETA", "KEY_RIGHTMETA"})
    return supers or (alt and bool(held & _WITH_ALT)) or (both and bool(held & _WITH_BOTH))


class KeyCatcher(QObject):
    """Takes the keys of a widget while on, including Tab; shortcuts of the window still work.

    The release of a key pressed while on does not reach the widget, even if the catcher is off by then.

    Attributes:
        held: keys held so far.

    Signals:
        stroke(str, bool): press (True) or release of a key.
        caught(tuple): keys pressed together, at the first release.
        refused(str): reason for keys of the desktop, with a remedy.
    """

    stroke = pyqtSignal(str, bool)
    caught = pyqtSignal(tuple)
    refused = pyqtSignal(str)

    def __init__(self, widget: QWidget, is_on: Callable[[], bool]) -> None:
        super().__init__(widget)
        self._is_on = is_on
        self._listener = Listener()
        self._taken: set[str] = set()
        widget.installEventFilter(self)

    @property
    def held(self) -> list[str]:
        return self._listener.held

    def forget(self) -> None:
        """Discards the keys held so far."""
        self._listener = Listener()

    def eventFilter(self, _watched: QObject | None, event: QEvent | None) -> bool:
        if not isinstance(event, QKeyEvent) or event.type() not in (QEvent.Type.KeyPress, QEvent.Type.KeyRelease):
            return False
        code = code_of(event)
        down = event.type() == QEvent.Type.KeyPress
        if not self._is_on():
            self.forget()
            mine = code in self._taken and (event.isAutoRepeat() or not down)
            if code is not None and not event.isAutoRepeat():
                self._taken.discard(code)
            return mine
        if code is None or event.isAutoRepeat():
            return True
        if down:
            self._taken.add(code)
            self._listener.press(code)
            self.stroke.emit(code, True)
            return True
        if code not in self._taken:
            return False  # pressed before, for another purpose
        self._taken.discard(code)
        found = self._listener.release(code)
        self.stroke.emit(code, False)
        if found is not None and _is_of_the_desktop(found):
            self.refused.emit(tr("Your desktop uses these keys. To assign them anyway, type their names"))
        elif found is not None:
            self.caught.emit(found)
        return True

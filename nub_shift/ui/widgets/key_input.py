"""Keys pressed in the window, as kernel names."""

from __future__ import annotations

from collections.abc import Callable

from PyQt6.QtCore import QEvent, Qt
from PyQt6.QtGui import QKeyEvent

from nub_shift.keyboard.keys import CODE_BY_NUMBER, KEY_BY_CODE

LISTEN_MS = 8_000  # whoever listens for a key stops by itself after this time
SCAN_OFFSET = 8  # X11's and Wayland's scan codes are the kernel's numbers plus eight

_K = Qt.Key
# For platforms without scan codes (offscreen), and for events that a program makes.
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
    """The kernel name of the key of an event, or None for a key that no profile can name."""
    number = event.nativeScanCode() - SCAN_OFFSET
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


def take_tab(event: QEvent | None, press: Callable[[QKeyEvent], None], release: Callable[[QKeyEvent], None]) -> bool:
    """Gives Tab to whoever listens for keys: in `QWidget.event`, where it would move the focus; whether it was one."""
    if not isinstance(event, QKeyEvent) or event.key() not in (_K.Key_Tab, _K.Key_Backtab):
        return False
    handle = {QEvent.Type.KeyPress: press, QEvent.Type.KeyRelease: release}.get(event.type())
    if handle is None:
        return False
    handle(event)
    return True


class Listener:
    """Collects keys that are pressed together and gives them out when the first of them is let go.

    Attributes:
        held: the codes so far.
    """

    def __init__(self) -> None:
        self.held: list[str] = []

    def press(self, code: str) -> None:
        """A key went down."""
        if code not in self.held:
            self.held.append(code)

    def release(self, code: str) -> tuple[str, ...] | None:
        """A key went up; returns the combination if that completes one."""
        if code not in self.held:
            return None
        found, self.held = tuple(self.held), []
        return found

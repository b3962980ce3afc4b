"""Where moves are typed: a name, Enter, then the key that the game has for it; or lines that are pasted."""

from __future__ import annotations

from PyQt6.QtCore import QEvent, Qt, QTimer, pyqtSignal
from PyQt6.QtGui import QFocusEvent, QGuiApplication, QKeyEvent, QKeySequence, QMouseEvent, QWheelEvent
from PyQt6.QtWidgets import QLineEdit, QWidget

from nub_shift.model.effects import WheelDirection
from nub_shift.ui.widgets.key_input import LISTEN_MS, Listener, code_of, take_tab

_BUTTONS = {
    Qt.MouseButton.LeftButton: "BTN_LEFT",
    Qt.MouseButton.RightButton: "BTN_RIGHT",
    Qt.MouseButton.MiddleButton: "BTN_MIDDLE",
    Qt.MouseButton.BackButton: "BTN_SIDE",
    Qt.MouseButton.ForwardButton: "BTN_EXTRA",
}
_HINT = "New move, Enter, its key; or paste lines"


class MoveEntry(QLineEdit):
    """One line that takes names, and listens for keys.

    While it listens it takes every key but the window's own shortcuts, and clicks and the wheel on itself. It stops by
    itself after a few seconds, and when it loses the focus.

    Attributes:
        listening_for: what the next key is for, or empty.

    Signals:
        named(str): a name, or a name with its key, was typed.
        pasted(str): several lines were pasted.
        input_given(tuple, object): keys that were pressed together, or a wheel click.
    """

    named = pyqtSignal(str)
    pasted = pyqtSignal(str)
    input_given = pyqtSignal(tuple, object)

    def __init__(self, parent: QWidget | None = None) -> None:
        super().__init__(parent)
        self.listening_for = ""
        self._listener = Listener()
        self._timer = QTimer(self)
        self._timer.setSingleShot(True)
        self._timer.setInterval(LISTEN_MS)
        self._timer.timeout.connect(self.stop)
        self.setPlaceholderText(_HINT)
        self.setAccessibleName("New move")
        self.setMaxLength(200)
        self.returnPressed.connect(self._on_return)

    def listen(self, label: str) -> None:
        """Listens for the key of a move."""
        self.listening_for = label
        self._listener = Listener()
        self.clear()
        self.setReadOnly(True)
        self.setPlaceholderText(f"Press the key for {label}, or click or turn the wheel here")
        self.setAccessibleName(f"Press the key for {label}")
        self.setFocus(Qt.FocusReason.OtherFocusReason)
        self._timer.start()

    def stop(self) -> None:
        """Takes names again."""
        self.listening_for = ""
        self._timer.stop()
        self.setReadOnly(False)
        self.setPlaceholderText(_HINT)
        self.setAccessibleName("New move")

    def event(self, event: QEvent | None) -> bool:
        if self.listening_for and take_tab(event, self.keyPressEvent, self.keyReleaseEvent):
            return True
        return super().event(event)

    def keyPressEvent(self, event: QKeyEvent | None) -> None:
        if event is None:
            return
        if self.listening_for:
            code = None if event.isAutoRepeat() else code_of(event)
            if code is not None:
                self._listener.press(code)
            return
        clipboard = QGuiApplication.clipboard()
        if event.matches(QKeySequence.StandardKey.Paste) and clipboard is not None and "\n" in clipboard.text().strip():
            self.pasted.emit(clipboard.text())
            return
        super().keyPressEvent(event)

    def keyReleaseEvent(self, event: QKeyEvent | None) -> None:
        if event is None:
            return
        if self.listening_for:
            code = None if event.isAutoRepeat() else code_of(event)
            found = self._listener.release(code) if code is not None else None
            if found is not None:
                self._give(found, None)
            return
        super().keyReleaseEvent(event)

    def mousePressEvent(self, event: QMouseEvent | None) -> None:
        if event is not None and self.listening_for and event.button() in _BUTTONS:
            self._give((_BUTTONS[event.button()],), None)
            return
        super().mousePressEvent(event)

    def wheelEvent(self, event: QWheelEvent | None) -> None:
        if event is None or not self.listening_for:
            super().wheelEvent(event)
            return
        turned = event.angleDelta()
        if turned.y():
            self._give((), WheelDirection.UP if turned.y() > 0 else WheelDirection.DOWN)
        elif turned.x():
            self._give((), WheelDirection.RIGHT if turned.x() < 0 else WheelDirection.LEFT)

    def focusOutEvent(self, event: QFocusEvent | None) -> None:
        super().focusOutEvent(event)
        if self.listening_for:
            self.stop()

    def _give(self, keys: tuple[str, ...], wheel: WheelDirection | None) -> None:
        self.stop()
        self.input_given.emit(keys, wheel)

    def _on_return(self) -> None:
        text = self.text().strip()
        if text and not self.listening_for:
            self.clear()
            self.named.emit(text)

"""Field for new moves: a name, Enter, then the key in the game; or pasted lines."""

from __future__ import annotations

from PyQt6.QtCore import Qt, pyqtSignal
from PyQt6.QtGui import QFocusEvent, QGuiApplication, QKeyEvent, QKeySequence, QMouseEvent, QWheelEvent
from PyQt6.QtWidgets import QLineEdit, QWidget

from nub_shift.editing.waiting import Awaited, WaitEvent, Waiting
from nub_shift.model.profile.effects import WheelDirection
from nub_shift.translation import tr
from nub_shift.ui.widgets.key_input import KeyCatcher

_BUTTONS = {
    Qt.MouseButton.LeftButton: "BTN_LEFT",
    Qt.MouseButton.RightButton: "BTN_RIGHT",
    Qt.MouseButton.MiddleButton: "BTN_MIDDLE",
    Qt.MouseButton.BackButton: "BTN_SIDE",
    Qt.MouseButton.ForwardButton: "BTN_EXTRA",
}
# Keys that edit the name, as opposed to a late key of the move.
_TO_EDIT = (
    *(Qt.Key.Key_Escape, Qt.Key.Key_Backspace, Qt.Key.Key_Delete, Qt.Key.Key_F2),
    *(Qt.Key.Key_Left, Qt.Key.Key_Right, Qt.Key.Key_Home, Qt.Key.Key_End),
)
_HINT = tr("Name, then Enter")
HELP = tr("""\
Type the name of a move, press Enter, then press the key that the game uses for it. Or paste a list, a line each:

Jump	Space
Reload = R
Dodge: Ctrl + C
Next tool: wheel down
Fire	left mouse
Look around: mouse
Walk: WASD
Ready = "I am ready" + Enter
Tools:

A line that ends with a colon begins a group.""")


class MoveEntry(QLineEdit):
    """A line that takes names, and listens for the key of a move while awaited.

    While listening, takes every key except the window's own shortcuts, and clicks and the wheel on itself.

    Signals:
        named(str): a typed name, with or without a key.
        pasted(str): several pasted lines.
        input_given(tuple, object): pressed keys, or a wheel click.
        unkeyed(str): name of the new move for which no key came.
    """

    named = pyqtSignal(str)
    pasted = pyqtSignal(str)
    input_given = pyqtSignal(tuple, object)
    unkeyed = pyqtSignal(str)

    def __init__(self, waiting: Waiting, parent: QWidget | None = None) -> None:
        super().__init__(parent)
        self._waiting = waiting
        self._renames = False
        self._label = ""  # name of the new move that awaits its key
        self._unkeyed = False  # no key came: the name stays, and keys edit it
        self.keys = KeyCatcher(self, lambda: self.listening)
        self.keys.caught.connect(lambda codes: self._give(codes, None))
        self.setPlaceholderText(_HINT)
        self.setAccessibleName(tr("New move"))
        self.setMaxLength(600)
        self.returnPressed.connect(self._on_return)

    @property
    def listening(self) -> bool:
        """Whether the next key is for a move."""
        return self._waiting.wait.awaited is Awaited.MOVE_INPUT

    def update_waiting(self) -> None:
        """Adapts to the present wait: for names, for the key of a move, or for a new name."""
        wait = self._waiting.wait
        renames = wait.awaited in (Awaited.MOVE_NAME, Awaited.GROUP_NAME)
        if self.listening and not self.isReadOnly():
            self.clear()
        if self.listening:
            self._label, self._unkeyed = ("" if wait.move else wait.label), False
        elif self._label:
            self._unkeyed, label, self._label = True, self._label, ""
            self.setText(label)
            self.unkeyed.emit(label)
        self.setReadOnly(self.listening or self._unkeyed)
        self.setPlaceholderText(tr("Press the key for {name}", name=wait.label) if self.listening else _HINT)
        named = tr("Name of {name}", name=wait.label or tr("the new group")) if renames else tr("New move")
        self.setAccessibleName(tr("Press the key for {name}", name=wait.label) if self.listening else named)
        if self._renames and not renames:  # a cancelled new name is not the name of a new move
            self.clear()
        elif renames and not self._renames:
            self.setText(wait.label)
            self.selectAll()
        self._renames = renames

    def keyPressEvent(self, event: QKeyEvent | None) -> None:
        if event is None:
            return
        clipboard = QGuiApplication.clipboard()
        if event.matches(QKeySequence.StandardKey.Paste) and clipboard is not None and "\n" in clipboard.text().strip():
            self.pasted.emit(clipboard.text())
            return
        if self._unkeyed and event.key() in _TO_EDIT:
            self._edit_again()
            if event.key() == Qt.Key.Key_Escape:
                self.clear()
                return
        super().keyPressEvent(event)

    def _edit_again(self) -> None:
        self._unkeyed = False
        self.setReadOnly(False)

    def _give(self, codes: tuple[str, ...], wheel: WheelDirection | None) -> None:
        self._label = ""
        self.input_given.emit(codes, wheel)

    def mousePressEvent(self, event: QMouseEvent | None) -> None:
        if event is not None and self.listening and event.button() in _BUTTONS:
            self._give((_BUTTONS[event.button()],), None)
            return
        if self._unkeyed:
            self._edit_again()
        super().mousePressEvent(event)

    def wheelEvent(self, event: QWheelEvent | None) -> None:
        if event is None or not self.listening:
            super().wheelEvent(event)
            return
        turned = event.angleDelta()
        if turned.y():
            self._give((), WheelDirection.UP if turned.y() > 0 else WheelDirection.DOWN)
        elif turned.x():
            self._give((), WheelDirection.RIGHT if turned.x() < 0 else WheelDirection.LEFT)

    def focusOutEvent(self, event: QFocusEvent | None) -> None:
        super().focusOutEvent(event)
        if self.listening or self._renames:
            self._waiting.handle_event(WaitEvent.LEFT)

    def _on_return(self) -> None:
        text = self.text().strip()
        if (text or self._renames) and not self.listening:
            self.clear()  # before it is processed, which may put a refused line back
            self.named.emit(text)

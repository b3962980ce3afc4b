"""The line in which keys are named and sequences written; it can also record what is typed."""

from __future__ import annotations

from PyQt6.QtCore import QEvent, Qt, QTimer, pyqtSignal
from PyQt6.QtGui import QFocusEvent, QKeyEvent
from PyQt6.QtWidgets import QCompleter, QLineEdit, QWidget

from nub_shift.editing.words.written_sequence import Stroke, recorded_steps, steps_text
from nub_shift.keyboard.keys import KEY_BY_CODE
from nub_shift.keyboard.session import session_layout
from nub_shift.protocol.clock import monotonic_us
from nub_shift.ui.widgets.key_input import code_of, take_tab

QUIET_MS = 3_000  # whoever has typed all stops by pausing
_HINT = 'Or write: F13, or steps: Ctrl + C, 100 ms, V, "text"'


class StepsEntry(QLineEdit):
    """While it records it takes every key but the window's own shortcuts; what was typed then stands in it as steps.

    Attributes:
        recording: whether it does.

    Signals:
        recorded(bool): it has begun to record, or stopped.
    """

    recorded = pyqtSignal(bool)

    def __init__(self, parent: QWidget | None = None) -> None:
        super().__init__(parent)
        self.recording = False
        self._strokes: list[Stroke] = []
        self._timer = QTimer(self)
        self._timer.setSingleShot(True)
        self._timer.setInterval(QUIET_MS)
        self._timer.timeout.connect(lambda: self.record(False))
        self.setPlaceholderText(_HINT)
        self.setAccessibleName("Name a key, or write a sequence")
        completer = QCompleter(sorted(session_layout().label(code) for code in KEY_BY_CODE), self)
        completer.setCaseSensitivity(Qt.CaseSensitivity.CaseInsensitive)
        self.setCompleter(completer)

    def record(self, on: bool) -> None:
        """Begins to record, or stops."""
        if on is self.recording:
            return
        self.recording = on
        self.setReadOnly(on)
        if on:
            self._strokes.clear()
            self.clear()
            self.setPlaceholderText("Type the sequence; a pause of 3 s ends it")
            self.setFocus(Qt.FocusReason.OtherFocusReason)
            self._timer.start()
        else:
            self._timer.stop()
            self.setPlaceholderText(_HINT)
        self.recorded.emit(on)

    def event(self, event: QEvent | None) -> bool:
        if self.recording and take_tab(event, self.keyPressEvent, self.keyReleaseEvent):
            return True
        return super().event(event)

    def keyPressEvent(self, event: QKeyEvent | None) -> None:
        if event is None or not self.recording:
            super().keyPressEvent(event)
        else:
            self._note(event, True)

    def keyReleaseEvent(self, event: QKeyEvent | None) -> None:
        if event is None or not self.recording:
            super().keyReleaseEvent(event)
        else:
            self._note(event, False)

    def focusOutEvent(self, event: QFocusEvent | None) -> None:
        super().focusOutEvent(event)
        self.record(False)

    def _note(self, event: QKeyEvent, down: bool) -> None:
        code = None if event.isAutoRepeat() else code_of(event)
        if code is not None:
            self._timer.start()
            self._strokes.append(Stroke(monotonic_us() // 1000, code, down))
            self.setText(steps_text(recorded_steps(self._strokes)))

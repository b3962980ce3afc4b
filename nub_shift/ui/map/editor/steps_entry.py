"""Field for keys and sequences, which can also record typed keys."""

from __future__ import annotations

from PyQt6.QtCore import Qt
from PyQt6.QtGui import QFocusEvent
from PyQt6.QtWidgets import QCompleter, QLineEdit, QWidget

from nub_shift.editing.edits.written_sequence import Stroke, recorded_steps, steps_text
from nub_shift.editing.waiting import Awaited, Wait, WaitEvent, Waiting
from nub_shift.keyboard.keys import KEY_BY_CODE
from nub_shift.keyboard.layout import Layout
from nub_shift.protocol.clock import monotonic_us
from nub_shift.translation import tr
from nub_shift.ui.widgets.key_input import KeyCatcher

_HINT = tr('F13, Ctrl + C, "text"')


class StepsEntry(QLineEdit):
    """While recording, takes every key except the window's own shortcuts, and shows them as steps."""

    def __init__(self, waiting: Waiting, layout: Layout, parent: QWidget | None = None) -> None:
        super().__init__(parent)
        self._waiting = waiting
        self._strokes: list[Stroke] = []
        self.keys = KeyCatcher(self, lambda: self.recording)
        self.keys.stroke.connect(self._on_stroke)
        self.setPlaceholderText(_HINT)
        self.setAccessibleName(tr("Name a key, or write a sequence"))
        self._layout = layout
        self._complete()

    def show_layout(self, layout: Layout) -> None:
        """Completes key names by a layout, and writes keys by its labels."""
        if layout is not self._layout:
            self._layout = layout
            self._complete()

    def _complete(self) -> None:
        completer = QCompleter(sorted(self._layout.label(code) for code in KEY_BY_CODE), self)
        completer.setCaseSensitivity(Qt.CaseSensitivity.CaseInsensitive)
        self.setCompleter(completer)

    @property
    def recording(self) -> bool:
        """Whether keys are being recorded."""
        return self._waiting.wait.awaited is Awaited.STROKES

    def record(self, on: bool) -> None:
        """Starts or stops recording."""
        if on and not self.recording:
            self._strokes.clear()
            self.clear()
            self.setFocus(Qt.FocusReason.OtherFocusReason)
            self._waiting.begin(Wait(Awaited.STROKES))
        elif not on and self.recording:
            self._waiting.handle_event(WaitEvent.GIVEN)

    def update_waiting(self) -> None:
        """Blocks typing while recording."""
        self.setReadOnly(self.recording)

    def focusOutEvent(self, event: QFocusEvent | None) -> None:
        super().focusOutEvent(event)
        if self.recording:
            self._waiting.handle_event(WaitEvent.LEFT)

    def _on_stroke(self, code: str, down: bool) -> None:
        self._waiting.extend()
        self._strokes.append(Stroke(monotonic_us() // 1000, code, down))
        self.setText(steps_text(recorded_steps(self._strokes), self._layout))

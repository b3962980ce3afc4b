"""Station Try: the practice field beside the editor."""

from __future__ import annotations

from typing import assert_never

from PyQt6.QtCore import QTimer
from PyQt6.QtWidgets import QGridLayout, QHBoxLayout, QVBoxLayout, QWidget

from nub_shift.editing.document import Document
from nub_shift.editing.preview.practice import PointerTrail, TypedText, Walker
from nub_shift.engine.values import Key, Place, PlaceBack, Pointer, ProfileRequest, Wheel
from nub_shift.keyboard.keys import MOUSE_BUTTONS
from nub_shift.protocol.clock import monotonic_us
from nub_shift.protocol.messages import Telemetry
from nub_shift.translation import tr
from nub_shift.ui.look.theme import Theme
from nub_shift.ui.practice.fields import PointerField, TypedField, WalkField
from nub_shift.ui.widgets.buttons import TextButton
from nub_shift.ui.widgets.plain import PlainLabel

FRAME_MS = 40


class TryStation(QWidget):
    """Shows the outputs as a game would use them, sent or rehearsed."""

    def __init__(self, theme: Theme, document: Document, parent: QWidget | None = None) -> None:
        super().__init__(parent)
        self._document = document
        self.typed = TypedText(document.layout)
        self.trail = PointerTrail()
        self.walker = Walker(document.profile)
        self._typed_field = TypedField(theme, self.typed, document.profile)
        self._pointer_field = PointerField(theme, self.trail)
        self._walk_field = WalkField(theme, self.walker, self.typed)
        self._timer = QTimer(self)
        self._timer.setInterval(FRAME_MS)
        self._timer.timeout.connect(self._on_tick)
        layout = QVBoxLayout(self)
        layout.setContentsMargins(theme.px(14), theme.px(8), theme.px(14), theme.px(8))
        top = QHBoxLayout()
        top.addWidget(PlainLabel(tr("Play here first: nothing leaves this window in rehearsal.")), 1)
        clear = TextButton(theme, tr("Clear"), tr("Empty all three fields"))
        clear.clicked.connect(self.clear)
        top.addWidget(clear)
        layout.addLayout(top)
        grid = QGridLayout()
        grid.setSpacing(theme.px(12))
        grid.addWidget(self._typed_field, 0, 0)
        grid.addWidget(self._walk_field, 1, 0)
        grid.addWidget(self._pointer_field, 0, 1, 2, 1)
        grid.setColumnStretch(0, 2)
        grid.setColumnStretch(1, 3)
        layout.addLayout(grid, 1)
        document.on_change(self._on_document_changed)

    def take(self, packet: Telemetry) -> None:
        """Processes outputs."""
        self.typed.take(packet.outputs)
        for output in packet.outputs:
            match output:
                case Pointer(_, dx, dy):
                    self.trail.move(dx, dy)
                case Place(_, x, y):
                    self.trail.place(x, y)
                case PlaceBack():
                    self.trail.go_back()
                case Key(_, code, down):
                    if down and code in MOUSE_BUTTONS:
                        self.trail.click(code)
                case Wheel() | ProfileRequest():
                    pass  # the fields do not scroll
                case _:
                    assert_never(output)
        if packet.outputs and not self._timer.isActive():
            self.walker.advance(monotonic_us(), [])
            self._timer.start()

    def clear(self) -> None:
        """Empties the fields."""
        self.typed.clear()
        self.trail.clear()
        self.walker.steps.clear()
        self.update()

    def _on_tick(self) -> None:
        moved = self.walker.advance(monotonic_us(), self.typed.down)
        if self.isVisible():
            for field in (self._typed_field, self._pointer_field, self._walk_field):
                field.update()
        if not moved and not self.typed.down:
            self._timer.stop()

    def _on_document_changed(self) -> None:
        self.walker.follow(self._document.profile)
        self._typed_field.profile = self._document.profile

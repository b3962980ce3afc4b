"""Steps that shape a control, from the pad to the game: a button each, which leaves its step out while it is held."""

from __future__ import annotations

from functools import partial

from PyQt6.QtCore import QEvent, pyqtSignal
from PyQt6.QtWidgets import QSizePolicy, QVBoxLayout, QWidget

from nub_shift.editing.feel.signal_way import SignalStage
from nub_shift.translation import tr
from nub_shift.ui.look.theme import Theme
from nub_shift.ui.widgets.buttons import TextButton
from nub_shift.ui.widgets.flow import Flow
from nub_shift.ui.widgets.plain import PlainLabel


class WayRow(QWidget):
    """A button for each stage.

    Attributes:
        buttons: by the label of their stage.

    Signals:
        without(object): a stage is held down; None once it is let go.
    """

    without = pyqtSignal(object)

    def __init__(self, theme: Theme, parent: QWidget | None = None) -> None:
        super().__init__(parent)
        self.theme = theme
        self.buttons: dict[str, TextButton] = {}
        self._stages: dict[str, SignalStage] = {}
        self._held = ""
        column = QVBoxLayout(self)
        column.setContentsMargins(0, 0, 0, 0)
        column.setSpacing(theme.px(2))
        self._lead = PlainLabel(tr("Hold to play without:"))
        self._lead.setFont(theme.font(0.85))
        rows = QWidget()
        self._flow = Flow(theme.px(4), rows, grows=True)
        # Two lines hold nearly all that shapes a control, so that a wish which adds a step moves no picture.
        rows.setMinimumHeight(2 * TextButton(theme, "").sizeHint().height() + theme.px(4))
        column.addWidget(self._lead)
        column.addWidget(rows)
        # Not fixed: Qt would keep it at the height of one line.
        self.setSizePolicy(QSizePolicy.Policy.Expanding, QSizePolicy.Policy.Minimum)

    def show_way(self, stages: list[SignalStage]) -> None:
        """Shows what shapes the control; while one is held down they stay as they are."""
        if self._held:
            return
        self._stages = {stage.label: stage for stage in stages}
        for label in [label for label in self.buttons if label not in self._stages]:
            button = self.buttons.pop(label)
            self._flow.removeWidget(button)
            button.hide()
            button.deleteLater()
        for label in self._stages:
            if label not in self.buttons:
                button = self.buttons[label] = TextButton(
                    self.theme, label, tr("Leaves this step out while you hold it down")
                )
                button.pressed.connect(partial(self._on_pressed, label))
                button.released.connect(self._on_released)
                self._flow.addWidget(button)
        self._lead.setVisible(bool(stages))

    def changeEvent(self, event: QEvent | None) -> None:
        """A window that is left lets go of everything."""
        super().changeEvent(event)
        if event is not None and event.type() == QEvent.Type.ActivationChange and not self.isActiveWindow():
            self._on_released()

    def _on_pressed(self, label: str) -> None:
        self._held = label
        self.without.emit(self._stages[label])

    def _on_released(self) -> None:
        if self._held:
            self._held = ""
            self.without.emit(None)

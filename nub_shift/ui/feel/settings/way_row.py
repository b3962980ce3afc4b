"""Row of the stages that shape a control, from the pad to the game; holding a button leaves its stage out."""

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
        without(object): stage that is held down; None after its release.
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
        # Room for two lines, enough for nearly all controls, so that an added stage moves no picture.
        rows.setMinimumHeight(2 * TextButton(theme, "").sizeHint().height() + theme.px(4))
        column.addWidget(self._lead)
        column.addWidget(rows)
        # Not fixed, since Qt would keep the height of one line.
        self.setSizePolicy(QSizePolicy.Policy.Expanding, QSizePolicy.Policy.Minimum)

    def show_way(self, stages: list[SignalStage]) -> None:
        """Shows the stages of a control; unchanged while one is held down."""
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
        """Releases all buttons when the window loses the focus."""
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

"""Row of buttons for the control to shape."""

from __future__ import annotations

from collections.abc import Collection
from functools import partial

from PyQt6.QtCore import QObject, pyqtSignal
from PyQt6.QtWidgets import QButtonGroup

from nub_shift.editing.edits.feel import HAVING_FEEL
from nub_shift.model.controls import CONTROL_BY_NAME
from nub_shift.ui.look.theme import Theme
from nub_shift.ui.widgets.buttons import Choice
from nub_shift.ui.widgets.flow import Flow


class ControlChoice(QObject):
    """A button for each control that has a feel.

    Attributes:
        buttons: by control.
        row: layout with all buttons.

    Signals:
        chosen(str): a control.
    """

    chosen = pyqtSignal(str)

    def __init__(self, theme: Theme, parent: QObject) -> None:
        super().__init__(parent)
        self.buttons: dict[str, Choice] = {}
        self.row = Flow(theme.px(6), grows=True)
        group = QButtonGroup(self)
        for name in (control for control in CONTROL_BY_NAME if control in HAVING_FEEL):
            button = self.buttons[name] = Choice(theme, CONTROL_BY_NAME[name].label)
            button.clicked.connect(partial(self._on_clicked, name))
            group.addButton(button)
            self.row.addWidget(button)

    def offers(self, control: str) -> bool:
        """Whether the control can be chosen now."""
        return control in self.buttons and self.buttons[control].isVisible()

    def show_pad(self, controls: Collection[str]) -> str:
        """Offers the controls of a pad; returns the first of them, or empty."""
        for name, button in self.buttons.items():
            button.setVisible(name in controls)
        return next((name for name in self.buttons if name in controls), "")

    def _on_clicked(self, name: str, _checked: bool) -> None:
        self.chosen.emit(name)

"""Undo and redo, with tooltips that name the change, in the present station."""

from __future__ import annotations

from PyQt6.QtCore import QObject, pyqtSignal
from PyQt6.QtGui import QAction

from nub_shift.editing.undo_choice import UndoChoice, UndoOwner
from nub_shift.translation import tr
from nub_shift.ui.commands import Command, set_action_tooltip
from nub_shift.ui.widgets.buttons import TextButton


class HistoryTools(QObject):
    """Undoes and redoes.

    Signals:
        said(str): a line for the person.
        done(Undoes): owner of the undone or redone change.
    """

    said = pyqtSignal(str)
    done = pyqtSignal(object)

    def __init__(self, undoing: UndoChoice, parent: QObject) -> None:
        super().__init__(parent)
        self._undoing = undoing
        self._buttons: dict[Command, tuple[QAction, TextButton]] = {}

    def add_button(self, command: Command, action: QAction, button: TextButton) -> None:
        """Adds an action with its button whose tooltip names the change."""
        self._buttons[command] = action, button

    def show(self) -> None:
        """Updates the tooltips."""
        # The actions stay enabled, since a disabled shortcut would become a key to bind.
        for command, (action, button) in self._buttons.items():
            _, label = self._undoing.undoable() if command is Command.UNDO else self._undoing.redoable()
            set_action_tooltip(action, command, label)
            button.setEnabled(bool(label))

    def undo(self) -> None:
        """Undoes the last change of the present station."""
        whose, _ = self._undoing.undoable()
        self._notify(whose, tr("Undone: "), whose.undo(), tr("There is nothing to undo here"))

    def redo(self) -> None:
        """Redoes the last undone change of the present station."""
        whose, _ = self._undoing.redoable()
        self._notify(whose, tr("Done again: "), whose.redo(), tr("There is nothing to redo here"))

    def _notify(self, whose: UndoOwner, did: str, label: str | None, nothing: str) -> None:
        self.said.emit(f"{did}{label}" if label else nothing)
        self.done.emit(whose)

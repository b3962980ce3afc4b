"""Choice of the change that Undo reverses: the profile's last change or that of another history."""

from __future__ import annotations

from collections.abc import Callable
from typing import Any, Protocol

from nub_shift.editing.card_book import CardBook
from nub_shift.editing.catalogue import Catalogue
from nub_shift.editing.document import Document
from nub_shift.editing.history import Change


class UndoOwner(Protocol):
    """Owner of undoable changes."""

    def undo(self) -> str:
        """Undoes the last change; returns its label, empty if there is none."""

    def redo(self) -> str:
        """Redoes the last undone change; returns its label, empty if there is none."""


class UndoChoice:
    """Finds the last change of several owners by the time of the change."""

    def __init__(self, document: Document, beside: Callable[[], CardBook | Catalogue | None]) -> None:
        """`beside` are further owners in the present station."""
        self._document = document
        self._beside = beside

    def undoable(self) -> tuple[UndoOwner, str]:
        """Returns the owner of the change that Undo takes back, and its label; empty if there is none."""
        beside = self._beside()
        return self._of_later(beside, beside.history.undo if beside is not None else None, self._document.history.undo)

    def redoable(self) -> tuple[UndoOwner, str]:
        """Returns the owner of the change that Redo repeats, and its label; empty if there is none."""
        beside = self._beside()
        return self._of_later(beside, beside.history.redo if beside is not None else None, self._document.history.redo)

    def _of_later(
        self, beside: CardBook | Catalogue | None, other: Change[Any] | None, edit: Change[Any] | None
    ) -> tuple[UndoOwner, str]:
        if beside is not None and other is not None and (edit is None or other.at > edit.at):
            return beside, other.label
        return self._document, edit.label if edit is not None else ""

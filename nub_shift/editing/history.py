"""Undo and redo history of profiles and of pad cards."""

from __future__ import annotations

from collections.abc import Iterable
from dataclasses import dataclass
from itertools import count
from typing import Generic, TypeVar

# Number of steps kept over a restart.
MAX_UNDO = 200
S = TypeVar("S")
_clock = count(1)


@dataclass(frozen=True)
class Change(Generic[S]):
    """A change that can be reversed.

    Attributes:
        label: description.
        state: state before the change (for redo, after it).
        at: number in the common order of all changes.
    """

    label: str
    state: S
    at: int


class History(Generic[S]):
    """Changes of one kind."""

    def __init__(self) -> None:
        self._undo: list[Change[S]] = []
        self._redo: list[Change[S]] = []

    def restore(self, undo: Iterable[tuple[str, S]], redo: Iterable[tuple[str, S]]) -> None:
        """Adopts the undo and redo steps of an earlier run: labels with states."""
        self._undo = [Change(label, state, 0) for label, state in undo][-MAX_UNDO:]
        self._redo = [Change(label, state, 0) for label, state in redo]

    def note(self, label: str, before: S) -> Change[S]:
        """Adds a change, which clears the redo steps."""
        change = Change(label, before, next(_clock))
        self._undo.append(change)
        del self._undo[:-MAX_UNDO]
        self._redo.clear()
        return change

    def forget(self, change: Change[S]) -> None:
        """Removes a change that failed."""
        self._undo = [other for other in self._undo if other is not change]

    @property
    def undo(self) -> Change[S] | None:
        """Change that undo reverses, or None."""
        return self._undo[-1] if self._undo else None

    @property
    def redo(self) -> Change[S] | None:
        """Change that redo repeats, or None."""
        return self._redo[-1] if self._redo else None

    def latest(self, most: int) -> list[Change[S]]:
        """Returns the last changes of this run, in order."""
        return [change for change in self._undo[-most:] if change.at]

    def undone(self, now: S) -> None:
        """Moves the last change to the redo steps; `now` is the state until then."""
        self._redo.append(Change(self._undo.pop().label, now, next(_clock)))

    def redone(self, now: S) -> None:
        """Moves the last undone change back; `now` is the state until then."""
        self._undo.append(Change(self._redo.pop().label, now, next(_clock)))

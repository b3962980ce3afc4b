"""What was done and can be taken back, of profiles and of pad cards alike."""

from __future__ import annotations

from collections.abc import Iterable
from dataclasses import dataclass
from itertools import count
from typing import Generic, TypeVar

# Steps that a journal keeps over a restart.
MAX_UNDO = 200
S = TypeVar("S")
_clock = count(1)


@dataclass(frozen=True)
class Change(Generic[S]):
    """A change that can be reversed.

    Attributes:
        label: what was done.
        state: what was there before it (or, to do it again, after it).
        at: its number in the order of all changes, of whatever kind.
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
        """Takes over what could be undone and done again when the program ended: labels with states."""
        self._undo = [Change(label, state, 0) for label, state in undo][-MAX_UNDO:]
        self._redo = [Change(label, state, 0) for label, state in redo]

    def note(self, label: str, before: S) -> Change[S]:
        """Something was done; what was taken back before that cannot be done again."""
        change = Change(label, before, next(_clock))
        self._undo.append(change)
        del self._undo[:-MAX_UNDO]
        self._redo.clear()
        return change

    def forget(self, change: Change[S]) -> None:
        """It could not be done."""
        self._undo = [other for other in self._undo if other is not change]

    @property
    def undo(self) -> Change[S] | None:
        """Change that undo would take back."""
        return self._undo[-1] if self._undo else None

    @property
    def redo(self) -> Change[S] | None:
        """Change that redo would bring back."""
        return self._redo[-1] if self._redo else None

    def latest(self, most: int) -> list[Change[S]]:
        """The last changes that were made since the program started, in their order."""
        return [change for change in self._undo[-most:] if change.at]

    def undone(self, now: S) -> None:
        """The last change was taken back; `now` is what was there until then."""
        self._redo.append(Change(self._undo.pop().label, now, next(_clock)))

    def redone(self, now: S) -> None:
        """The last change that was taken back was done again; `now` is what was there until then."""
        self._undo.append(Change(self._redo.pop().label, now, next(_clock)))

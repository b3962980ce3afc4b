"""The open profile: every edit acts at once, can be undone, and is kept."""

from __future__ import annotations

from collections.abc import Callable
from pathlib import Path

from nub_shift.model.files import write_profile
from nub_shift.model.meaning import meaning_problems
from nub_shift.model.profile import Profile
from nub_shift.model.session_layout import session_layout

MAX_UNDO = 500


class Document:
    """A profile, its file and its history. `changed` callbacks run after each change, in the order they were added.

    Attributes:
        profile: as it stands.
        path: the file that follows it.
        fault: why the last edit or write failed, or empty; the profile is still whole in memory.
    """

    def __init__(self, path: Path, profile: Profile) -> None:
        self.path = path
        self.profile = profile
        self.fault = ""
        self._undo: list[tuple[str, Profile]] = []
        self._redo: list[tuple[str, Profile]] = []
        self._listeners: list[Callable[[], None]] = []

    def on_change(self, listener: Callable[[], None]) -> None:
        """Calls `listener` after each change."""
        self._listeners.append(listener)

    def edit(self, label: str, profile: Profile) -> None:
        """Makes `profile` the present state; `label` says what was done, as "South: Leap".

        An edit that would make a profile which cannot be read again is not done; `fault` says why.
        """
        if profile == self.profile:
            return
        problems = meaning_problems(profile, session_layout)
        if problems:
            self.fault = f"not done: {problems[0]}"
            self._tell()
            return
        self._undo.append((label, self.profile))
        del self._undo[:-MAX_UNDO]
        self._redo.clear()
        self._set(profile)

    def undo(self) -> str:
        """Takes the last edit back; returns its label, or "" if there is none."""
        return self._move(self._undo, self._redo)

    def redo(self) -> str:
        """Does the last edit that was taken back again; returns its label, or "" if there is none."""
        return self._move(self._redo, self._undo)

    @property
    def undo_label(self) -> str:
        """What `undo` would take back, or ""."""
        return self._undo[-1][0] if self._undo else ""

    @property
    def redo_label(self) -> str:
        """What `redo` would do again, or ""."""
        return self._redo[-1][0] if self._redo else ""

    def _move(self, source: list[tuple[str, Profile]], target: list[tuple[str, Profile]]) -> str:
        if not source:
            return ""
        label, profile = source.pop()
        target.append((label, self.profile))
        self._set(profile)
        return label

    def _set(self, profile: Profile) -> None:
        self.profile = profile
        try:
            write_profile(self.path, profile)
            self.fault = ""
        except OSError as error:
            self.fault = f"{self.path.name} cannot be written: {(error.strerror or str(error)).lower()}"
        self._tell()

    def _tell(self) -> None:
        for listener in self._listeners:
            listener()

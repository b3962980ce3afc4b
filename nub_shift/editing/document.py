"""The open profile: every edit acts at once, can be undone, and is kept."""

from __future__ import annotations

import logging
from collections.abc import Callable
from contextlib import suppress
from pathlib import Path
from typing import Literal

from nub_shift.editing.history import Change, History
from nub_shift.keyboard.layout import LayoutSource, us_layout
from nub_shift.model.checks.references import reference_problems
from nub_shift.model.profile import Profile
from nub_shift.store.atomic import write_text
from nub_shift.store.journal import Journal
from nub_shift.store.profile_files import format_profile, parse_profile

log = logging.getLogger("nub_shift.editing")

# What an edit does: a profile in, the changed one out.
Edit = Callable[[Profile], Profile]


class Document:
    """A profile, its file and its history. `changed` callbacks run after each change, in the order they were added.

    Attributes:
        profile: as it stands.
        path: the file that follows it.
        text: what stands in that file.
        history: what can be undone, as the texts that were there before, also by an earlier run of the program.
        journal: all that was done, with the states before it.
        layout: where the keyboard layout comes from that keys are named by, and texts are typed on.
        fault: why the last edit or write failed, or empty; the profile is still whole in memory.
    """

    def __init__(self, path: Path, profile: Profile, layout: LayoutSource = us_layout) -> None:
        self.layout = layout
        self.path = path
        self.profile = profile
        self.fault = ""
        self.text = format_profile(profile)
        self.history: History[str] = History()
        self.journal = Journal(path)
        self._restore_history()
        self._listeners: list[Callable[[], None]] = []

    def on_change(self, listener: Callable[[], None]) -> None:
        """Calls `listener` after each change."""
        self._listeners.append(listener)

    def edit(self, label: str, change: Edit) -> None:
        """Does a change; `label` says what was done, as "South: Leap".

        An edit that would make a profile which cannot be read again is not done; `fault` says why.
        """
        profile = change(self.profile)
        if profile == self.profile:
            return
        problems = reference_problems(profile, self.layout)
        if problems:
            self.fault = f"not done: {problems[0]}"
            self._tell()
            return
        log.debug("edit: %s", label)
        self.history.note(label, self.text)
        self._note("edit", label)
        self._set(profile)

    def open(self, path: Path, profile: Profile) -> None:
        """Goes on with another profile, whose history begins here."""
        self.path = path
        self.profile = profile
        self.text = format_profile(profile)
        self.fault = ""
        self.history = History()
        self.journal = Journal(path)
        self._restore_history()
        self._tell()

    def follow_layout(self) -> None:
        """The keyboard layout is another now: all who follow the document look again."""
        self._tell()

    def name_point(self, name: str) -> None:
        """Marks the present state with a name, to be gone back to."""
        self._note("point", name)

    def undo(self) -> str:
        """Takes the last edit back; returns its label, or "" if there is none."""
        return self._restore("undo", self.history.undo, self.history.undone)

    def redo(self) -> str:
        """Does the last edit that was taken back again; returns its label, or "" if there is none."""
        return self._restore("redo", self.history.redo, self.history.redone)

    def _restore(self, did: Literal["undo", "redo"], change: Change[str] | None, moved: Callable[[str], None]) -> str:
        if change is None:
            return ""
        self._note(did, change.label)
        moved(self.text)
        self._set(parse_profile(change.state, layout=self.layout))
        return change.label

    def _restore_history(self) -> None:
        stacks = self.journal.stacks(self.text)
        self.history.restore(stacks.undo, stacks.redo)

    def _note(self, did: Literal["edit", "undo", "redo", "point"], label: str) -> None:
        with suppress(OSError):  # the profile itself is kept, or it is said that it is not
            self.journal.note(did, label, self.text)

    def _set(self, profile: Profile) -> None:
        self.profile = profile
        try:
            self.text = format_profile(profile)
            write_text(self.path, self.text)
            self.fault = ""
        except OSError as error:
            log.warning("%s cannot be written: %s", self.path, error)
            self.fault = f"{self.path.name} cannot be written: {(error.strerror or str(error)).lower()}"
        self._tell()

    def _tell(self) -> None:
        for listener in self._listeners:
            listener()

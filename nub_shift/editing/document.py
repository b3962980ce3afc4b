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
from nub_shift.model.problems import ProfileError
from nub_shift.model.profile import Profile
from nub_shift.store.atomic import sweep, write_text
from nub_shift.store.journal import Journal
from nub_shift.store.profile_files import format_profile, parse_profile
from nub_shift.store.reading import read_bounded

log = logging.getLogger("nub_shift.editing")

# What is told of what another window or an editor wrote.
ELSEWHERE = "Changed elsewhere"

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
        elsewhere: the last edit was made to what another window or an editor had written meanwhile.
    """

    def __init__(self, path: Path, profile: Profile, layout: LayoutSource = us_layout) -> None:
        self.layout = layout
        self.path = path
        self.profile = profile
        self.fault = ""
        self.elsewhere = False
        self.text = format_profile(profile)
        self._seen = self._in_file()  # None where there is no file yet
        self._ours = True  # the file says nothing that has not been taken in, as of the last look
        self.history: History[str] = History()
        self.journal = Journal(path)
        self._restore_history()
        self._listeners: list[Callable[[], None]] = []

    def on_change(self, listener: Callable[[], None]) -> None:
        """Calls `listener` after each change."""
        self._listeners.append(listener)

    def edit(self, label: str, change: Edit) -> None:
        """Does a change; `label` says what was done, as "South: Leap".

        An edit that would make a profile which cannot be read again is not done; `fault` says why. What was written
        into the file elsewhere is taken in first, so that the edit is made to that.
        """
        self.look()
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
        self.elsewhere = False
        self._seen, self._ours = self._in_file(), True
        self.history = History()
        self.journal = Journal(path)
        self._restore_history()
        self._tell()

    def look(self) -> None:
        """Takes in what was written into the file elsewhere, as an edit: undoing it brings back what was here.

        A file that has gone, or that cannot be read, is left alone until that is mended; `fault` says so.
        """
        self.elsewhere = False
        text = self._in_file()
        self._ours = text == self._seen
        if self._ours:
            return
        try:
            theirs = parse_profile(text, self.path.name, self.layout) if text is not None else None
        except ProfileError as error:
            self._keep_off(f"{self.path.name} was changed elsewhere and has faults: {error.problems[0]}")
            return
        if theirs is None:
            gone = "was moved, deleted or made unreadable elsewhere; make a copy in the library to keep your work"
            self._keep_off(f"{self.path.name} {gone}")
            return
        self._seen, self._ours = text, True
        if theirs != self.profile:
            log.info("%s was changed elsewhere", self.path)
            self.history.note(ELSEWHERE, self.text)
            self._note("edit", ELSEWHERE)
            self.profile, self.text, self.fault, self.elsewhere = theirs, format_profile(theirs), "", True
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
        self.look()
        if self.elsewhere:  # the change that is taken back is the one elsewhere
            change = self.history.undo if did == "undo" else self.history.redo
        if change is None:
            return ""
        try:
            profile = parse_profile(change.state, layout=self.layout)
        except ProfileError as error:
            self.fault = f"that state cannot be read any more: {error.problems[0]}"
            self._tell()
            return ""
        self._note(did, change.label)
        moved(self.text)
        self._set(profile)
        return change.label

    def _restore_history(self) -> None:
        sweep(self.path.parent)
        stacks = self.journal.stacks(self.text)
        self.history.restore(stacks.undo, stacks.redo)

    def _note(self, did: Literal["edit", "undo", "redo", "point"], label: str) -> None:
        with suppress(OSError):  # the profile itself is kept, or it is said that it is not
            self.journal.note(did, label, self.text)

    def _set(self, profile: Profile) -> None:
        self.profile = profile
        self.text = format_profile(profile)
        try:
            if self._ours:  # else it is kept off, and `fault` says why
                write_text(self.path, self.text)
                self._seen = self.text
                self.fault = ""
        except OSError as error:
            log.warning("%s cannot be written: %s", self.path, error)
            self.fault = f"{self.path.name} cannot be written: {(error.strerror or str(error)).lower()}"
        self._tell()

    def _in_file(self) -> str | None:
        """What stands in the file; None if there is none that can be read."""
        try:
            return read_bounded(self.path)
        except ProfileError:
            return None

    def _keep_off(self, why: str) -> None:
        """The file is not ours to write at present; edits stay in memory and in the journal."""
        if self.fault != why:
            self.fault = why
            self._tell()

    def _tell(self) -> None:
        for listener in self._listeners:
            listener()

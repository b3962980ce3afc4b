"""The open profile: every edit acts at once, can be undone, and is kept."""

from __future__ import annotations

import logging
from collections.abc import Callable
from dataclasses import dataclass, replace
from functools import partial
from pathlib import Path
from typing import Literal

from nub_shift.editing.compare.differences import Difference
from nub_shift.editing.compare.merging import Step, copied_over, merge
from nub_shift.editing.history import Change, History
from nub_shift.editing.profile_file import AtOnce, Kept, ProfileFile, Text, Worker
from nub_shift.editing.words.faults import fault_words
from nub_shift.keyboard.layout import LayoutSource, us_layout
from nub_shift.model.checks.references import ReferenceCheck
from nub_shift.model.problems import ProfileError
from nub_shift.model.profile.profile import Profile
from nub_shift.store.atomic import sweep
from nub_shift.store.journal import Did, Journal
from nub_shift.store.profile_files import ProfileWriter, format_profile, left_to_the_pad, parse_profile
from nub_shift.translation import tr

log = logging.getLogger("nub_shift.editing")

# Label of a change that another window or an editor has written.
ELSEWHERE = tr("Changed elsewhere")
# How many edits back an editor that saves now may have been opened.
_MAX_BACK = 20

# An edit: a profile in, the changed profile out.
Edit = Callable[[Profile], Profile]


@dataclass(frozen=True)
class _Unwritten:
    """Edits that are not in the file yet."""

    number: int
    after: Text


class Document:
    """A profile, its file and its history. `changed` callbacks run after each change, in the order they were added.

    Attributes:
        profile: as it stands.
        text: its usual text; what a person wrote into the file may have comments besides.
        history: what can be undone, as the texts that were there before, also by an earlier run of the program.
        layout: where the keyboard layout comes from that keys are named by, and texts are typed on.
        fault: why the last edit or write failed, or empty; the profile is still whole in memory.
        worker: what writes.
        left_out: where its file, of an older schema, has settings of one pad; they are not taken over.
        elsewhere: the last edit was made to what another window or an editor had written meanwhile.
        disputed: what was changed both here and there, as it stands there now and was here: see `settle`.
    """

    def __init__(
        self, path: Path, profile: Profile, layout: LayoutSource = us_layout, worker: Worker | None = None
    ) -> None:
        """`worker` writes; without one everything is written at once."""
        self.layout = layout
        self.worker = worker or AtOnce()
        self._check, self._writer = ReferenceCheck(), ProfileWriter()
        self._listeners: list[Callable[[], None]] = []
        self._begin(path, profile)

    def _begin(self, path: Path, profile: Profile) -> None:
        self.profile = profile
        self.text = self._writer.text(profile)
        self.fault = ""
        self.elsewhere = False
        self.disputed: tuple[Difference, ...] = ()
        sweep(path.parent)
        self._in_file = self._now
        self._file = ProfileFile(path, self._in_file, self.worker)
        self.left_out = tuple(left_to_the_pad(self._file.read() or ""))
        self._unwritten: list[_Unwritten] = []
        self.history: History[str] = History()
        stacks = self.journal.stacks(self.text)
        self.history.restore(stacks.undo, stacks.redo)

    @property
    def path(self) -> Path:
        """The file that follows it."""
        return self._file.path

    @property
    def journal(self) -> Journal:
        """All that was done, with the states before it."""
        return self._file.journal

    def on_change(self, listener: Callable[[], None]) -> None:
        """Calls `listener` after each change."""
        self._listeners.append(listener)

    def forget_listeners(self) -> None:
        """Calls none of them any more: all belong to a window that another one replaces."""
        self._listeners.clear()

    def edit(self, label: str, change: Edit) -> bool:
        """Does a change; `label` says what was done, as "South: Leap".

        An edit that would make a profile which cannot be read again is not done; `fault` says why, and it returns
        False. What was written into the file elsewhere is taken in first, so that the edit is made to that.
        """
        self.look()
        return self._edit(label, change)

    def open(self, path: Path, profile: Profile) -> None:
        """Goes on with another profile, whose history begins here."""
        self.finish()
        self._begin(path, profile)
        self._tell()

    def finish(self) -> None:
        """Waits until all that was done is in the file."""
        self.worker.finish()

    def look(self) -> None:
        """Takes in what was written into the file elsewhere, as an edit: undoing it brings back what was here.

        What was edited here, and what that text does not know of, is done again, to that. Where both changed the same
        place, what was written elsewhere stands until the person has chosen. A file that has gone, or that cannot be
        read, is left alone until that is mended; `fault` says so.
        """
        self.elsewhere = False
        text, is_news = self._file.look()
        if not is_news:
            return
        try:
            theirs = parse_profile(text, self.path.name, self.layout) if text is not None else None
        except ProfileError as error:
            self._keep_off(
                tr(
                    "{path} was changed elsewhere and has faults: {problems}",
                    path=self.path.name,
                    problems=error.problems[0],
                )
            )
            return
        if theirs is None or text is None:
            gone = tr("was moved, deleted or made unreadable elsewhere; make a copy in the library to keep your work")
            self._keep_off(f"{self.path.name} {gone}")
            return
        self._forget_written(self._file.written)
        edits, self._unwritten = self._unwritten, []
        says, before = Text(theirs, format_profile(theirs)), self._in_file
        self._in_file = says
        self._file.take_in(text, says)
        if theirs == self.profile:
            return
        if theirs == before.profile:  # they wrote no more than a comment
            number = self._file.number()
            self._unwritten = [replace(edit, number=number) for edit in edits]
            self._file.keep(number, self._now, self._on_kept, None)
            return
        log.info("%s was changed elsewhere", self.path)
        mine, layout = self.profile, self.layout()
        written, unwritten = self._steps(before)
        self.journal.look()
        by_window, self.journal.others = self.journal.others, False
        merged = merge(theirs, () if by_window else written, unwritten, layout)
        self.history.note(ELSEWHERE, self.text)
        self._file.note("edit", ELSEWHERE, self.text)
        self.profile, self.text, self.fault = theirs, says.text, ""
        for label, found in merged.steps:
            self._edit(label, partial(copied_over, found=found))
        self.disputed = (*self._still_disputed(), *merged.contradictions(self.profile, mine, layout))
        self.elsewhere = True
        self._tell()

    def settle(self, mine: bool) -> None:
        """Resolves disputed places: with the values from here, or with those written elsewhere."""
        if mine:
            self.edit(tr("Yours kept"), partial(copied_over, found=self.disputed))
        else:
            self.disputed = ()
            self._tell()

    def follow_layout(self) -> None:
        """The keyboard layout is another now: all who follow the document look again."""
        self._tell()

    def name_point(self, name: str) -> None:
        """Marks the present state with a name, to be gone back to."""
        self._file.note("point", name, self.text)

    def undo(self) -> str:
        """Takes the last edit back; returns its label, or "" if there is none."""
        return self._restore("undo", lambda: self.history.undo, self.history.undone)

    def redo(self) -> str:
        """Does the last edit that was taken back again; returns its label, or "" if there is none."""
        return self._restore("redo", lambda: self.history.redo, self.history.redone)

    def _restore(
        self, did: Literal["undo", "redo"], last: Callable[[], Change[str] | None], moved: Callable[[str], None]
    ) -> str:
        if last() is None:
            return ""
        self.look()
        change = last()  # where it was changed elsewhere, that is what is taken back
        if change is None:
            return ""
        try:
            profile = parse_profile(change.state, layout=self.layout)
        except ProfileError as error:
            self.fault = tr("that state cannot be read any more: {problems}", problems=error.problems[0])
            self._tell()
            return ""
        moved(self.text)
        self._do(did, change.label, profile)
        return change.label

    def _edit(self, label: str, change: Edit) -> bool:
        profile = change(self.profile)
        if profile == self.profile:
            return True
        problems = self._check.problems(profile, self.layout)
        if problems:
            self.fault = tr("this cannot be done: {problems}", problems=fault_words(profile, problems[0]))
            self._tell()
            return False
        log.debug("edit: %s", label)
        self.history.note(label, self.text)
        self._do("edit", label, profile)
        return True

    def _do(self, did: Did, label: str, profile: Profile) -> None:
        note = self.journal.add(did, label, self.text)
        self.profile, self.text = profile, self._writer.text(profile)
        self.disputed = self._still_disputed()
        edit = _Unwritten(self._file.number(), self._now)
        self._unwritten.append(edit)
        self._file.keep(edit.number, edit.after, self._on_kept, note)
        self._tell()

    def _on_kept(self, kept: Kept) -> None:
        """An edit is in the file, or is not."""
        fault = self.fault
        if kept.elsewhere:
            self.look()
            return
        if not kept.fault:
            self._forget_written(kept.number)
        self.fault = kept.fault
        if self.fault != fault:
            self._tell()

    def _steps(self, in_file: Text) -> tuple[tuple[Step, ...], tuple[Step, ...]]:
        """The last edits that were made here, by what the file had: those in it, and those not in it yet."""
        steps: list[Step] = []
        after = self._now
        written = None if after.text != in_file.text else 0  # how many steps from the end are not in the file
        for change in reversed(self.history.latest(_MAX_BACK)):
            if change.label == ELSEWHERE:
                break
            try:
                before = Text(parse_profile(change.state, layout=self.layout), change.state)
            except ProfileError:
                break
            steps.insert(0, Step(change.label, before.profile, after.profile))
            after = before
            if written is None and after.text == in_file.text:
                written = len(steps)
        if written is None:  # earlier states were brought back
            return (), (Step(tr("Yours kept"), in_file.profile, self.profile),)
        return tuple(steps[: len(steps) - written]), tuple(steps[len(steps) - written :])

    def _still_disputed(self) -> tuple[Difference, ...]:
        return tuple(found for found in self.disputed if found.copy_over(self.profile) != self.profile)

    def _forget_written(self, number: int) -> None:
        for edit in self._unwritten:
            if edit.number <= number:
                self._in_file = edit.after
        self._unwritten = [edit for edit in self._unwritten if edit.number > number]

    @property
    def _now(self) -> Text:
        return Text(self.profile, self.text)

    def _keep_off(self, why: str) -> None:
        """The file is not ours to write at present; edits stay in memory and in the journal."""
        if self.fault != why:
            self.fault = why
            self._tell()

    def _tell(self) -> None:
        for listener in self._listeners:
            listener()

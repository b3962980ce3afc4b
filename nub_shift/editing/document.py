"""The open profile: every edit applies at once, can be undone, and is saved."""

from __future__ import annotations

import logging
from collections.abc import Callable
from dataclasses import dataclass, replace
from functools import partial
from pathlib import Path
from typing import Literal

from nub_shift.editing.compare.differences import Difference
from nub_shift.editing.compare.merging import Step, apply_differences, merge
from nub_shift.editing.history import Change, History
from nub_shift.editing.profile_file import AtOnce, ProfileFile, SaveResult, Seen, Text, Worker
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

# Label of a change written by another window or an editor.
ELSEWHERE = tr("Changed elsewhere")
# Number of edits since the opening of an editor that saves now, at most.
_MAX_BACK = 20

# A function from a profile to the changed profile.
Edit = Callable[[Profile], Profile]


@dataclass(frozen=True)
class _Unwritten:
    """Edits not in the file yet."""

    number: int
    after: Text


class Document:
    """A profile with its file and history. `changed` callbacks run after each change, in the order of their addition.

    Attributes:
        profile: present profile.
        text: generated text of the profile; a person's file may contain comments besides.
        history: undoable edits as earlier texts, including those of an earlier run.
        layout: source of the keyboard layout for key names and typed texts.
        fault: reason of a failed edit or write, or empty; the profile in memory is intact.
        worker: writes the file.
        left_out: settings of one pad in its file of an older schema, which are dropped.
        elsewhere: whether the last edit was merged into a text from another window or an editor.
        disputed: places changed both here and elsewhere, with both values: see `settle`.
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
        """File of the profile."""
        return self._file.path

    @property
    def journal(self) -> Journal:
        """All edits with the states before them."""
        return self._file.journal

    def on_change(self, listener: Callable[[], None]) -> None:
        """Calls `listener` after each change."""
        self._listeners.append(listener)

    def forget_listeners(self) -> None:
        """Removes all listeners, which belong to a replaced window."""
        self._listeners.clear()

    def edit(self, label: str, change: Edit) -> bool:
        """Applies an edit; `label` describes it, such as "South: Leap".

        An edit with a faulty result is refused; `fault` gives the reason, and the method returns False. The file is
        compared before it is written, beside the caller: changes from elsewhere are merged with the edit.
        """
        self.elsewhere = False
        return self._edit(label, change)

    def open(self, path: Path, profile: Profile) -> None:
        """Opens another profile, whose history begins here."""
        self.finish()
        self._begin(path, profile)
        self._notify()

    def finish(self) -> None:
        """Waits until all edits are saved."""
        self.worker.finish()

    def check_file(self) -> None:
        """Reads the file, and merges changes from elsewhere as an edit: undo restores the state from here.

        Edits from here that the new text lacks are applied to it again. Disputed places keep the values from elsewhere
        until the person has chosen. A missing or unreadable file is left alone until it is mended, with a `fault`.
        """
        self._file.check(self._on_checked)

    def _on_checked(self, seen: Seen, writes: bool = False) -> None:
        """Merges a new text of the file; writes edits again that were refused, if the text is known after all."""
        if seen.is_news:
            self._merge(seen.text)
        elif writes and self._unwritten:
            self._keep_again()

    def _keep_again(self) -> None:
        number = self._file.number()
        self._unwritten = [replace(edit, number=number) for edit in self._unwritten]
        self._file.keep(number, self._now, self._on_kept, None)

    def _merge(self, text: str | None) -> None:
        self.elsewhere = False
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
        if theirs == before.profile:  # only comments were changed
            self._unwritten = edits
            self._keep_again()
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
            self._edit(label, partial(apply_differences, found=found))
        self.disputed = (*self._still_disputed(), *merged.contradictions(self.profile, mine, layout))
        self.elsewhere = True
        self._notify()

    def settle(self, mine: bool) -> None:
        """Resolves disputed places, with the values from here or with those from elsewhere."""
        if mine:
            self.edit(tr("Yours kept"), partial(apply_differences, found=self.disputed))
        else:
            self.disputed = ()
            self._notify()

    def update_layout(self) -> None:
        """Notifies the listeners of another keyboard layout."""
        self._notify()

    def name_point(self, name: str) -> None:
        """Saves the present state as a named restore point."""
        self._file.note("point", name, self.text)

    def undo(self) -> str:
        """Undoes the last edit; returns its label, empty if there is none."""
        return self._restore("undo", lambda: self.history.undo, self.history.undone)

    def redo(self) -> str:
        """Redoes the last undone edit; returns its label, empty if there is none."""
        return self._restore("redo", lambda: self.history.redo, self.history.redone)

    def _restore(
        self, did: Literal["undo", "redo"], last: Callable[[], Change[str] | None], moved: Callable[[str], None]
    ) -> str:
        self.elsewhere = False
        change = last()
        if change is None:
            return ""
        try:
            profile = parse_profile(change.state, layout=self.layout)
        except ProfileError as error:
            self.fault = tr("that state cannot be read any more: {problems}", problems=error.problems[0])
            self._notify()
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
            self._notify()
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
        self._notify()

    def _on_kept(self, kept: SaveResult) -> None:
        """Handles the result of saving an edit."""
        fault = self.fault
        if kept.elsewhere:
            self._file.check(partial(self._on_checked, writes=True))
            return
        if not kept.fault:
            self._forget_written(kept.number)
        self.fault = kept.fault
        if self.fault != fault:
            self._notify()

    def _steps(self, in_file: Text) -> tuple[tuple[Step, ...], tuple[Step, ...]]:
        """Returns the last edits made here: those contained in a text of the file, and those not."""
        steps: list[Step] = []
        after = self._now
        written = None if after.text != in_file.text else 0  # number of edits at the end that are not in the file
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
        if written is None:  # an earlier state was restored
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
        """Suspends writing to the file; edits stay in memory and in the journal."""
        if self.fault != why:
            self.fault = why
            self._notify()

    def _notify(self) -> None:
        for listener in self._listeners:
            listener()

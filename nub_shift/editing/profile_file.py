"""File of the open profile and its journal, written in order in the background."""

from __future__ import annotations

import logging
from collections import Counter
from collections.abc import Callable
from contextlib import suppress
from dataclasses import dataclass
from pathlib import Path
from typing import Protocol, TypeVar

from nub_shift.model.plain_text import system_fault
from nub_shift.model.problems import ProfileError
from nub_shift.model.profile.profile import Profile
from nub_shift.store.atomic import write_text
from nub_shift.store.comments import comments_in, rewritten
from nub_shift.store.journal import Did, Journal
from nub_shift.store.reading import read_bounded
from nub_shift.translation import tr

log = logging.getLogger("nub_shift.editing")

T = TypeVar("T")


class Worker(Protocol):
    """Runs work in order."""

    def run(self, work: Callable[[], T], done: Callable[[T], None]) -> None:
        """Runs `work` after all earlier work, then `done` with its result in the editing thread."""

    def finish(self) -> None:
        """Waits until all work and callbacks are done."""


class AtOnce:
    """Runs work immediately."""

    def run(self, work: Callable[[], T], done: Callable[[T], None]) -> None:
        """Runs the work and its callback."""
        done(work())

    def finish(self) -> None:
        """Does nothing: all work is done."""


@dataclass(frozen=True)
class Text:
    """A profile with its generated text."""

    profile: Profile
    text: str


@dataclass(frozen=True)
class SaveResult:
    """Result of writing an edit.

    Attributes:
        number: number of the edit.
        fault: reason of a failed write, or empty.
        elsewhere: not written, since the file has changed elsewhere.
    """

    number: int
    fault: str = ""
    elsewhere: bool = False


@dataclass(frozen=True)
class Seen:
    """Text of the file, None for no readable one, and whether it is new: neither written nor loaded here."""

    text: str | None
    is_news: bool


class ProfileFile:
    """A profile's file, read and written in the worker alone.

    Attributes:
        path: path of the file.
        journal: journal of the profile.
        written: number of the last edit in the file.
    """

    def __init__(self, path: Path, says: Text, worker: Worker) -> None:
        """`says` is the content of the file."""
        self.path = path
        self.journal = Journal(path)
        self.written = 0
        self._worker = worker
        self._count = 0
        self._seen = self.read()  # last text read or written here; any other text is new, None stands for no file
        self._says = says  # content whose text is `_seen`

    def read(self) -> str | None:
        """Returns the text of the file; None if there is no readable one."""
        try:
            return read_bounded(self.path)
        except ProfileError:
            return None

    def check(self, done: Callable[[Seen], None]) -> None:
        """Reads the file, and passes its text to `done` with whether it is new: neither written nor loaded here."""

        def read() -> Seen:
            text = self.read()
            return Seen(text, is_news=text != self._seen)

        self._worker.run(read, done)

    def take_in(self, text: str, says: Text) -> None:
        """Marks the text of the file as known, so that it may be overwritten."""

        def see() -> None:
            self._seen, self._says = text, says

        self._worker.run(see, lambda _: None)

    def note(self, did: Did, label: str, text: str) -> None:
        """Adds a journal line for a change that is not written, or was written already."""
        write = self.journal.add(did, label, text)
        self._worker.run(lambda: _suppressed(write), lambda _: None)

    def number(self) -> int:
        """Returns the number of the next edit."""
        self._count += 1
        return self._count

    def keep(
        self, number: int, after: Text, done: Callable[[SaveResult], None], note: Callable[[], None] | None
    ) -> None:
        """Writes the profile after an edit, and before that the journal line of the edit."""
        self._worker.run(lambda: self._keep(number, after, note), done)

    def _keep(self, number: int, after: Text, note: Callable[[], None] | None) -> SaveResult:
        there = self.read()
        is_known = there == self._seen
        if is_known and there is not None and there != self._says.text and comments_in(there):
            self.journal.files[self._says.text] = there
        if note is not None:
            _suppressed(note)
        if not is_known:
            return SaveResult(number, elsewhere=True)
        try:
            text = self._with_comments(there or "", after)
            write_text(self.path, text)
        except OSError as error:
            log.warning("%s cannot be written: %s", self.path, error)
            why = system_fault(error)
            return SaveResult(number, tr("{path} cannot be written: {why}", path=self.path.name, why=why))
        self.written = number
        self._seen, self._says = text, after
        return SaveResult(number)

    def _with_comments(self, there: str, after: Text) -> str:
        """Returns the text of the file after an edit, with comments. A restored earlier state gets its earlier text."""
        earlier = self.journal.files.get(after.text)
        if earlier is not None and Counter(comments_in(there)) <= Counter(comments_in(earlier)):
            return earlier
        return rewritten(there, self._says.profile, after.profile, after.text)


def _suppressed(write: Callable[[], None]) -> None:
    with suppress(OSError):  # the result of writing the profile itself decides
        write()

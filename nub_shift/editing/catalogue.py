"""What is done with the profiles of a folder as files, beside the one that is open."""

from __future__ import annotations

import dataclasses
import logging
from collections.abc import Iterable
from functools import cached_property
from pathlib import Path
from typing import Any

from msgspec.structs import replace

from nub_shift.editing.document import Document
from nub_shift.editing.history import History
from nub_shift.model.profile.profile import Profile
from nub_shift.store.atomic import write_text
from nub_shift.store.journal import Line
from nub_shift.store.library import BIN, Entry, entries, fresh_path, from_bin, note_used, to_bin
from nub_shift.store.profile_files import parse_profile, read_profile, write_profile
from nub_shift.store.reading import read_bounded
from nub_shift.translation import tr

log = logging.getLogger("nub_shift.editing")

_MAX_STEM = 55  # of a copy's title


class Catalogue:
    """The folder in which the open profile is kept.

    Whatever writes or moves a file raises OSError where the system refuses, and reading raises ProfileError. What was
    edited is in its file by then.

    Attributes:
        history: what was moved to the bin and back: where each profile is now.
    """

    def __init__(self, document: Document, examples: Iterable[str] = ()) -> None:
        """`examples` are the texts of profiles that come with the program."""
        self._document = document
        self.history: History[Path] = History()
        self._texts = tuple(examples)

    @cached_property
    def _examples(self) -> list[Entry]:
        """Read when they are first wanted, and not while the program starts."""
        found = [(text, parse_profile(text, layout=self._document.layout)) for text in self._texts]
        return [
            Entry(Path(), profile.title, 0.0, profile.colour.value if profile.colour is not None else "", example=text)
            for text, profile in found
        ]

    @property
    def folder(self) -> Path:
        """Folder of the profiles."""
        return self._document.path.parent

    def entries(self, wanted: str = "") -> list[Entry]:
        """The profiles whose title has the text that is searched for; then the examples that are not among them."""
        found = [self._as_edited(entry) for entry in entries(self.folder)]
        titles = {entry.title for entry in found}
        found += [entry for entry in self._examples if entry.title not in titles]
        return [entry for entry in found if wanted.casefold() in entry.title.casefold()]

    def _as_edited(self, entry: Entry) -> Entry:
        """The open profile may not be in its file yet."""
        profile = self._document.profile
        colour = profile.colour.value if profile.colour is not None else ""
        return dataclasses.replace(entry, title=profile.title, colour=colour) if self.is_open(entry) else entry

    def is_open(self, entry: Entry) -> bool:
        """Whether it is the one that is edited."""
        return entry.path == self._document.path

    def read(self, entry: Entry) -> Profile:
        """The profile of an entry."""
        if entry.example:
            return parse_profile(entry.example, layout=self._document.layout)
        if self.is_open(entry):
            return self._document.profile
        return read_profile(entry.path, self._document.layout)

    def read_outside(self, path: Path) -> tuple[str, Profile]:
        """The text of a file from elsewhere, and the profile that it is."""
        text = read_bounded(path)
        return text, parse_profile(text, str(path), self._document.layout)

    def take_in(self, text: str, profile: Profile, title: str) -> None:
        """Keeps the text of an imported profile, with another title, and opens it."""
        path = fresh_path(self.folder, title)
        if title == profile.title:
            write_text(path, text)
        else:
            profile = replace(profile, title=title)
            write_profile(path, profile)
        self._open(path, profile)

    def earlier(self, line: Line) -> Profile:
        """Returns the profile of an earlier line of the journal."""
        return parse_profile(line.text, layout=self._document.layout)

    def open(self, entry: Entry, profile: Profile) -> None:
        """Goes on with another profile; one in the bin is brought back first, and of an example a copy is made."""
        if entry.example:
            self.make(profile)
            return
        self._document.finish()
        self._open(from_bin(entry.path) if entry.binned else entry.path, profile)

    def make(self, profile: Profile) -> None:
        """Keeps a profile as a new file, and opens it."""
        path = fresh_path(self.folder, profile.title)
        write_profile(path, profile)
        self._open(path, profile)

    def change(self, entry: Entry, profile: Profile, label: str, **values: Any) -> None:
        """Changes what a profile is known by; the open one can be undone."""
        if self.is_open(entry):
            self._document.edit(label, lambda mine: replace(mine, **values))
        else:
            write_profile(entry.path, replace(profile, **values))

    def throw_or_fetch(self, entry: Entry) -> None:
        """Into the bin, or back out of it."""
        self._document.finish()
        moved = (from_bin if entry.binned else to_bin)(entry.path)
        self.history.note(f"{entry.title} {(tr('restored') if entry.binned else tr('moved to bin'))}", moved)

    def undo(self) -> str:
        """Takes the last of these moves back; returns what it was, or "" if there is none."""
        change = self.history.undo
        if change is not None and not self._can_move(change.state):
            self.history.forget(change)
            return ""
        if change is None:
            return ""
        self.history.undone(self._back(change.state))
        return change.label

    def redo(self) -> str:
        """Does the last one that was taken back again; returns what it was, or "" if there is none."""
        change = self.history.redo
        if change is None or not self._can_move(change.state):
            return ""
        self.history.redone(self._back(change.state))
        return change.label

    def _can_move(self, path: Path) -> bool:
        """Whether a profile is still where it was put, and not open meanwhile."""
        return path.exists() and path != self._document.path

    def _back(self, path: Path) -> Path:
        """Moves a profile to where it was; where that fails it stays."""
        try:
            return from_bin(path) if path.parent.name == BIN else to_bin(path)
        except OSError as error:
            log.warning("%s cannot be moved: %s", path, error)
            return path

    def _open(self, path: Path, profile: Profile) -> None:
        self._document.open(path, profile)
        note_used(path)


def copy_title(typed: str, title: str) -> str:
    """The title that was typed, or one that tells a copy from the other."""
    return typed if typed and typed != title else tr("{title} copy", title=title[:_MAX_STEM])

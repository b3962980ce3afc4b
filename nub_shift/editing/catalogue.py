"""File operations on the profiles in the folder of the open one."""

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
    """The folder of the open profile.

    Methods that write or move files raise OSError, methods that read raise ProfileError. Pending edits are saved first.

    Attributes:
        history: moves to the bin and back, with the present path of each profile.
    """

    def __init__(self, document: Document, examples: Iterable[str] = ()) -> None:
        """`examples` are the texts of profiles that come with the program."""
        self._document = document
        self.history: History[Path] = History()
        self._texts = tuple(examples)

    @cached_property
    def _examples(self) -> list[Entry]:
        """Entries of the examples, parsed at the first use and not at the start of the program."""
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
        """Returns the profiles whose title contains the text; then the examples without a copy among them."""
        found = [self._as_edited(entry) for entry in entries(self.folder)]
        titles = {entry.title for entry in found}
        found += [entry for entry in self._examples if entry.title not in titles]
        return [entry for entry in found if wanted.casefold() in entry.title.casefold()]

    def _as_edited(self, entry: Entry) -> Entry:
        """Returns the entry with the title and colour of the open profile, whose file may be older."""
        profile = self._document.profile
        colour = profile.colour.value if profile.colour is not None else ""
        return dataclasses.replace(entry, title=profile.title, colour=colour) if self.is_open(entry) else entry

    def is_open(self, entry: Entry) -> bool:
        """Returns whether the entry is the open profile."""
        return entry.path == self._document.path

    def read(self, entry: Entry) -> Profile:
        """Returns the profile of an entry."""
        if entry.example:
            return parse_profile(entry.example, layout=self._document.layout)
        if self.is_open(entry):
            return self._document.profile
        return read_profile(entry.path, self._document.layout)

    def read_outside(self, path: Path) -> tuple[str, Profile]:
        """Returns the text of a file from elsewhere, and its profile."""
        text = read_bounded(path)
        return text, parse_profile(text, str(path), self._document.layout)

    def add_imported(self, text: str, profile: Profile, title: str) -> None:
        """Saves the text of an imported profile under another title, and opens it."""
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
        """Opens a profile; one in the bin is restored first, an example is copied."""
        if entry.example:
            self.make(profile)
            return
        self._document.finish()
        self._open(from_bin(entry.path) if entry.binned else entry.path, profile)

    def make(self, profile: Profile) -> None:
        """Saves a profile as a new file, and opens it."""
        path = fresh_path(self.folder, profile.title)
        write_profile(path, profile)
        self._open(path, profile)

    def change(self, entry: Entry, profile: Profile, label: str, **values: Any) -> None:
        """Changes a profile's title or colour; for the open profile as an undoable edit."""
        if self.is_open(entry):
            self._document.edit(label, lambda mine: replace(mine, **values))
        else:
            write_profile(entry.path, replace(profile, **values))

    def toggle_bin(self, entry: Entry) -> None:
        """Moves a profile to the bin, or back."""
        self._document.finish()
        moved = (from_bin if entry.binned else to_bin)(entry.path)
        self.history.note(f"{entry.title} {(tr('restored') if entry.binned else tr('moved to bin'))}", moved)

    def undo(self) -> str:
        """Undoes the last move; returns its label, empty if there is none."""
        change = self.history.undo
        if change is not None and not self._can_move(change.state):
            self.history.forget(change)
            return ""
        if change is None:
            return ""
        self.history.undone(self._back(change.state))
        return change.label

    def redo(self) -> str:
        """Redoes the last undone move; returns its label, empty if there is none."""
        change = self.history.redo
        if change is None or not self._can_move(change.state):
            return ""
        self.history.redone(self._back(change.state))
        return change.label

    def _can_move(self, path: Path) -> bool:
        """Returns whether a profile is still at its last path, and not open."""
        return path.exists() and path != self._document.path

    def _back(self, path: Path) -> Path:
        """Moves a profile to its former path; on failure it stays."""
        try:
            return from_bin(path) if path.parent.name == BIN else to_bin(path)
        except OSError as error:
            log.warning("%s cannot be moved: %s", path, error)
            return path

    def _open(self, path: Path, profile: Profile) -> None:
        self._document.open(path, profile)
        note_used(path)


def copy_title(typed: str, title: str) -> str:
    """Returns the typed title, or a generated one that distinguishes the copy."""
    return typed if typed and typed != title else tr("{title} copy", title=title[:_MAX_STEM])

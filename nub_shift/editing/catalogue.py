"""What is done with the profiles of a folder as files, beside the one that is open."""

from __future__ import annotations

import dataclasses
from pathlib import Path
from typing import Any

from msgspec.structs import replace

from nub_shift.editing.document import Document
from nub_shift.model.profile import Profile
from nub_shift.store.atomic import write_text
from nub_shift.store.journal import Line
from nub_shift.store.library import Entry, entries, fresh_path, from_bin, note_used, to_bin
from nub_shift.store.profile_files import parse_profile, read_profile, write_profile
from nub_shift.store.reading import read_bounded

_MAX_STEM = 55  # of a copy's title


class Catalogue:
    """The folder in which the open profile is kept.

    Whatever writes or moves a file raises OSError where the system refuses, and reading raises ProfileError. What was
    edited is in its file by then.
    """

    def __init__(self, document: Document) -> None:
        self._document = document

    @property
    def folder(self) -> Path:
        """Where profiles are kept."""
        return self._document.path.parent

    def entries(self, wanted: str = "") -> list[Entry]:
        """The profiles whose title has the text that is searched for."""
        found = [self._as_edited(entry) for entry in entries(self.folder)]
        return [entry for entry in found if wanted.casefold() in entry.title.casefold()]

    def _as_edited(self, entry: Entry) -> Entry:
        """The open profile may not be in its file yet."""
        profile = self._document.profile
        colour = profile.colour.value if profile.colour is not None else ""
        return dataclasses.replace(entry, title=profile.title, colour=colour) if self.is_open(entry) else entry

    def is_open(self, entry: Entry) -> bool:
        """Whether it is the one that is edited."""
        return entry.path == self._document.path

    def read(self, path: Path) -> Profile:
        """The profile in a file."""
        if path == self._document.path:
            return self._document.profile
        return read_profile(path, self._document.layout)

    def read_outside(self, path: Path) -> tuple[str, Profile]:
        """The text of a file from elsewhere, and the profile that it is."""
        text = read_bounded(path)
        return text, parse_profile(text, str(path), self._document.layout)

    def take_in(self, text: str, profile: Profile, title: str) -> None:
        """Keeps a profile from elsewhere as it was written, but for another title, and opens it."""
        path = fresh_path(self.folder, title)
        if title == profile.title:
            write_text(path, text)
        else:
            profile = replace(profile, title=title)
            write_profile(path, profile)
        self._open(path, profile)

    def earlier(self, line: Line) -> Profile:
        """The open profile as it was."""
        return parse_profile(line.text, layout=self._document.layout)

    def open(self, entry: Entry, profile: Profile) -> None:
        """Goes on with another profile; one in the bin is brought back first."""
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
        (from_bin if entry.binned else to_bin)(entry.path)

    def _open(self, path: Path, profile: Profile) -> None:
        self._document.open(path, profile)
        note_used(path)


def copy_title(typed: str, title: str) -> str:
    """The title that was typed, or one that tells a copy from the other."""
    return typed if typed and typed != title else f"{title[:_MAX_STEM]} copy"

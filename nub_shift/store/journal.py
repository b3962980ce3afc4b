"""What was done to a profile, kept beside it, so that it can be undone after a restart too, and gone back to."""

from __future__ import annotations

import logging
import time
from dataclasses import dataclass
from pathlib import Path
from typing import Literal

import msgspec

from nub_shift.store.atomic import write_text

log = logging.getLogger("nub_shift.store")

FOLDER = ".history"
MAX_LINES = 400
KEPT_LINES = 200


class Line(msgspec.Struct, frozen=True, omit_defaults=True):
    """One line of a journal.

    Attributes:
        did: an edit, its undoing, its doing again; or a point that somebody has named.
        label: what was done, or the point's name.
        text: the profile as it was before that, or at that point.
        at: seconds since the epoch.
    """

    did: Literal["edit", "undo", "redo", "point"]
    label: str
    text: str
    at: float


@dataclass(frozen=True)
class Stacks:
    """What can be undone and done again: labels with texts, the last one on top."""

    undo: list[tuple[str, str]]
    redo: list[tuple[str, str]]


class Journal:
    """The journal of one profile's file. A journal that cannot be read or written is none: play goes on without."""

    def __init__(self, profile: Path) -> None:
        self._path = journal_path(profile)
        self.lines = self._read()

    def note(self, did: Literal["edit", "undo", "redo", "point"], label: str, text: str) -> None:
        """Adds a line. Raises OSError if it cannot be kept."""
        line = Line(did, label, text, time.time())
        self.lines.append(line)
        self._path.parent.mkdir(parents=True, exist_ok=True)
        if len(self.lines) > MAX_LINES:
            points = [kept for kept in self.lines[:-KEPT_LINES] if kept.did == "point"]
            self.lines = [*points, *self.lines[-KEPT_LINES:]]
            write_text(self._path, "".join(_encoded(kept) for kept in self.lines))
            return
        with self._path.open("a", encoding="utf-8") as stream:
            stream.write(_encoded(line))

    def stacks(self, present: str) -> Stacks:
        """What can be undone and done again, after all that was done, now that the profile is `present`.

        An edit whose text before it is also the text after it was noted and never kept: the program was killed.
        """
        undo: list[tuple[str, str]] = []
        redo: list[tuple[str, str]] = []
        for line in self.lines:
            match line.did:
                case "edit":
                    if undo and undo[-1][1] == line.text:
                        undo.pop()
                    undo.append((line.label, line.text))
                    redo.clear()
                case "undo" if undo:
                    redo.append((undo.pop()[0], line.text))
                case "redo" if redo:
                    undo.append((redo.pop()[0], line.text))
        if undo and undo[-1][1] == present:
            undo.pop()
        return Stacks(undo, redo)

    def _read(self) -> list[Line]:
        try:
            rows = self._path.read_bytes().splitlines()
        except OSError:
            return []
        found = []
        for row in rows:
            try:
                found.append(msgspec.json.decode(row, type=Line))
            except msgspec.MsgspecError:
                log.warning("%s: a line that cannot be read is left aside", self._path)
                continue  # the last line of a program that was killed while it wrote
        return found


def journal_path(profile: Path) -> Path:
    """Where the journal of a profile's file is."""
    return profile.parent / FOLDER / f"{profile.stem}.jsonl"


def _encoded(line: Line) -> str:
    return msgspec.json.encode(line).decode() + "\n"

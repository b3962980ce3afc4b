"""What was done to a profile, kept beside it, so that it can be undone after a restart too, and gone back to."""

from __future__ import annotations

import errno
import logging
import time
from collections.abc import Callable, Iterator
from contextlib import suppress
from dataclasses import dataclass
from pathlib import Path
from typing import Literal

import msgspec
from msgspec.structs import replace

from nub_shift.store.atomic import require_regular, write_text
from nub_shift.store.reading import read_plain
from nub_shift.translation import tr

log = logging.getLogger("nub_shift.store")

FOLDER = ".history"
MAX_UNDO = 200
# More lines than this are brought down to what can still be undone, and the points.
MAX_LINES = 600
# A profile is at most a quarter of a megabyte, and hardly ever more than a tenth of that.
MAX_BYTES = 100_000_000
_LATEST_S = 4e9  # the year 2096

Did = Literal["edit", "undo", "redo", "point"]


class Line(msgspec.Struct, frozen=True, omit_defaults=True):
    """One line of a journal.

    Attributes:
        did: an edit, its undoing, its doing again; or a point that somebody has named.
        label: what was done, or the point's name.
        text: the profile as it was before that, or at that point.
        at: seconds since the epoch.
        file: what stood in the file then, where a person had written that: the same with their comments.
    """

    did: Did
    label: str
    text: str
    at: float
    file: str = ""


@dataclass(frozen=True)
class Stacks:
    """Stacks of edits to undo and to redo: labels with texts, the last on top."""

    undo: list[tuple[str, str]]
    redo: list[tuple[str, str]]


class Journal:
    """The journal of one profile's file. A journal that cannot be read or written is none: play goes on without.

    Attributes:
        lines: all that is known of, also what is still to be written.
        files: by a profile's text, what stood in the file, where that had comments.
        others: another window has added lines, since this was last set back.
    """

    def __init__(self, profile: Path) -> None:
        self.files: dict[str, str] = {}
        self._path = journal_path(profile)
        self.lines = self._read()
        self._size = self._size_now()
        self.others = False

    def look(self) -> None:
        """Sees whether another window has added lines."""
        self.others = self.others or self._size_now() > self._size

    def _size_now(self) -> int:
        try:
            return self._path.stat().st_size
        except OSError:
            return 0

    def add(self, did: Did, label: str, text: str) -> Callable[[], None]:
        """Adds a line; returns what writes it, to be called before what it tells of is done.

        That raises OSError if it cannot be kept.
        """
        shorter = self._shortened(text) if len(self.lines) >= MAX_LINES else None
        line = Line(did, label, text, time.time())
        if shorter is None:
            self.lines.append(line)
            return lambda: self._append(line)
        self.lines = [*shorter, line]
        lines = list(self.lines)
        return lambda: self._write(lines)

    def _write(self, lines: list[Line]) -> None:
        self.look()
        write_text(self._path, "".join(map(self._encoded, lines)))
        self._size = self._size_now()

    def _append(self, line: Line) -> None:
        self.look()
        text = self._encoded(line)
        self._size = self._size_now() + len(text.encode())  # first: whoever looks meanwhile takes it for no other's
        self._path.parent.mkdir(parents=True, exist_ok=True)
        require_regular(self._path)
        with self._path.open("a", encoding="utf-8") as stream:
            stream.write(text)
        self._size = self._size_now()

    def _encoded(self, line: Line) -> str:
        return msgspec.json.encode(replace(line, file=self.files.get(line.text, ""))).decode() + "\n"

    def stacks(self, present: str) -> Stacks:
        """Returns the edits to undo and to redo, with the profile `present`."""
        undo, redo = self._replayed(present)
        return Stacks([(line.label, line.text) for line in undo], [(line.label, line.text) for line in redo])

    def _replayed(self, present: str) -> tuple[list[Line], list[Line]]:
        undo: list[Line] = []
        redo: list[Line] = []
        for line in self._done(present):
            match line.did:
                case "edit":
                    undo.append(line)
                    redo.clear()
                case "undo" if undo:
                    redo.append(replace(undo.pop(), text=line.text))
                case "redo" if redo:
                    undo.append(replace(redo.pop(), text=line.text))
        return undo[-MAX_UNDO:], redo

    def _done(self, present: str) -> Iterator[Line]:
        """Returns the lines whose edit was carried out too.

        A program that was killed in between left the profile unchanged.
        """
        noted = [line for line in self.lines if line.did != "point"]
        texts = [*(line.text for line in noted), present]
        return (line for line, after in zip(noted, texts[1:], strict=True) if line.text != after)

    def _shortened(self, present: str) -> list[Line] | None:
        """The lines brought down to what is still needed; None where all of them are."""
        undo, redo = self._replayed(present)
        if redo:
            return None  # it can be said only by all that led to it
        points = [line for line in self.lines if line.did == "point"]
        edits = [replace(line, did="edit") for line in undo]
        return sorted([*points, *edits], key=lambda line: line.at)

    def _read(self) -> list[Line]:
        try:
            rows = _rows(self._path)
        except OSError:
            return []
        found: list[Line] = []
        aside: list[bytes] = []
        for row in rows:
            try:
                line = msgspec.json.decode(row, type=Line)
            except (msgspec.MsgspecError, UnicodeDecodeError, RecursionError):
                aside.append(row)  # a program was killed while it wrote; or a newer one wrote it, or somebody else
                continue
            if line.file:
                self.files[line.text] = line.file
                line = replace(line, file="")
            found.append(line if 0.0 <= line.at <= _LATEST_S else replace(line, at=0.0))
        if aside:
            self._put_aside(aside, found)
        return found

    def _put_aside(self, rows: list[bytes], kept: list[Line]) -> None:
        """Keeps lines that cannot be read in a file of their own, so that nothing is lost as the journal goes on."""
        aside = self._path.with_suffix(".aside")
        log.warning("%s: %d lines that cannot be read are kept in %s", self._path, len(rows), aside)
        with suppress(OSError):
            require_regular(aside)
            with aside.open("ab") as stream:
                stream.write(b"".join(row + b"\n" for row in rows))
            write_text(self._path, "".join(map(self._encoded, kept)))


def journal_path(profile: Path) -> Path:
    """Returns the path of the journal of a profile's file."""
    return profile.parent / FOLDER / f"{profile.stem}.jsonl"


def _rows(path: Path) -> list[bytes]:
    """The lines of a plain file; raises OSError if it is none, or too large to be a journal."""
    data = read_plain(path, MAX_BYTES)
    if data is None or len(data) > MAX_BYTES:
        raise OSError(errno.EINVAL, tr("no journal"), str(path))
    return data.splitlines()

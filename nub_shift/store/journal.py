"""Journal of a profile's edits, kept beside the profile, for undo after a restart and for restore points."""

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
# Number of lines above which the journal is reduced to undoable edits and restore points.
MAX_LINES = 600
# A profile has at most a quarter of a megabyte, and rarely more than a tenth of that.
MAX_BYTES = 100_000_000
_LATEST_S = 4e9  # the year 2096

Did = Literal["edit", "undo", "redo", "point"]


class Line(msgspec.Struct, frozen=True, omit_defaults=True):
    """One line of a journal.

    Attributes:
        did: an edit, an undo, a redo, or a named restore point.
        label: description of the edit, or name of the point.
        text: profile before the edit, or at the point.
        at: seconds since the epoch.
        file: content of the file at that time, if a person had written it: the same with their comments.
    """

    did: Did
    label: str
    text: str
    at: float
    file: str = ""


@dataclass(frozen=True)
class Stacks:
    """Edits to undo and to redo: labels with texts, the last on top."""

    undo: list[tuple[str, str]]
    redo: list[tuple[str, str]]


class Journal:
    """The journal of one profile's file. An unreadable or unwritable journal is treated as missing, and editing
    continues.

    Attributes:
        lines: all known lines, including those still to be written.
        files: content of the file by profile text, where the file had comments.
        others: another window has added lines; reset by the reader.
    """

    def __init__(self, profile: Path) -> None:
        self.files: dict[str, str] = {}
        self._path = journal_path(profile)
        self.lines = self._read()
        self._size = self._size_now()
        self.others = False

    def look(self) -> None:
        """Checks whether another window has added lines."""
        self.others = self.others or self._size_now() > self._size

    def _size_now(self) -> int:
        try:
            return self._path.stat().st_size
        except OSError:
            return 0

    def add(self, did: Did, label: str, text: str) -> Callable[[], None]:
        """Adds a line; returns a function that writes it, to be called before the edit itself is written.

        The function raises OSError if the line cannot be written.
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
        # first, so that the watcher does not take the change for another window's
        self._size = self._size_now() + len(text.encode())
        self._path.parent.mkdir(parents=True, exist_ok=True)
        require_regular(self._path)
        with self._path.open("a", encoding="utf-8") as stream:
            stream.write(text)
        self._size = self._size_now()

    def _encoded(self, line: Line) -> str:
        return msgspec.json.encode(replace(line, file=self.files.get(line.text, ""))).decode() + "\n"

    def stacks(self, present: str) -> Stacks:
        """Returns the edits to undo and to redo, for the profile `present`."""
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
        """Yields the lines whose edit was completed.

        A program killed in between has left the profile unchanged.
        """
        noted = [line for line in self.lines if line.did != "point"]
        texts = [*(line.text for line in noted), present]
        return (line for line, after in zip(noted, texts[1:], strict=True) if line.text != after)

    def _shortened(self, present: str) -> list[Line] | None:
        """Returns the reduced lines; None if all are needed."""
        undo, redo = self._replayed(present)
        if redo:
            return None  # needs all lines up to there
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
                # a partly written line of a killed program, a line of a newer program, or foreign text
                aside.append(row)
                continue
            if line.file:
                self.files[line.text] = line.file
                line = replace(line, file="")
            found.append(line if 0.0 <= line.at <= _LATEST_S else replace(line, at=0.0))
        if aside:
            self._put_aside(aside, found)
        return found

    def _put_aside(self, rows: list[bytes], kept: list[Line]) -> None:
        """Moves unreadable lines to a file of their own, so that nothing is lost when the journal is rewritten."""
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
    """Returns the lines of a file.

    Raises:
        OSError: not a regular file, or too large for a journal.
    """
    data = read_plain(path, MAX_BYTES)
    if data is None or len(data) > MAX_BYTES:
        raise OSError(errno.EINVAL, tr("no journal"), str(path))
    return data.splitlines()

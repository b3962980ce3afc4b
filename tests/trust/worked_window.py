"""A person's hands on a window, until the process is killed. Each act is told before it reaches the disk.

usage: worked_window FOLDER SEED
A line is a State as JSON: what will stand in the library's files, and what can then be undone and done again.
"""

from __future__ import annotations

import random
import sys
import time
from collections.abc import Callable
from pathlib import Path
from typing import TypeVar

import msgspec
from PyQt6.QtCore import Qt
from PyQt6.QtGui import QKeySequence
from PyQt6.QtWidgets import QApplication

from nub_shift.demo.games import demo_profile_text
from nub_shift.editing.document import Document
from nub_shift.store.library import BIN, entries, fresh_path
from nub_shift.store.profile_files import format_profile, parse_profile, read_profile
from nub_shift.ui.commands import Station
from nub_shift.ui.link import RunnerLink
from nub_shift.ui.look.theme import DAY, Theme
from nub_shift.ui.runner_start import OwnRunner
from nub_shift.ui.window import Window
from nub_shift.ui.writing import WritingThread
from tests.ui.hands import QTest

T = TypeVar("T")
SLOTS = ("south", "east", "west", "north", "left_shoulder", "select")
KEYS = (Qt.Key.Key_A, Qt.Key.Key_F5, Qt.Key.Key_7, Qt.Key.Key_Space, Qt.Key.Key_Delete)
MOST = 5  # profiles in the library, before some go to the bin


class State(msgspec.Struct):
    """What stands on the disk: texts by file, the open one of them, and its history by labels."""

    files: dict[str, str]
    open: str
    undo: list[str]
    redo: list[str]


def state_of(document: Document, files: dict[str, str], folder: Path) -> State:
    """As a document is now, among these files."""
    stacks = [[change.label for change in found] for found in (document.history._undo, document.history._redo)]
    name = str(document.path.relative_to(folder))
    return State({**files, name: document.text}, name, *stacks)


def files_in(folder: Path) -> dict[str, str]:
    """The profiles of a library and its bin, as their usual texts."""
    found = [*folder.glob("*.toml"), *(folder / BIN).glob("*.toml")]
    return {str(path.relative_to(folder)): format_profile(read_profile(path)) for path in found}


class Hands:
    """Does one thing after another."""

    def __init__(self, folder: Path, seed: int) -> None:
        self.folder = folder
        self.chance = random.Random(seed)
        self.files = files_in(folder)
        path = entries(folder)[0].path
        self.document = Document(path, read_profile(path), worker=_Telling(self.notify))
        self.window = Window(Theme(DAY), self.document, RunnerLink(OwnRunner(path, "simulated", "print")))
        self.window.show()

    def notify(self) -> None:
        """Says what will be on the disk."""
        state = state_of(self.document, self.files, self.folder)
        self.files = state.files
        self.say(state)

    def say(self, state: State) -> None:
        sys.stdout.buffer.write(msgspec.json.encode(state) + b"\n")
        sys.stdout.buffer.flush()

    def act(self) -> None:
        """Something, at random."""
        chosen = self.chance.choices(
            (self.edit, self.undo, self.redo, self.bin, self.take, self.open), (9, 4, 3, 2, 1, 1)
        )
        chosen[0]()

    def edit(self) -> None:
        self.window.show_station(Station.MAP)
        slot = self.chance.choice(SLOTS)
        cell = self.window.map.open_slot(slot, listen=True).grid.cells["base", slot]
        key = self.chance.choice(KEYS)
        QTest.keyPress(cell, key)
        QTest.keyRelease(cell, key)

    def undo(self) -> None:
        catalogue = self.window.library.catalogue
        if self.window._undoing.undoable()[0] is catalogue and catalogue.history.undo is not None:
            self._tell_moved(catalogue.history.undo.state)
        QTest.keySequence(self.window, QKeySequence("Ctrl+Z"))

    def redo(self) -> None:
        catalogue = self.window.library.catalogue
        if self.window._undoing.redoable()[0] is catalogue and catalogue.history.redo is not None:
            self._tell_moved(catalogue.history.redo.state)
        QTest.keySequence(self.window, QKeySequence("Ctrl+Shift+Z"))

    def _tell_moved(self, at: Path) -> None:
        """A profile goes into the bin, or out of it."""
        if at.exists() and at != self.document.path:
            self.document.finish()
            target = fresh_path(self.folder if at.parent.name == BIN else self.folder / BIN, at.stem)
            files = dict(self.files)
            files[str(target.relative_to(self.folder))] = files.pop(str(at.relative_to(self.folder)))
            self.files = files
            self.notify()

    def bin(self) -> None:
        """Another profile goes into the bin, or comes back."""
        at = self._chosen_other(lambda binned: binned or len(entries(self.folder)) > 1)
        if at is None:
            return
        self._tell_moved(at)
        QTest.mouseClick(self.window.library.buttons["bin"], Qt.MouseButton.LeftButton)

    def take(self) -> None:
        """A profile from elsewhere comes in, and is open then."""
        if len(self.files) > MOST:
            return
        title = f"Taken {self.chance.randrange(1000)}"
        text = "# from a friend\n" + demo_profile_text("tidefold").replace("Tidefold", title)
        outside = self.folder.parent / "outside.toml"
        outside.write_text(text)
        self.window.show_station(Station.LIBRARY)
        library = self.window.library
        library.show_file(outside)
        self.document.finish()
        name = str(fresh_path(self.folder, title).relative_to(self.folder))
        self.files = {**self.files, name: format_profile(parse_profile(text))}
        self.say(State(self.files, name, [], []))
        QTest.mouseClick(library.outside.add, Qt.MouseButton.LeftButton)

    def open(self) -> None:
        if self._chosen_other(lambda binned: not binned) is not None:
            self.document.finish()
            QTest.mouseClick(self.window.library.buttons["open"], Qt.MouseButton.LeftButton)
            self.notify()

    def _chosen_other(self, fits: Callable[[bool], bool]) -> Path | None:
        """Chooses another profile than the open one in the library."""
        self.window.show_station(Station.LIBRARY)
        self.window.library.refresh()
        others = [e.path for e in entries(self.folder) if e.path != self.document.path and fits(e.binned)]
        if not others:
            return None
        path = self.chance.choice(others)
        rows = self.window.library.list
        for row in range(rows.count()):
            rows.setCurrentRow(row)
            if rows.chosen is not None and rows.chosen.path == path:
                return path
        return None


class _Telling(WritingThread):
    """Writes as the window does, and has each edit told first."""

    def __init__(self, notify: Callable[[], None]) -> None:
        super().__init__()
        self._tell_first = notify

    def run(self, work: Callable[[], T], done: Callable[[T], None]) -> None:
        self._tell_first()
        super().run(work, done)


def main() -> None:
    application = QApplication(sys.argv[:1])
    hands = Hands(Path(sys.argv[1]), int(sys.argv[2]))
    hands.notify()
    while True:
        hands.act()
        end = time.monotonic() + hands.chance.random() * 0.05
        while time.monotonic() < end:
            application.processEvents()


if __name__ == "__main__":
    main()

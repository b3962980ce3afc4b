"""Opening of profiles: for a second start of the program, the runner, or a file manager."""

from __future__ import annotations

from functools import partial
from pathlib import Path

from PyQt6.QtCore import QObject, QTimer, pyqtSignal

from nub_shift.editing.document import Document
from nub_shift.model.problems import ProfileError
from nub_shift.store.library import is_own, note_used
from nub_shift.store.profile_files import read_profile
from nub_shift.translation import tr
from nub_shift.ui.runner_view import RunnerView


class ProfileOpening(QObject):
    """Changes the document to other files.

    Signals:
        said(str): a line for the person.
        opened(): the document has another file.
        given(Path): a file from elsewhere to show before it is added to the library.
    """

    said = pyqtSignal(str)
    opened = pyqtSignal()
    given = pyqtSignal(Path)

    def __init__(self, document: Document, runner: RunnerView, parent: QObject) -> None:
        super().__init__(parent)
        self._document = document
        self._runner = runner
        self._path = Path()  # last file checked by `say_left_out`
        runner.elsewhere.connect(self._follow_runner)

    def show_file(self, profile: str) -> str:
        """Opens the file of a second start, if any; returns the reason of a failure, or empty."""
        path = Path(profile)
        if profile and not is_own(path):
            self.given.emit(path)
            return ""
        if not profile or path == self._document.path.absolute():
            return ""
        fault = self._open(path)
        if not fault:
            self.opened.emit()
        return fault

    def say_left_out(self) -> None:
        """Reports once that settings of one pad were dropped from an older profile, since they made other pads
        drift.
        """
        if self._document.path != self._path:
            self._path = self._document.path
            if self._document.left_out:
                line = tr("This profile said where one pad's sticks rest. That is left out: measure your pad in Pads.")
                QTimer.singleShot(0, partial(self.said.emit, line))  # after the opened station is shown

    def _open(self, path: Path) -> str:
        try:
            self._document.open(path, read_profile(path, self._document.layout))
        except ProfileError as error:
            return str(error)
        note_used(path)
        return ""

    def _follow_runner(self, file: str) -> None:
        """Opens the profile to which the runner has changed."""
        with self._runner.adopting():
            fault = self._open(Path(file))
        if fault:
            self.said.emit(fault)

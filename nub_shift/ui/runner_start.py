"""Start and end of the runner: by the window itself, or by the session."""

from __future__ import annotations

import logging
import signal
from pathlib import Path

from PyQt6.QtCore import QObject, QProcess, QTimer, pyqtSignal

from nub_shift.own_process import FOLDER, PROGRAM, own_command, start_program
from nub_shift.protocol.client import runner_words
from nub_shift.protocol.sockets import READY, default_socket, resident_socket
from nub_shift.translation import tr

log = logging.getLogger("nub_shift.ui")

END_MS = 2_000
# Time for the session to restart its runner, before the window does.
GRACE_MS = 3_000


class RunnerStart(QObject):
    """Socket of a runner, and the way of its start.

    Attributes:
        path: socket of the runner.
        stays: whether the runner outlives the window, and restores its state.

    Signals:
        ended(str): the runner has ended; the reason in words.
    """

    ended = pyqtSignal(str)
    stays = False

    def __init__(self, path: Path) -> None:
        super().__init__()
        self.path = path

    def start(self) -> None:
        """Starts the runner, unless it is running."""
        raise NotImplementedError

    def found(self) -> None:
        """Called when the window has connected."""

    def lost(self) -> None:
        """Called when the connection was lost."""

    def end(self) -> None:
        """Called when the window no longer needs the runner."""


class OwnRunner(RunnerStart):
    """A runner of the window's own, which ends with it."""

    def __init__(self, profile: Path, pad: str, output: str, folder: Path | None = None) -> None:
        """Profiles of `folder` are activated automatically, and can be requested from the pad."""
        super().__init__(default_socket())
        self._words = runner_words(profile, pad, output, self.path, folder)
        self._last_words = ""  # for the person
        self._process = QProcess(self)
        self._process.setWorkingDirectory(FOLDER)
        self._process.setStandardOutputFile(QProcess.nullDevice())
        self._process.readyReadStandardError.connect(self._on_said)
        self._process.finished.connect(self._on_finished)

    def start(self) -> None:
        self._last_words = ""
        program, *words = own_command(PROGRAM, *self._words)
        self._process.start(program, words)

    def end(self) -> None:
        """Ends the runner, which releases everything, and waits for its end."""
        if self._process.state() != QProcess.ProcessState.NotRunning:
            self._process.terminate()
            if not self._process.waitForFinished(END_MS):
                self._process.kill()
                self._process.waitForFinished(END_MS)

    def _on_said(self) -> None:
        """Keeps the last lines on standard error, for a runner that dies; all else comes over the socket."""
        for line in self._process.readAllStandardError().data().decode("utf-8", "replace").splitlines():
            if not line.startswith(f"nub-shift: {READY}"):
                self._last_words = line.removeprefix("nub-shift: ")

    def _on_finished(self) -> None:
        self._on_said()  # unread last lines
        log.info("runner: ended")
        if self._process.exitStatus() is QProcess.ExitStatus.CrashExit:
            number = self._process.exitCode()
            self.ended.emit(
                tr("it was killed")
                if number == signal.SIGKILL
                else tr("it was ended by signal {number}", number=number)
            )
        else:
            self.ended.emit(self._last_words or tr("it said nothing"))


class SessionRunner(RunnerStart):
    """The session's runner, independent of windows."""

    stays = True

    def __init__(self) -> None:
        super().__init__(resident_socket())
        self._waiting = QTimer(self)
        self._waiting.setSingleShot(True)
        self._waiting.setInterval(GRACE_MS)
        self._waiting.timeout.connect(self._on_nobody)

    def start(self) -> None:
        self._waiting.start()

    def found(self) -> None:
        self._waiting.stop()

    def lost(self) -> None:
        self.ended.emit(tr("it did not say why"))

    def end(self) -> None:
        """Does nothing: the runner continues."""
        self._waiting.stop()

    def _on_nobody(self) -> None:
        """Starts the runner in a process that outlives the window, since the session has not."""
        log.warning("nobody starts the session's runner: the window does")
        start_program("resident", "--again")

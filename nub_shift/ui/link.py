"""The window's runner: started, talked to, watched, ended."""

from __future__ import annotations

from pathlib import Path

from PyQt6.QtCore import QObject, QProcess, QTimer, pyqtSignal
from PyQt6.QtNetwork import QLocalSocket

from nub_shift.protocol.client import ClientProtocol, Reply, default_socket, runner_command
from nub_shift.protocol.messages import Telemetry

RESTART_MS = 1_500
MAX_RESTARTS = 3
END_MS = 2_000


class RunnerLink(QObject):
    """Starts a runner in rehearsal and keeps up the conversation with it; never blocks the interface.

    Signals:
        state_changed(State): after each call, and when the runner has connected.
        telemetry(Telemetry), pads(PadsNews): at most `hz` times a second, the latter while it is attended to.
        message(str): something that the person should know.
    """

    state_changed = pyqtSignal(object)
    telemetry = pyqtSignal(object)
    pads = pyqtSignal(object)
    message = pyqtSignal(str)

    def __init__(self, profile: Path, pad: str, output: str, hz: int = 50, parent: QObject | None = None) -> None:
        super().__init__(parent)
        self._path = default_socket()
        self._command = runner_command(profile, pad, output, self._path)
        self._hz = hz
        self._protocol = ClientProtocol()
        self._restarts = 0
        self._ending = False
        self._last_line = ""
        self._toml: str | None = None  # what it plays, if that is not what it was started with
        self._attending = (False, "")
        self._process = QProcess(self)
        self._process.setStandardOutputFile(QProcess.nullDevice())
        self._process.readyReadStandardError.connect(self._on_said)
        self._process.finished.connect(self._on_finished)
        self._socket = QLocalSocket(self)
        self._socket.connected.connect(self._on_connected)
        self._socket.readyRead.connect(self._on_bytes)

    def start(self) -> None:
        """Starts the runner; `state_changed` comes when it is there."""
        self._protocol = ClientProtocol()
        self._process.start(self._command[0], self._command[1:])

    def load(self, toml: str) -> None:
        """Gives the runner another profile."""
        self._toml = toml
        if self._connected:
            self._call("load", {"toml": toml})

    def go(self, live: bool) -> None:
        """Goes live, or back to rehearsal."""
        if self._connected:
            self._call("go", {"live": live})
        else:
            self.message.emit("the runner is not there yet")

    def ask(self, method: str, **params: object) -> None:
        """Calls any other method; what the runner answers comes as a state, or as a message if it refuses."""
        if self._connected:
            self._call(method, params)

    def tell(self, method: str, **params: object) -> None:
        """Calls a method that nothing is to be heard of, since it comes often."""
        if self._connected:
            self._socket.write(self._protocol.tell(method, params))

    def attend(self, on: bool, frames: str = "") -> None:
        """Begins or ends to look at all pads; `frames` is the one to be told whole. It is kept up over a restart."""
        self._attending = (on, frames)
        self.ask("attend", hz=self._hz if on else 0, frames=frames)

    def end(self) -> None:
        """Ends the runner and waits for that; it releases everything by itself."""
        self._ending = True
        self._socket.abort()  # it ends when we hang up
        if self._process.state() != QProcess.ProcessState.NotRunning:
            self._process.terminate()
            if not self._process.waitForFinished(END_MS):
                self._process.kill()
                self._process.waitForFinished(END_MS)

    @property
    def _connected(self) -> bool:
        return self._socket.state() == QLocalSocket.LocalSocketState.ConnectedState

    def _call(self, method: str, params: dict[str, object]) -> None:
        self._socket.write(self._protocol.call(method, params, self._answered))

    def _answered(self, reply: Reply) -> None:
        if reply.error is not None:
            self.message.emit("; ".join([reply.error.message, *reply.error.data]))
        if reply.state is not None:
            self.state_changed.emit(reply.state)

    def _on_said(self) -> None:
        for line in self._process.readAllStandardError().data().decode("utf-8", "replace").splitlines():
            self._last_line = line.removeprefix("nub-shift: ")
            if self._last_line.startswith("ready:"):
                self._socket.connectToServer(str(self._path))
            elif line.startswith("nub-shift: "):
                self.message.emit(self._last_line)
                if self._connected:
                    self._call("state", {})

    def _on_connected(self) -> None:
        self._restarts = 0
        if self._toml is not None:
            self._call("load", {"toml": self._toml})
        self._call("subscribe", {"hz": self._hz})
        if self._attending[0]:
            self.attend(*self._attending)

    def _on_bytes(self) -> None:
        for packet in self._protocol.feed(self._socket.readAll().data()):
            (self.telemetry if isinstance(packet, Telemetry) else self.pads).emit(packet)

    def _on_finished(self) -> None:
        if self._ending:
            return
        self._restarts += 1
        if self._restarts <= MAX_RESTARTS:
            self.message.emit(f"the runner ended ({self._last_line or 'without a word'}); starting it again")
            QTimer.singleShot(RESTART_MS, self.start)
        else:
            self.message.emit(f"the runner does not stay up: {self._last_line or 'it says nothing'}")

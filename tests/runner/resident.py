"""The session's runner as a real process in folders of its own, for tests."""

from __future__ import annotations

import os
import signal
import socket
import struct
import subprocess
import sys
import tempfile
import time
from collections.abc import Callable
from contextlib import closing
from pathlib import Path

from nub_shift.protocol.calls import Call, GetState
from nub_shift.protocol.client import RunnerClient
from nub_shift.protocol.messages import State
from nub_shift.store.residence import ResidentState, read_kept

LIMIT_S = 30


def until(wanted: Callable[[], object]) -> None:
    """Waits until something is so."""
    end = time.monotonic() + LIMIT_S
    while not wanted():
        assert time.monotonic() < end, "never so"
        time.sleep(0.01)


class Home:
    """A person's folders; the session's runner starts and ends in them."""

    def __init__(self, folder: Path, **environment: str) -> None:
        self.state = folder / "state"
        # Not in a folder named by the test: a socket's path could be longer than the 107 bytes of unix(7).
        self.runtime = Path(tempfile.mkdtemp(prefix="h", dir=os.environ["XDG_RUNTIME_DIR"]))
        self.profiles = folder / "data" / "nub-shift" / "profiles"
        folders = {"STATE": self.state, "DATA": folder / "data", "CONFIG": folder / "config", "CACHE": folder / "cache"}
        self.environment = {
            **{name: value for name, value in os.environ.items() if name not in ("DISPLAY", "WAYLAND_DISPLAY")},
            **{f"XDG_{name}_HOME": str(path) for name, path in folders.items()},
            "XDG_RUNTIME_DIR": str(self.runtime),
            **environment,
        }
        self.socket = self.runtime / "nub-shift" / "resident.sock"
        self.kept = self.state / "nub-shift" / "resident.toml"
        self.process: subprocess.Popen[str] | None = None

    def command(self, *words: str) -> subprocess.CompletedProcess[str]:
        """Runs a command of the program."""
        command = [sys.executable, "-m", "nub_shift", *words]
        return subprocess.run(
            command, env=self.environment, capture_output=True, text=True, timeout=LIMIT_S, check=False
        )

    def start(self, *arguments: str) -> list[str]:
        """Starts it; returns what it said until it was ready."""
        command = [sys.executable, "-m", "nub_shift", "resident", "--output", "print", *arguments]
        self.process = subprocess.Popen(
            command, env=self.environment, stdout=subprocess.DEVNULL, stderr=subprocess.PIPE, text=True
        )
        assert self.process.stderr is not None
        said: list[str] = []
        for line in self.process.stderr:
            said.append(line)
            if "ready:" in line:
                return said
        raise AssertionError(said)

    def call(self, *calls: Call) -> State:
        """Asks it for something; the last state."""
        with closing(RunnerClient(self.socket)) as client:
            return [client.call(call) for call in (*calls, GetState())][-1]

    def await_state(self, wanted: Callable[[State], bool]) -> State:
        """Waits until its state is as wanted."""
        end = time.monotonic() + LIMIT_S
        while not wanted(state := self.call()):
            assert time.monotonic() < end, state
            time.sleep(0.01)
        return state

    def pid(self) -> int:
        """The process that listens where the session's runner does; 0 if none does."""
        with socket.socket(socket.AF_UNIX, socket.SOCK_STREAM) as asking:
            try:
                asking.connect(str(self.socket))
            except OSError:
                return 0
            return int(struct.unpack("3i", asking.getsockopt(socket.SOL_SOCKET, socket.SO_PEERCRED, 12))[0])

    def await_kept(self, wanted: Callable[[ResidentState], bool]) -> None:
        """Waits until what is kept is as wanted."""
        end = time.monotonic() + LIMIT_S
        while not wanted(kept := read_kept(self.kept)[0]):
            assert time.monotonic() < end, kept
            time.sleep(0.01)

    def end(self, number: int = signal.SIGTERM) -> int:
        """Ends it; its exit status."""
        assert self.process is not None
        self.process.send_signal(number)
        return self.ended()

    def ended(self) -> int:
        """Waits for its end; its exit status."""
        assert self.process is not None and self.process.stderr is not None
        with self.process.stderr:
            return self.process.wait(LIMIT_S)

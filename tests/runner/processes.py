"""A runner as a real process, for tests. Every wait is for a line or an answer."""

from __future__ import annotations

import signal
import subprocess
import sys
from pathlib import Path

from nub_shift.protocol.client import RunnerClient

DEMO_PROFILE = Path(__file__).parents[2] / "nub_shift" / "demo" / "saltglass.toml"
LIMIT_S = 30


class RunnerProcess:
    """`nub-shift run` with a socket in `folder`; ready when constructed."""

    def __init__(self, folder: Path, *arguments: str, profile: Path = DEMO_PROFILE, alone: bool = False) -> None:
        """`alone` in a process group of its own."""
        self.socket = folder / "runner.sock"
        command = [sys.executable, "-m", "nub_shift", "run", str(profile), "--socket", str(self.socket), *arguments]
        group = 0 if alone else None
        pipe = subprocess.PIPE
        self.process = subprocess.Popen(command, stdout=pipe, stderr=pipe, text=True, process_group=group)
        self.said: list[str] = []
        self.wait_line("ready:")

    def wait_line(self, part: str) -> str:
        """The next line of standard error that has `part`."""
        assert self.process.stderr is not None
        for line in self.process.stderr:
            self.said.append(line)
            if part in line:
                return line
        code, _ = self.finish()
        raise AssertionError(f"it ended with {code} and said {self.said}")

    def client(self) -> RunnerClient:
        return RunnerClient(self.socket, LIMIT_S)

    def end(self, number: int = signal.SIGTERM) -> tuple[int, str]:
        """Sends a signal; returns exit status and what was printed."""
        self.process.send_signal(number)
        return self.finish()

    def finish(self) -> tuple[int, str]:
        """Waits for its own end; returns exit status and what was printed."""
        printed, said = self.process.communicate(timeout=LIMIT_S)
        self.said.append(said)
        return self.process.returncode, printed

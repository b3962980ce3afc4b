"""The runner's side of a watcher: a small process that releases pressed keys after the death or hang of the runner.

The watcher receives words through a pipe. It releases keys when the pipe closes, which the kernel does after any death
including SIGKILL, and when nothing arrives for `STALL_S` while keys are down: then the runner is stopped, swapped out
or in a debugger. The watcher leaves the runner's process group, session and, where permitted, control group, so that
ending, stopping or freezing those does not affect it.
"""

from __future__ import annotations

import contextlib
import logging
import os
import re
import select
import signal
import subprocess
import time
from collections.abc import Callable, Sequence
from pathlib import Path
from typing import Final

from nub_shift.engine.values import US_PER_SECOND
from nub_shift.model.messages import Code
from nub_shift.outputs.output import OutputError
from nub_shift.own_process import start_own

log = logging.getLogger("nub_shift.outputs")

# Silence of the runner after which the watcher releases the keys.
STALL_S: Final = 2.0
# Interval of heartbeats while keys are down; and the delay after which the runner assumes that the watcher has released
# everything, which is earlier than the watcher does so.
BEAT_US: Final = US_PER_SECOND // 2
STALLED_US: Final = US_PER_SECOND * 3 // 2
# Timeout for a server that may hang.
HANGS_S: Final = 0.5
# Timeout for the start of a watcher. On a busy machine Python alone takes a second or two.
START_S: Final = 10.0

# A word through the pipe has two bytes, the first with these flags.
DOWN: Final = 1
BUTTON: Final = 2
BEAT: Final = 4
WORD_BYTES: Final = 2
READY: Final = b"+"
# Timeout for the answer to a heartbeat; a starting watcher may take longer.
ANSWER_S: Final = 4.0
FIRST_ANSWER_S: Final = 30.0
# Bound on the waiting time counted between two heartbeats: without keys no heartbeat is sent, and both processes may
# have been stopped.
MOST_WAITED_S: Final = 1.0
_MOST_ANSWERS: Final = 4096


class Watcher:
    """The runner's end of the pipe. Only `await_ready` and `close` wait for the watcher.

    Attributes:
        is_gone: the watcher has ended or does not answer, so that keys would stay down after a crash.

    Raises:
        OutputError: the process cannot be started.
    """

    def __init__(self, module: str, *words: str, keeps: Sequence[int] = ()) -> None:
        """`module` is run by the process with `words` as arguments; `keeps` are descriptors to inherit."""
        to_it = subprocess.PIPE
        try:
            self._process = start_own(
                module, *words, stdin=to_it, stdout=to_it, stderr=subprocess.STDOUT, outlives=True, keeps=keeps
            )
        except OSError as error:
            raise OutputError(Code.WATCHER_MISSING, why=error.strerror) from None
        assert self._process.stdin is not None and self._process.stdout is not None
        self._pipe, self._answers = self._process.stdin, self._process.stdout
        os.set_blocking(self._pipe.fileno(), False)
        self.is_gone = False
        self._waited_s, self._limit_s = 0.0, FIRST_ANSWER_S
        self._beat_s = time.monotonic()  # time of the last heartbeat

    def notify(self, flags: int, number: int) -> None:
        """Sends a word, which also counts as a heartbeat."""
        try:
            taken = self._pipe.write(bytes((flags, number)))
        except BrokenPipeError:
            taken = None
        self.is_gone = self.is_gone or taken is None  # the watcher has ended, or has not read thousands of words

    def beat(self, flags: int = 0) -> None:
        """Sends a heartbeat, which the watcher answers.

        Raises:
            OutputError: the watcher is gone.
        """
        self.notify(BEAT | flags, 0)
        before_s, self._beat_s = self._beat_s, time.monotonic()
        if select.select([self._answers], [], [], 0.0)[0]:
            self._waited_s, self._limit_s = 0.0, ANSWER_S
            self.is_gone = self.is_gone or not os.read(self._answers.fileno(), _MOST_ANSWERS)
        else:
            self._waited_s += min(self._beat_s - before_s, MOST_WAITED_S)
            self.is_gone = self.is_gone or self._waited_s > self._limit_s
        self.check()

    def check(self) -> None:
        """Checks that the watcher is alive.

        Raises:
            OutputError: the watcher is gone.
        """
        if self.is_gone:
            raise OutputError(Code.WATCHER_GONE)

    def close(self, spares: bool = False) -> None:
        """Ends the watcher, which releases all pressed keys.

        A watcher that does not end soon is killed, unless `spares` is set for one that waits for a hanging server.
        """
        self._pipe.close()
        self._answers.close()
        try:
            self._process.wait(0.0 if self.is_gone else HANGS_S)
        except subprocess.TimeoutExpired:
            if self.is_gone or not spares:
                self._process.kill()
                self._process.wait()

    def await_ready(self) -> None:
        """Waits until the watcher is ready; nothing may be pressed before if a missing watcher would leave keys down.

        Raises:
            OutputError: the watcher did not start.
        """
        ready, _, _ = select.select([self._answers], [], [], START_S)
        said = os.read(self._answers.fileno(), len(READY)) if ready else b"no answer"
        if said == READY:
            self._limit_s = ANSWER_S
            return
        said += self._answers.read() if ready else b""
        self._process.kill()
        self.close()
        text = said.decode(errors="replace").strip()
        log.warning("no watcher: %s", text)
        raise OutputError(Code.WATCHER_MISSING, why=text.rpartition("\n")[2])


def watch(
    come: Callable[[int, int], None],
    holds: Callable[[], bool],
    release: Callable[[], None],
    server: Callable[[], int | None] = lambda: None,
    on_server: Callable[[], None] = lambda: None,
) -> None:
    """Runs a watcher until the runner has gone, which closes standard input.

    Args:
        come: receives each word; heartbeats are answered.
        holds: returns whether any key is down.
        release: releases all keys; called when the runner stalls, and at the end.
        server: a further descriptor to poll, read by `on_server`.
    """
    rest = b""
    while True:
        extra = server()
        reading = [0] if extra is None else [0, extra]
        readable = select.select(reading, [], [], STALL_S if holds() else None)[0]
        if extra in readable:
            on_server()
        if not readable:
            release()
        if 0 not in readable:
            continue
        data = os.read(0, 4096)
        if not data:
            release()
            return
        data = rest + data
        whole = len(data) // WORD_BYTES * WORD_BYTES
        rest = data[whole:]
        for flags, number in zip(data[:whole:2], data[1:whole:2], strict=True):
            come(flags, number)
            if flags & BEAT:
                with contextlib.suppress(OSError):  # the runner may have gone without reading the answers
                    os.write(1, READY)


def begin() -> None:
    """Detaches this process from the runner's groups; called first by a watcher's process."""
    os.set_blocking(1, False)
    for ignored in (signal.SIGINT, signal.SIGTERM, signal.SIGHUP):
        signal.signal(ignored, signal.SIG_IGN)
    leave_groups(Path("/proc/self/cgroup"), Path("/sys/fs/cgroup"))


def report_ready() -> None:
    """Reports to the runner that the watcher is ready."""
    os.write(1, READY)


def leave_groups(own: Path, groups: Path) -> None:
    """Moves this process into a control group of its own, where the user's service manager permits that.

    `own` is the file with the present group, as /proc/self/cgroup; `groups` is the mount point of control groups.
    """
    with contextlib.suppress(OSError):
        line = next((line for line in own.read_text("ascii").splitlines() if line.startswith("0::")), "")
        within = re.match(r"0::(/.*/user@\d+\.service)/", line)
        if within is not None:
            apart = groups / within[1].lstrip("/") / "nub-shift-watcher"
            apart.mkdir(exist_ok=True)
            (apart / "cgroup.procs").write_text(str(os.getpid()), "ascii")

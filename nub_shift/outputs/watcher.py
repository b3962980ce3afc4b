"""A small process that outlives the runner, or sees it hang, and releases what it left pressed: the runner's end of it.

A watcher gets what it has to know through a pipe. It acts when the pipe closes, which the kernel does after any death,
SIGKILL included, and when nothing has come through it for `STALL_S` while something is down: then the runner is
stopped, swapped out or held by a debugger. It leaves the runner's process group, its session and, where that is
allowed, its control group: whoever ends, stops or freezes all of those does not reach the watcher.
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

# After so long without a word from the runner, what is down is released.
STALL_S: Final = 2.0
# How often the runner says that it is there while something is down; and after how long without that it must take it
# that the watcher has released everything, which is sooner than the watcher does so.
BEAT_US: Final = US_PER_SECOND // 2
STALLED_US: Final = US_PER_SECOND * 3 // 2
# For how long a server that may hang is waited for.
HANGS_S: Final = 0.5
# How long a watcher may take to be ready. On a busy machine Python alone takes a second or two.
START_S: Final = 10.0

# Every word through the pipe is two bytes, its first one of these flags.
DOWN: Final = 1
BUTTON: Final = 2
BEAT: Final = 4
WORD_BYTES: Final = 2
READY: Final = b"+"
# A watcher that answers no sign of life for so long is taken to hang; one that starts may take longer.
ANSWER_S: Final = 4.0
FIRST_ANSWER_S: Final = 30.0
# Between two signs of life no more than this counts as waited: nothing need be sent, or both may have been stopped.
MOST_WAITED_S: Final = 1.0
_MOST_ANSWERS: Final = 4096


class Watcher:
    """The runner's end of the pipe. No call waits for the watcher, but `await_ready` and `close`.

    Attributes:
        is_gone: it has ended, or does not answer: what is pressed from now on would stay down after a crash.

    Raises:
        OutputError: the process cannot be started.
    """

    def __init__(self, module: str, *words: str, keeps: Sequence[int] = ()) -> None:
        """`module` is what the process runs, with `words`; `keeps` are descriptors that it inherits."""
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
        self._beat_s = time.monotonic()  # when the last sign of life was sent

    def tell(self, flags: int, number: int) -> None:
        """Sends a word, which is a sign of life as well."""
        try:
            taken = self._pipe.write(bytes((flags, number)))
        except BrokenPipeError:
            taken = None
        self.is_gone = self.is_gone or taken is None  # it has ended, or has taken nothing for thousands of words

    def beat(self, flags: int = 0) -> None:
        """Sends a sign of life, which the watcher answers.

        Raises:
            OutputError: it is gone.
        """
        self.tell(BEAT | flags, 0)
        before_s, self._beat_s = self._beat_s, time.monotonic()
        if select.select([self._answers], [], [], 0.0)[0]:
            self._waited_s, self._limit_s = 0.0, ANSWER_S
            self.is_gone = self.is_gone or not os.read(self._answers.fileno(), _MOST_ANSWERS)
        else:
            self._waited_s += min(self._beat_s - before_s, MOST_WAITED_S)
            self.is_gone = self.is_gone or self._waited_s > self._limit_s
        self.check()

    def check(self) -> None:
        """Raises OutputError if it is gone."""
        if self.is_gone:
            raise OutputError(Code.WATCHER_GONE)

    def close(self, spares: bool = False) -> None:
        """Ends the watcher, which releases what is still pressed.

        One that does not end soon is killed, unless it `spares` one that waits for a server that hangs.
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
        """Waits until it watches: where its absence would leave keys down, nothing may be pressed before.

        Raises:
            OutputError: it did not start.
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
    """A watcher's whole life: until the runner has gone, which it is told by the end of standard input.

    Args:
        come: gets each word of the runner; those that are signs of life are answered.
        holds: whether anything is down.
        release: releases it; is called when the runner stalls, and at the end.
        server: a descriptor to be watched besides, whose news `on_server` takes.
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
                with contextlib.suppress(OSError):  # who does not read answers may have gone
                    os.write(1, READY)


def begin() -> None:
    """Leaves whatever the runner belongs to: to be called first by a watcher's process."""
    os.set_blocking(1, False)
    for ignored in (signal.SIGINT, signal.SIGTERM, signal.SIGHUP):
        signal.signal(ignored, signal.SIG_IGN)
    stand_apart(Path("/proc/self/cgroup"), Path("/sys/fs/cgroup"))


def say_ready() -> None:
    """The watcher watches from now on."""
    os.write(1, READY)


def stand_apart(own: Path, groups: Path) -> None:
    """Moves this process into a control group of its own, where the user's service manager lets its user do so.

    `own` tells the present group as the kernel does in /proc/self/cgroup; `groups` is where groups are mounted.
    """
    with contextlib.suppress(OSError):
        line = next((line for line in own.read_text("ascii").splitlines() if line.startswith("0::")), "")
        within = re.match(r"0::(/.*/user@\d+\.service)/", line)
        if within is not None:
            apart = groups / within[1].lstrip("/") / "nub-shift-watcher"
            apart.mkdir(exist_ok=True)
            (apart / "cgroup.procs").write_text(str(os.getpid()), "ascii")

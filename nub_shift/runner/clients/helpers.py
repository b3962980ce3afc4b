"""Helper processes of the runner: started, monitored, and restarted when they end or hang."""

from __future__ import annotations

import logging
import os
import signal
from collections.abc import Callable, Mapping
from contextlib import suppress
from typing import Final

from nub_shift.engine.agenda import earlier
from nub_shift.own_process import own_environment, start_own
from nub_shift.protocol.clock import monotonic_us
from nub_shift.runner.background import BackgroundWork

log = logging.getLogger("nub_shift.runner")

# First delay before a restart, doubled each time; reset after a process has run for some time.
FIRST_US: Final = 500_000
LONGEST_US: Final = 60_000_000
UP_US: Final = 60_000_000
# Interval of heartbeats while there is any activity, and the limit for an answer.
ASK_US: Final = 1_000_000
ANSWER_US: Final = 4_000_000
# Limit from the start of a process to its connection.
CONNECT_US: Final = 20_000_000


class Helper:
    """One helper process. The helper connects to the runner's socket by itself, and ends when the runner disconnects.

    Attributes:
        pid: id of the process; 0 if there is none.
    """

    def __init__(
        self,
        module: str,
        words: tuple[str, ...],
        beside: BackgroundWork,
        failed: Callable[[], None],
        environment: Mapping[str, str] | None = None,
        works_on_request: bool = False,
    ) -> None:
        """`failed` is called when the helper hangs, and once when it ends repeatedly.

        A helper that `works_on_request` works only on request, and gets heartbeats only after a request.
        """
        self._ping: Callable[[], None] | None = None  # sends a heartbeat; None while the helper is not connected
        self._unconnected_us: int | None = None  # start of the process while it is not connected
        self._module = module
        self._words = words
        self._beside = beside
        self._failed = failed
        self._environment = dict(environment or {})
        self._rests = works_on_request
        self._works = not works_on_request
        self.pid = 0
        self._wanted = False
        self._told = False
        self._started_us = 0
        self._wait_us = FIRST_US
        self._start_us: int | None = None  # time of the next start
        self._pinged_us = 0  # time of an unanswered heartbeat; 0 if there is none
        self._next_us = 0  # earliest time of the next heartbeat

    def start(self) -> None:
        """Starts the helper and keeps it running."""
        if not self._wanted:
            self._wanted = True
            self._launch()

    def due_us(self) -> int | None:
        """Returns when `work` has to be called without any other event."""
        answer_us = self._pinged_us + ANSWER_US if self._pinged_us else None
        connect_us = self._unconnected_us + CONNECT_US if self._unconnected_us is not None else None
        return earlier(earlier(self._start_us, answer_us), connect_us)

    def work(self, now_us: int) -> None:
        """Restarts the helper if due, sends heartbeats, and kills a helper that does not answer."""
        if self._start_us is not None and now_us >= self._start_us:
            self._start_us = None
            self._launch()
        elif self._hangs(now_us):
            self._end_hung()
        elif self._ping is not None and self._works and not self._pinged_us and now_us >= self._next_us:
            self._pinged_us, self._works = now_us, not self._rests
            self._ping()

    def _hangs(self, now_us: int) -> bool:
        """Returns whether an answer or the connection is overdue."""
        unanswered = self._pinged_us and now_us - self._pinged_us >= ANSWER_US
        return bool(unanswered) or (self._unconnected_us is not None and now_us - self._unconnected_us >= CONNECT_US)

    def note_connected(self, ping: Callable[[], None]) -> None:
        """Records the connection; `ping` sends a heartbeat."""
        self._ping, self._unconnected_us, self._pinged_us = ping, None, 0

    def note_sent(self) -> None:
        """Records that the helper has been given work."""
        self._works = True

    def restart_now(self) -> None:
        """Restarts the helper at once if it waits for a restart, since a missing resource is back."""
        if self._start_us is not None:
            self._start_us, self._wait_us = monotonic_us(), FIRST_US

    def note_answer(self, now_us: int) -> None:
        """Records the answer to a heartbeat."""
        self._pinged_us, self._next_us = 0, now_us + ASK_US

    def note_gone(self) -> None:
        """Records the end of the connection."""
        self._ping, self._pinged_us = None, 0
        self._unconnected_us = monotonic_us() if self.pid else None

    def _launch(self) -> None:
        self._started_us = monotonic_us()
        try:
            process = start_own(self._module, *self._words, environment=own_environment(**self._environment))
        except OSError as error:
            log.warning("%s cannot be started: %s", self._module, error)
            self._again()
            return
        self.pid, self._unconnected_us = process.pid, self._started_us
        log.info("%s: process %d", self._module, process.pid)
        self._beside.run(process.wait, self._on_ended)

    def _end_hung(self) -> None:
        log.warning("%s: process %d does not answer", self._module, self.pid)
        self._failed()
        self._ping, self._pinged_us, self._unconnected_us = None, 0, None
        with suppress(ProcessLookupError):
            os.kill(self.pid, signal.SIGKILL)

    def _on_ended(self, status: int) -> None:
        log.info("%s: process %d has ended, status %d", self._module, self.pid, status)
        self.pid = 0
        self.note_gone()
        self._again()

    def _again(self) -> None:
        now_us = monotonic_us()
        if now_us - self._started_us > UP_US:
            self._wait_us, self._told = FIRST_US, False
        if self._wait_us > FIRST_US and not self._told:
            self._told = True
            self._failed()
        self._start_us = now_us + self._wait_us
        self._wait_us = min(2 * self._wait_us, LONGEST_US)


class Helpers:
    """All helpers of the runner."""

    def __init__(self, *helpers: Helper) -> None:
        self._helpers = helpers

    def of_process(self, pid: int) -> Helper | None:
        """Returns the helper with this process id."""
        return next((helper for helper in self._helpers if helper.pid == pid), None)

    def restart_now(self) -> None:
        """Restarts at once the helpers that wait for a restart."""
        for helper in self._helpers:
            helper.restart_now()

    def due_us(self) -> int | None:
        """Returns when `work` has to be called."""
        due_us: int | None = None
        for helper in self._helpers:
            due_us = earlier(due_us, helper.due_us())
        return due_us

    def close(self) -> None:
        """Continues stopped helpers, so that each ends after the runner's disconnection."""
        for helper in self._helpers:
            if helper.pid:
                with suppress(ProcessLookupError):
                    os.kill(helper.pid, signal.SIGCONT)

    def work(self, now_us: int) -> None:
        """Advances all helpers."""
        for helper in self._helpers:
            helper.work(now_us)


# Environment of a helper that rarely paints: freed memory returns to the system (mallopt(3)), and Qt loads no platform
# theme.
FRUGAL: Final = {
    "MALLOC_ARENA_MAX": "1",
    "MALLOC_MMAP_THRESHOLD_": "65536",
    "MALLOC_TRIM_THRESHOLD_": "65536",
    "QT_QPA_PLATFORMTHEME": "generic",
}

"""Processes that work for the runner: started, looked after, and started again when they end or hang."""

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
from nub_shift.runner.beside import Beside

log = logging.getLogger("nub_shift.runner")

# How long it waits before a process is started again: twice as long each time; after one that was up for a while, from
# the beginning.
FIRST_US: Final = 500_000
LONGEST_US: Final = 60_000_000
UP_US: Final = 60_000_000
# How often a process is asked whether it works, while anything happens at all; and how long it may take to answer.
ASK_US: Final = 1_000_000
ANSWER_US: Final = 4_000_000
# It may take so long from its start until it is connected.
CONNECT_US: Final = 20_000_000


class Helper:
    """One process. It connects to the runner's socket by itself, and ends as the runner hangs up.

    Attributes:
        pid: of the process; 0 while there is none.
    """

    def __init__(
        self,
        module: str,
        words: tuple[str, ...],
        beside: Beside,
        failed: Callable[[], None],
        environment: Mapping[str, str] | None = None,
        rests: bool = False,
    ) -> None:
        """`failed` is called when it hangs, and once when it ends time and again.

        One that `rests` works only when it is sent something, and is asked only after that.
        """
        self._ask: Callable[[], None] | None = None  # None while it is not connected
        self._lone_us: int | None = None  # since when it is there and not connected
        self._module = module
        self._words = words
        self._beside = beside
        self._failed = failed
        self._environment = dict(environment or {})
        self._rests = rests
        self._works = not rests
        self.pid = 0
        self._wanted = False
        self._told = False
        self._started_us = 0
        self._wait_us = FIRST_US
        self._start_us: int | None = None  # when it is to be started again
        self._asked_us = 0  # when it was asked last, and has not answered; 0 if it has
        self._next_us = 0  # not before that is it asked again

    def start(self) -> None:
        """Has it there from now on."""
        if not self._wanted:
            self._wanted = True
            self._launch()

    def due_us(self) -> int | None:
        """When `work` wants to be called, though nothing else happens."""
        answer_us = self._asked_us + ANSWER_US if self._asked_us else None
        connect_us = self._lone_us + CONNECT_US if self._lone_us is not None else None
        return earlier(earlier(self._start_us, answer_us), connect_us)

    def work(self, now_us: int) -> None:
        """Starts it again if that is due, asks it whether it works, and ends it when it does not answer."""
        if self._start_us is not None and now_us >= self._start_us:
            self._start_us = None
            self._launch()
        elif self._hangs(now_us):
            self._end_hung()
        elif self._ask is not None and self._works and not self._asked_us and now_us >= self._next_us:
            self._asked_us, self._works = now_us, not self._rests
            self._ask()

    def _hangs(self, now_us: int) -> bool:
        """Whether it has not answered, or not connected, for too long."""
        unanswered = self._asked_us and now_us - self._asked_us >= ANSWER_US
        return bool(unanswered) or (self._lone_us is not None and now_us - self._lone_us >= CONNECT_US)

    def note_connected(self, ask: Callable[[], None]) -> None:
        """It has connected; `ask` asks it whether it works."""
        self._ask, self._lone_us, self._asked_us = ask, None, 0

    def note_sent(self) -> None:
        """It was sent something to work on."""
        self._works = True

    def hurry(self) -> None:
        """Starts it again at once if it waits for that: what it could not do without is back."""
        if self._start_us is not None:
            self._start_us, self._wait_us = monotonic_us(), FIRST_US

    def note_answer(self, now_us: int) -> None:
        """It works."""
        self._asked_us, self._next_us = 0, now_us + ASK_US

    def note_gone(self) -> None:
        """Its connection has ended."""
        self._ask, self._asked_us = None, 0
        self._lone_us = monotonic_us() if self.pid else None

    def _launch(self) -> None:
        self._started_us = monotonic_us()
        try:
            process = start_own(self._module, *self._words, environment=own_environment(**self._environment))
        except OSError as error:
            log.warning("%s cannot be started: %s", self._module, error)
            self._again()
            return
        self.pid, self._lone_us = process.pid, self._started_us
        log.info("%s: process %d", self._module, process.pid)
        self._beside.run(process.wait, self._on_ended)

    def _end_hung(self) -> None:
        log.warning("%s: process %d does not answer", self._module, self.pid)
        self._failed()
        self._ask, self._asked_us, self._lone_us = None, 0, None
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
    """All of them."""

    def __init__(self, *helpers: Helper) -> None:
        self._helpers = helpers

    def of_process(self, pid: int) -> Helper | None:
        """The one that runs as that process."""
        return next((helper for helper in self._helpers if helper.pid == pid), None)

    def hurry(self) -> None:
        """Starts those again at once that wait for it."""
        for helper in self._helpers:
            helper.hurry()

    def due_us(self) -> int | None:
        """When `work` wants to be called."""
        due_us: int | None = None
        for helper in self._helpers:
            due_us = earlier(due_us, helper.due_us())
        return due_us

    def close(self) -> None:
        """Has those go on that are stopped: each ends by itself once the runner has hung up."""
        for helper in self._helpers:
            if helper.pid:
                with suppress(ProcessLookupError):
                    os.kill(helper.pid, signal.SIGCONT)

    def work(self, now_us: int) -> None:
        """Lets time pass."""
        for helper in self._helpers:
            helper.work(now_us)


# A process that paints now and then: pictures go back to the system (mallopt(3)), and no desktop's own toolkit is
# loaded beside Qt.
FRUGAL: Final = {
    "MALLOC_ARENA_MAX": "1",
    "MALLOC_MMAP_THRESHOLD_": "65536",
    "MALLOC_TRIM_THRESHOLD_": "65536",
    "QT_QPA_PLATFORMTHEME": "generic",
}

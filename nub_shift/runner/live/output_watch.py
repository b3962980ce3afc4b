"""Detection of the loss of a receiver of outputs, and of its return."""

from __future__ import annotations

import os
from collections.abc import Callable
from functools import partial
from typing import Final, Protocol

from nub_shift.model.messages import Message
from nub_shift.outputs.output import OutputDevice, OutputError
from nub_shift.runner.background import BackgroundWork
from nub_shift.runner.watch import Watch

# First delay before checking for the return, doubled each time.
FIRST_US: Final = 500_000
LONGEST_US: Final = 8_000_000


class OutputUser(Protocol):
    """The sender of outputs: a session."""

    def lose_output(self, why: Message) -> None:
        """Reports that the receiver has gone."""

    def regain_output(self, now_us: int) -> bool:
        """Reports that the receiver may be back; returns whether no retry is needed."""


class OutputWatch:
    """Watches one output at a time."""

    def __init__(self, user: OutputUser, watch: Watch, beside: BackgroundWork, clock: Callable[[], int]) -> None:
        self._user = user
        self._watch = watch
        self._beside = beside
        self._clock = clock
        self._fd = -1
        self._wait_us = FIRST_US
        self._look_us: int | None = None  # time of the next check for the return

    def begin(self, output: OutputDevice) -> None:
        """Watches the receiver of an opened output."""
        self.end()
        self._fd = output.fileno()
        if self._fd >= 0:
            self._watch.read(self._fd, partial(self._check, output))

    def end(self) -> None:
        """Stops watching and waiting."""
        self._look_us = None
        if self._fd >= 0:
            self._watch.forget(self._fd)
            self._fd = -1

    def await_return(self) -> None:
        """Begins to check for the return of the receiver."""
        self.end()
        self._wait_us = FIRST_US
        self._look_us = self._clock() + self._wait_us

    def due_us(self) -> int | None:
        """Returns when `work` has to be called."""
        return self._look_us

    def work(self, now_us: int) -> None:
        """Checks for the receiver if due, beside play, since the call blocks if the server hangs."""
        if self._look_us is not None and now_us >= self._look_us:
            self._look_us = None
            self._beside.run(display_answers, self._on_looked)

    def _on_looked(self, answers: bool) -> None:
        now_us = self._clock()
        if not answers or not self._user.regain_output(now_us):
            self._look_us = now_us + self._wait_us
            self._wait_us = min(2 * self._wait_us, LONGEST_US)

    def _check(self, output: OutputDevice) -> None:
        try:
            output.check()
        except OutputError as error:
            self._user.lose_output(error.message)


def display_answers() -> bool:
    """Returns whether the X server of this session accepts clients."""
    if not os.environ.get("DISPLAY"):
        return True
    from nub_shift.front.x11 import X11Windows

    connection = X11Windows.connect()
    if connection is None:
        return False
    connection.close()
    return True

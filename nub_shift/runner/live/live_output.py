"""The output of a live session."""

from __future__ import annotations

from collections.abc import Callable
from contextlib import suppress
from typing import Protocol

from nub_shift.engine.agenda import earlier
from nub_shift.engine.values import Output
from nub_shift.model.messages import Code
from nub_shift.outputs.output import OutputDevice, OutputError
from nub_shift.outputs.watcher import BEAT_US


class OutputWatcher(Protocol):
    """Watches the receiver of outputs, and notifies the session when the receiver goes or may be back."""

    def begin(self, output: OutputDevice) -> None:
        """Watches the receiver of an opened output."""

    def end(self) -> None:
        """Stops watching and waiting."""

    def await_return(self) -> None:
        """Begins to check for the return of the receiver."""

    def due_us(self) -> int | None:
        """Returns when `work` has to be called."""

    def work(self, now_us: int) -> None:
        """Advances the time."""


class LiveOutput:
    """An output opened at its first use, which sends heartbeats to its watcher while any key is down.

    Attributes:
        watch: watches the receiver, None if unwatched.
        is_lost: the receiver has gone, and its return is awaited.
        beat_us: time of the last heartbeat; None while nothing is down.
    """

    def __init__(self, open_output: Callable[[], OutputDevice]) -> None:
        self.watch: OutputWatcher | None = None
        self.is_lost = False
        self.beat_us: int | None = None
        self._open_output = open_output
        self._device: OutputDevice | None = None

    def open(self) -> None:
        """Opens the output if closed.

        Raises:
            OutputError: the output cannot be opened.
        """
        if self._device is None:
            self._device = self._open_output()
            self.is_lost = False
            if self.watch is not None:
                self.watch.begin(self._device)

    def send(self, outputs: list[Output]) -> None:
        """Sends the outputs of one step if open.

        Raises:
            OutputError: the outputs were not accepted.
        """
        if self._device is not None:
            self._device.send(outputs)

    def lose(self, awaits: bool, why: Code) -> bool:
        """Closes a failed output; returns whether its return is awaited, as requested by `awaits`.

        Only the return of a display can be detected; a watcher can be restarted.
        """
        device, watch = self._device, self.watch
        returns = awaits and device is not None and (device.fileno() >= 0 or why is Code.WATCHER_GONE)
        self.beat_us, self._device = None, None
        if watch is not None:
            watch.end()
        if device is not None:
            with suppress(OutputError):  # the receiver has gone
                device.close()
        self.is_lost = returns and watch is not None
        if self.is_lost and watch is not None:
            watch.await_return()
        return self.is_lost

    def close(self) -> None:
        """Releases all keys that are down, then closes."""
        if self._device is not None:
            self._device.close()

    def due_us(self) -> int | None:
        """Returns when `work` has to be called."""
        due_us = self.beat_us + BEAT_US if self.beat_us is not None else None
        return earlier(due_us, self.watch.due_us()) if self.is_lost and self.watch is not None else due_us

    def work(self, now_us: int) -> None:
        """Sends heartbeats while any key is down and one last after the release; checks for a lost receiver.

        Raises:
            OutputError: the watcher of the output has gone.
        """
        device = self._device
        if device is None:
            if self.is_lost and self.watch is not None:
                self.watch.work(now_us)
        elif not device.holds:
            if self.beat_us is not None:
                self.beat_us = None
                device.beat()
        elif self.beat_us is None or now_us - self.beat_us >= BEAT_US:
            self.beat_us = now_us
            device.beat()

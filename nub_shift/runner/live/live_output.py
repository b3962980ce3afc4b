"""The output that a session sends to while it is live."""

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
    """Watches whether the receiver of outputs is there, and notifies the session when it goes and may be back."""

    def begin(self, output: OutputDevice) -> None:
        """Watches the receiver of an opened output."""

    def end(self) -> None:
        """Nothing is open any more, nor waited for."""

    def await_return(self) -> None:
        """Looks from now on whether the receiver is back."""

    def due_us(self) -> int | None:
        """When `work` wants to be called."""

    def work(self, now_us: int) -> None:
        """Lets time pass."""


class LiveOutput:
    """An output that is opened when it is first needed, and sends its watcher signs of life while it holds anything.

    Attributes:
        watch: watches the receiver, if anybody does.
        is_lost: the receiver has gone, and its return is awaited.
        beat_us: when the last sign of life was sent; None while nothing is down.
    """

    def __init__(self, open_output: Callable[[], OutputDevice]) -> None:
        self.watch: OutputWatcher | None = None
        self.is_lost = False
        self.beat_us: int | None = None
        self._open_output = open_output
        self._device: OutputDevice | None = None

    def open(self) -> None:
        """Opens it, if it is not open.

        Raises:
            OutputError: it cannot be opened.
        """
        if self._device is None:
            self._device = self._open_output()
            self.is_lost = False
            if self.watch is not None:
                self.watch.begin(self._device)

    def send(self, outputs: list[Output]) -> None:
        """Sends the outputs of one step, if it is open; raises OutputError if they were not taken."""
        if self._device is not None:
            self._device.send(outputs)

    def lose(self, awaits: bool, why: Code) -> bool:
        """Lets go of an output that takes nothing; returns whether its return is awaited, as `awaits` wants.

        Only of a display is it known whether it is back, and a watcher can be started again.
        """
        device, watch = self._device, self.watch
        returns = awaits and device is not None and (device.fileno() >= 0 or why is Code.WATCHER_GONE)
        self.beat_us, self._device = None, None
        if watch is not None:
            watch.end()
        if device is not None:
            with suppress(OutputError):  # it has gone
                device.close()
        self.is_lost = returns and watch is not None
        if self.is_lost and watch is not None:
            watch.await_return()
        return self.is_lost

    def close(self) -> None:
        """Releases whatever is still down, then closes."""
        if self._device is not None:
            self._device.close()

    def due_us(self) -> int | None:
        """When `work` wants to be called."""
        due_us = self.beat_us + BEAT_US if self.beat_us is not None else None
        return earlier(due_us, self.watch.due_us()) if self.is_lost and self.watch is not None else due_us

    def work(self, now_us: int) -> None:
        """Sends a sign of life while something is down and a last one when nothing is, and awaits a lost receiver.

        Raises:
            OutputError: what watches the output has gone.
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

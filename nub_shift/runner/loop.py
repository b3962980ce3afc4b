"""One thread, one selector: waits for pads, clients, signals and deadlines, and lets each work."""

from __future__ import annotations

import selectors
import signal
import socket
from collections.abc import Callable
from types import FrameType

from nub_shift.engine.values import US_PER_SECOND
from nub_shift.runner.clock import monotonic_us
from nub_shift.runner.seat import Seat
from nub_shift.runner.server import Server

STOP_SIGNALS = (signal.SIGINT, signal.SIGTERM, signal.SIGHUP)


class StopSignals:
    """Notes a signal that asks to stop and wakes the selector through a socket pair.

    Attributes:
        caught: one has come.
    """

    def __init__(self, selector: selectors.BaseSelector) -> None:
        self.caught = False
        self._selector = selector
        self._wake, self._woken = socket.socketpair()
        for end in (self._wake, self._woken):
            end.setblocking(False)
        selector.register(self._woken, selectors.EVENT_READ, self._drain)
        self._before_fd = signal.set_wakeup_fd(self._wake.fileno(), warn_on_full_buffer=False)
        self._before = {number: signal.signal(number, self._on_signal) for number in STOP_SIGNALS}

    def close(self) -> None:
        """Puts the handlers back that were there before."""
        for number, handler in self._before.items():
            signal.signal(number, handler)
        signal.set_wakeup_fd(self._before_fd)
        self._selector.unregister(self._woken)
        self._wake.close()
        self._woken.close()

    def _on_signal(self, _number: int, _frame: FrameType | None) -> None:
        self.caught = True

    def _drain(self, _mask: int) -> None:
        self._woken.recv(64)


def run_loop(
    seat: Seat, server: Server, stop: StopSignals, selector: selectors.BaseSelector, end_us: int | None
) -> None:
    """Plays until a signal, a client's `stop`, the end of a recording, or `end_us`.

    The selector must be one whose timeouts are finer than a millisecond: those of epoll and poll are not, those of
    select are.
    """
    pad_fd: int | None = None
    readable = False

    def on_pad(_mask: int) -> None:
        nonlocal readable
        readable = True

    while True:
        now_us = monotonic_us()
        if end_us is not None and now_us >= end_us:
            return
        seat.work(now_us, readable)
        server.work(now_us)
        if seat.over or stop.caught or server.stop_asked:
            return
        pad_fd = _follow_pad(seat, selector, pad_fd, on_pad)
        due = [time for time in (seat.due_us(), server.due_us(), end_us) if time is not None]
        timeout = max(0, min(due) - monotonic_us()) / US_PER_SECOND if due else None
        readable = False
        for key, mask in selector.select(timeout):
            key.data(mask)


def _follow_pad(
    seat: Seat, selector: selectors.BaseSelector, before: int | None, on_pad: Callable[[int], None]
) -> int | None:
    """Watches the descriptor of the pad that the seat has now."""
    now = seat.pad.fileno() if seat.pad is not None else None
    if now != before:
        if before is not None:
            selector.unregister(before)
        if now is not None:
            selector.register(now, selectors.EVENT_READ, on_pad)
    return now

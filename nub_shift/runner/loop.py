"""One thread, one selector: waits for pads, clients, signals and deadlines, and lets each work."""

from __future__ import annotations

import selectors
import signal
import socket
from types import FrameType

from nub_shift.engine.values import US_PER_SECOND
from nub_shift.runner.clock import monotonic_us
from nub_shift.runner.front import FrontWindow
from nub_shift.runner.server import Server
from nub_shift.runner.session import Session

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
    session: Session,
    server: Server,
    front: FrontWindow,
    stop: StopSignals,
    selector: selectors.BaseSelector,
    end_us: int | None,
) -> None:
    """Plays until a signal, a client's `stop`, the end of all recordings, or `end_us`.

    The selector must be one whose timeouts are finer than a millisecond: those of epoll and poll are not, those of
    select are.
    """
    readable: set[int] = set()
    watched: set[int] = set()
    while True:
        now_us = monotonic_us()
        if end_us is not None and now_us >= end_us:
            return
        session.work(now_us, readable)
        for window, before in front.changes(session.wants_front):
            session.front_changed(window, before, now_us)
        server.work(now_us)
        if session.over or stop.caught or server.stop_asked:
            return
        watched = _follow_pads(session, selector, watched, readable)
        due = [time for time in (session.due_us(), server.due_us(), end_us) if time is not None]
        timeout = max(0, min(due) - monotonic_us()) / US_PER_SECOND if due else None
        readable.clear()
        for key, mask in selector.select(timeout):
            key.data(mask)


def _follow_pads(session: Session, selector: selectors.BaseSelector, before: set[int], readable: set[int]) -> set[int]:
    """Watches the descriptors of the pads that the seats have now; those that are readable go into `readable`."""
    now = {fd for seat in session.seats if seat.pad is not None and (fd := seat.pad.fileno()) is not None}
    for fd in before - now:
        selector.unregister(fd)
    for fd in now - before:
        selector.register(fd, selectors.EVENT_READ, lambda _mask, found=fd: readable.add(found))
    return now

"""The loop of the runner: one thread with one wait for pads, clients, signals and deadlines."""

from __future__ import annotations

import os
import signal
import socket
from functools import partial
from types import FrameType
from typing import Final

from nub_shift.engine.agenda import earlier
from nub_shift.engine.values import US_PER_SECOND
from nub_shift.protocol.clock import monotonic_us
from nub_shift.runner.clients.server import Server
from nub_shift.runner.profiles.front_window import FrontWindow
from nub_shift.runner.seats.session import Session
from nub_shift.runner.session_service.residence import Residence
from nub_shift.runner.watch import Callback, Watch

# Time slice for clients and loading before pads are read again, and the margin before a deadline in which no slice
# begins: the length of the longest small step.
SLICE_US: Final = 100
MARGIN_US: Final = 250
# Longest time without a slice, however busy play is, for machines too slow to ever be idle.
LONGEST_US: Final = 10_000
# Length of a yield: a process that never sleeps loses priority, and later waits at a bad moment.
PAUSE_S: Final = 0.0001
STOP_SIGNALS = (signal.SIGINT, signal.SIGTERM, signal.SIGHUP, signal.SIGQUIT)


class StopSignals:
    """Handles signals that request an end or a pause, and wakes the loop through a socket pair.

    Attributes:
        caught: an ending signal has arrived.
        pause_requested: a terminal's stop signal has arrived.
    """

    def __init__(self, watch: Watch) -> None:
        self.caught = self.pause_requested = False
        self._watch = watch
        self._wake, self._woken = socket.socketpair()
        for end in (self._wake, self._woken):
            end.setblocking(False)
        watch.read(self._woken.fileno(), self._drain)
        self._before_fd = signal.set_wakeup_fd(self._wake.fileno(), warn_on_full_buffer=False)
        self._before = {number: signal.signal(number, self._on_signal) for number in STOP_SIGNALS}
        self._before[signal.SIGTSTP] = signal.signal(signal.SIGTSTP, self._on_pause)

    def close(self) -> None:
        """Restores the previous handlers."""
        for number, handler in self._before.items():
            signal.signal(number, handler)
        signal.set_wakeup_fd(self._before_fd)
        self._watch.forget(self._woken.fileno())
        self._wake.close()
        self._woken.close()

    def _on_signal(self, _number: int, _frame: FrameType | None) -> None:
        self.caught = True

    def _on_pause(self, _number: int, _frame: FrameType | None) -> None:
        self.pause_requested = True

    def _drain(self) -> None:
        self._woken.recv(64)


def run_loop(
    session: Session,
    server: Server,
    front: FrontWindow,
    stop: StopSignals,
    watch: Watch,
    end_us: int | None,
    residence: Residence | None = None,
) -> None:
    """Plays until a signal, a client's `stop`, the end of all recordings, or `end_us`."""
    watched: dict[int, Callback] = {}
    served_us = 0
    while True:
        now_us = monotonic_us()
        if end_us is not None and now_us >= end_us:
            return
        session.work(now_us)
        if front.news is not None:
            for window, before in front.changes():
                if session.needs_front:
                    session.front_changed(window, before, now_us)
            front.notify()
        server.work(now_us)
        if residence is not None:
            residence.work(now_us)
        served = False
        if server.pending:
            now_us = monotonic_us()
            due_us = earlier(session.due_us(), end_us)
            if due_us is None or due_us - now_us > MARGIN_US or now_us - served_us > LONGEST_US:
                _serve(server, now_us + SLICE_US)
                served, served_us = True, now_us
        if session.over or stop.caught or server.stop_requested:
            return
        if stop.pause_requested:
            stop.pause_requested = False
            session.release(now_us)
            os.kill(os.getpid(), signal.SIGSTOP)  # until SIGCONT
            session.resume(monotonic_us())
        if session.pads_changed:  # serving may have closed a pad, which must not be polled any longer
            session.pads_changed = False
            watched = _follow_pads(session, watch, watched)
        if served:
            watch.wait(PAUSE_S)
        else:
            due_us = earlier(earlier(session.due_us(), server.due_us()), end_us)
            if residence is not None:
                due_us = earlier(due_us, residence.due_us())
            watch.wait(None if due_us is None else max(0, due_us - monotonic_us()) / US_PER_SECOND)


def _serve(server: Server, until_us: int) -> None:
    """Serves clients and loading until `until_us`, at least one step however slow the machine."""
    server.step()
    while server.pending and monotonic_us() < until_us:
        server.step()


def _follow_pads(session: Session, watch: Watch, before: dict[int, Callback]) -> dict[int, Callback]:
    """Polls the descriptors of the seats' present pads, so that each pad is read as soon as it has events."""
    for fd, callback in before.items():
        watch.forget(fd, callback)
    now: dict[int, Callback] = {
        fd: partial(session.take_pad, seat, fd)
        for seat in session.seats
        if seat.pad is not None
        for fd in seat.pad.filenos()
    }
    for fd, callback in now.items():
        watch.read_at_once(fd, callback)
    return now

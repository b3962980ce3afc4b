"""Polling of descriptors: one callback each, timeouts finer than a millisecond, and little time between wake-up and
callback.

The standard library's selectors need several microseconds of bookkeeping at each wake-up, a good part of a key's
latency. Each descriptor adds to every wake-up, so pads are polled directly, and all others together through one epoll
descriptor. `poll` wakes soonest, but has a resolution of milliseconds: `select` does the rest of a wait and all short
ones, mostly without the epoll descriptor.
"""

from __future__ import annotations

import logging
import select
from collections.abc import Callable
from contextlib import suppress
from typing import Final

Callback = Callable[[], None]

# Waits shorter than this leave the epoll descriptor out, a limited number of times in a row.
SOON_S: Final = 0.002
_MS_PER_S: Final = 1000
MOST_LEFT_OUT: Final = 3

# Number of failures of a callback after which its descriptor is dropped, since it would wake the loop forever.
MOST_FAULTS: Final = 20

log = logging.getLogger("nub_shift.runner")

_select: Final = select.select
# Closed descriptors are read or written once more, and report the end.
_READABLE: Final = select.POLLIN | select.POLLERR | select.POLLHUP | select.POLLNVAL
_WRITABLE: Final = select.POLLOUT | select.POLLERR | select.POLLHUP | select.POLLNVAL


class Watch:
    """Descriptors with callbacks."""

    def __init__(self) -> None:
        self._readers: dict[int, Callback] = {}
        self._calm: dict[int, Callback] = {}
        self._epoll = select.epoll()
        self._epoll_fd = self._epoll.fileno()
        self._poll = select.poll()
        self._polled: dict[int, int] = {}  # events by descriptor
        self._pads: list[int] = []
        self._reading: list[int] = [self._epoll.fileno()]
        self._faults: dict[int, int] = {}  # by descriptor
        self._left_out = 0  # number of waits in a row without the epoll descriptor
        self._writers: dict[int, Callback] = {}
        self._writing: list[int] = []
        self._note()

    def read(self, fd: int, callback: Callback) -> None:
        """Calls `callback` whenever `fd` is readable."""
        with suppress(FileExistsError):  # replaces the callback
            self._epoll.register(fd, select.EPOLLIN)
        self._faults.pop(fd, None)
        self._calm[fd] = callback

    def read_at_once(self, fd: int, callback: Callback) -> None:
        """Like `read`, for a pad: with the least delay, at some cost to every wake-up."""
        self._readers[fd] = callback
        self._note()

    def write(self, fd: int, callback: Callback | None) -> None:
        """Calls `callback` whenever `fd` is writable; None ends that."""
        was = self._writers.pop(fd, None)
        if callback is not None:
            self._writers[fd] = callback
        if (was is None) is not (callback is None):
            self._note()

    def forget(self, fd: int, callback: Callback | None = None) -> None:
        """Stops polling `fd`, which may be closed already.

        With a `callback`, only if that is still the registered one, since a new descriptor may reuse the number.
        """
        if callback is not None and callback not in (self._readers.get(fd), self._calm.get(fd)):
            return
        if self._readers.pop(fd, None) is not None:
            self._note()
        if self._calm.pop(fd, None) is not None:
            with suppress(OSError):  # closed descriptors have been removed by the kernel
                self._epoll.unregister(fd)
        self.write(fd, None)

    def wait(self, timeout_s: float | None) -> None:
        """Waits until a descriptor is ready or the time is over, and runs the callbacks; 0 only polls."""
        if timeout_s is None or timeout_s >= SOON_S:
            self._left_out = 0
            for fd, events in self._poll.poll(None if timeout_s is None else int(timeout_s * _MS_PER_S)):
                if events & _READABLE:
                    self._take_readable(fd)
                if events & _WRITABLE and fd in self._writers:
                    self._writers[fd]()
            return
        reading = self._reading
        if timeout_s and self._left_out < MOST_LEFT_OUT:
            reading = self._pads
            self._left_out += 1
        else:
            self._left_out = 0
        readable, writable, _ = _select(reading, self._writing, (), timeout_s)
        for fd in readable:
            self._take_readable(fd)
        for fd in writable:
            if fd in self._writers:
                self._writers[fd]()

    def _take_readable(self, fd: int) -> None:
        if fd in self._readers:  # an earlier callback may have removed it
            self._readers[fd]()
        elif fd == self._epoll_fd:
            self._take_calm()

    def _note(self) -> None:
        """Rebuilds the polled descriptors."""
        self._writing = list(self._writers)
        self._pads = list(self._readers)
        self._reading = [self._epoll_fd, *self._pads]
        wanted = dict.fromkeys(self._reading, int(select.POLLIN))
        for fd in self._writing:
            wanted[fd] = wanted.get(fd, 0) | select.POLLOUT
        for fd in self._polled.keys() - wanted.keys():
            self._poll.unregister(fd)
        for fd, events in wanted.items():
            self._poll.register(fd, events)
        self._polled = wanted

    def _take_calm(self) -> None:
        for fd, _events in self._epoll.poll(0):
            if fd in self._calm:
                try:
                    self._calm[fd]()
                except Exception:  # an unexpected fault with one descriptor costs that descriptor, and play continues
                    log.exception("descriptor %d", fd)
                    self._faults[fd] = self._faults.get(fd, 0) + 1
                    if self._faults[fd] > MOST_FAULTS:
                        self.forget(fd)

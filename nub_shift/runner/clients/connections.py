"""The runner's socket and its connections, served in small steps, since play has priority.

Client sockets have one poll descriptor of their own, so that they cost play a single descriptor. Messages are processed
one by one, in turn, whenever play has nothing due. The runner stops reading from a client that sends faster than it is
answered or does not read its answers, so that the kernel blocks the client.
"""

from __future__ import annotations

import errno
import logging
import os
import select
import socket
import struct
from collections import deque
from collections.abc import Callable
from contextlib import suppress
from pathlib import Path
from typing import Final

from nub_shift import VERSION
from nub_shift.protocol.codec import (
    PROTOCOL,
    REFUSED,
    Error,
    Fault,
    Incoming,
    LineReader,
    Request,
    encode_error,
    encode_request,
)
from nub_shift.protocol.listener import Listener
from nub_shift.protocol.messages import Ready
from nub_shift.runner.clients.helpers import Helper
from nub_shift.runner.pads.pads_feed import PadsFeed
from nub_shift.runner.seats.seat import Seat
from nub_shift.runner.seats.signs_feed import SignsFeed
from nub_shift.runner.seats.telemetry import TelemetryFeed
from nub_shift.runner.watch import Watch

log = logging.getLogger("nub_shift.runner")

# Limit of successive bad requests before a disconnection.
MAX_FAULTS: Final = 16
# A window has one or two connections, a command one.
MAX_CLIENTS: Final = 32
MAX_UNSENT_BYTES: Final = 1_000_000
_READ_BYTES: Final = 16_384
_CREDENTIALS: Final = struct.Struct("3i")  # struct ucred: process, user, group (unix(7))
_EVENTS: Final = select.EPOLLIN | select.EPOLLRDHUP
_NO_DESCRIPTORS: Final = (errno.EMFILE, errno.ENFILE)


class Peer:
    """One connection.

    Attributes:
        process: id of the client's process.
        helper: the helper process of this id, if any.
        has_called: whether the client has made a call; silent clients make room when all places are taken.
        faults: number of successive bad requests.
        gone: whether the connection is closed.
        feeds: its subscriptions to seats.
        all_hz: rate of a subscription to all seats, including later ones; 0 without.
        holds_back: whether the client keeps outputs from the system.
        awaits: whether one of its calls is in progress beside play; later requests wait for the answer.
    """

    def __init__(self, connection: socket.socket) -> None:
        self.connection = connection
        self.fd = connection.fileno()
        requested = connection.getsockopt(socket.SOL_SOCKET, socket.SO_PEERCRED, _CREDENTIALS.size)
        self.process: int = _CREDENTIALS.unpack(requested)[0]
        self.reader = LineReader()
        self.outgoing = bytearray()
        self.feeds: dict[Seat, TelemetryFeed] = {}
        self.all_hz = 0
        self.pads_feed: PadsFeed | None = None
        self.signs_feed: SignsFeed | None = None
        self.helper: Helper | None = None
        self.awaits = False
        self.holds_back = False
        self.has_called = False
        self.faults = 0
        self.gone = False
        self.told = False  # used by the server alone: a packet is due
        self.queued = False  # used by `Connections` alone: queued for processing

    @property
    def is_subscribed(self) -> bool:
        """Whether the client gets unrequested messages."""
        return bool(self.feeds) or self.pads_feed is not None or self.signs_feed is not None

    @property
    def pauses(self) -> bool:
        """Whether reading from the client is suspended."""
        return self.awaits or self.is_lagging

    @property
    def is_lagging(self) -> bool:
        """Whether the client does not read its messages."""
        return len(self.outgoing) > MAX_UNSENT_BYTES


class Connections:
    """All connections. `on_message` receives each message, `gone` each closed peer.

    Attributes:
        peers: in the order of connection.
        pending: whether a client has unprocessed input.

    Raises:
        OSError: the socket cannot be created.
    """

    def __init__(
        self, path: Path, watch: Watch, on_message: Callable[[Peer, Incoming], None], gone: Callable[[Peer], None]
    ) -> None:
        self.peers: list[Peer] = []
        self._watch = watch
        self._on_message = on_message
        self._gone = gone
        self._listener = Listener(path, 2 * MAX_CLIENTS)
        self._knock_fd = self._listener.socket.fileno()
        self._by_fd: dict[int, Peer] = {}
        self._waiting: deque[Peer] = deque()  # peers with unprocessed input
        self._knocks = False
        self._spare = os.open(os.devnull, os.O_RDONLY | os.O_CLOEXEC)
        self._epoll = select.epoll()
        self._epoll.register(self._knock_fd, select.EPOLLIN | select.EPOLLONESHOT)
        watch.read(self._epoll.fileno(), self._on_events)

    @property
    def pending(self) -> bool:
        """Whether `step` has something to do."""
        return self._knocks or bool(self._waiting)

    def step(self) -> None:
        """Processes one item: a message, some bytes, or a new connection."""
        # With all places taken, closed connections are removed before the next client is refused.
        if self._knocks and (len(self.peers) < MAX_CLIENTS or not self._waiting):
            self._knocks = False
            self._accept()
            return
        peer = self._waiting.popleft()
        peer.queued = False
        if peer.gone or peer.pauses:
            return  # processed again after the wait
        try:
            message = peer.reader.next()
            if message is not None:
                self._look_at(peer)
                self._take(peer, message)
            elif self._receive(peer):
                self._look_at(peer)
            else:
                self._arm(peer)
        except Exception:  # an unexpected fault in serving one client costs this client, and play continues
            log.exception("client %d", peer.fd)
            self.drop(peer)

    def _take(self, peer: Peer, message: Incoming) -> None:
        peer.has_called = peer.has_called or isinstance(message, Request)
        peer.faults = peer.faults + 1 if isinstance(message, Fault) else 0
        self._on_message(peer, message)
        if peer.faults > MAX_FAULTS:
            log.info("client %d: says nothing that is a call", peer.fd)
            self.drop(peer)

    def send(self, peer: Peer, data: bytes) -> None:
        """Sends data, at once or when the client reads again."""
        if peer.gone:
            return
        lagged = peer.is_lagging
        peer.outgoing += data
        try:
            del peer.outgoing[: peer.connection.send(peer.outgoing)]
        except BlockingIOError:
            pass
        except OSError:
            self.drop(peer)
            return
        if lagged and not peer.is_lagging:
            self._look_at(peer)
        if peer.outgoing:
            self._arm(peer)

    def answered(self, peer: Peer) -> None:
        """Resumes reading a peer's requests after the answer it awaited."""
        peer.awaits = False
        self._look_at(peer)

    def drop(self, peer: Peer) -> None:
        """Closes the connection of a peer."""
        if peer.gone:
            return
        peer.gone = True  # a new connection may reuse the descriptor's number
        del self._by_fd[peer.fd]
        log.debug("client %d: gone", peer.fd)
        self.peers.remove(peer)
        with suppress(OSError):
            self._epoll.unregister(peer.fd)
        peer.connection.close()
        self._gone(peer)

    def close(self) -> None:
        """Closes all connections and removes the socket."""
        for peer in list(self.peers):
            self.drop(peer)
        self._watch.forget(self._epoll.fileno())
        self._epoll.close()
        self._listener.close()
        os.close(self._spare)

    def _on_events(self) -> None:
        for fd, events in self._epoll.poll(0):
            peer = self._by_fd.get(fd)
            if peer is None:
                self._knocks = self._knocks or fd == self._knock_fd
                continue
            if events & select.EPOLLOUT:
                self.send(peer, b"")
            if peer.pauses and events & (select.EPOLLHUP | select.EPOLLERR):
                self.drop(peer)  # no peer is left to receive the answer
            elif events & ~select.EPOLLOUT and not peer.pauses:
                self._look_at(peer)
            else:
                self._arm(peer)

    def _look_at(self, peer: Peer) -> None:
        if not peer.queued:
            peer.queued = True
            self._waiting.append(peer)

    def _arm(self, peer: Peer) -> None:
        """Polls for the peer's next event."""
        if not peer.gone:
            reads = 0 if peer.pauses or peer.queued else _EVENTS
            writes = select.EPOLLOUT if peer.outgoing else 0
            self._epoll.modify(peer.fd, reads | writes | select.EPOLLONESHOT)

    def _receive(self, peer: Peer) -> bool:
        """Receives some bytes from a peer; returns whether there were any."""
        try:
            data = peer.connection.recv(_READ_BYTES)
        except BlockingIOError:
            return False
        except OSError:
            data = b""
        if not data:
            self.drop(peer)
            return False
        peer.reader.add(data)
        return True

    def _accept(self) -> None:
        """Accepts one connection, then polls the listener again."""
        try:
            connection, _ = self._listener.socket.accept()
        except OSError as error:
            if error.errno in _NO_DESCRIPTORS:
                self._refuse_without_descriptor()
        else:
            if len(self.peers) >= MAX_CLIENTS:
                silent = next((peer for peer in self.peers if not peer.has_called), None)
                if silent is not None:
                    self.drop(silent)
            if len(self.peers) >= MAX_CLIENTS:
                self._refuse(connection)
            else:
                self._take_in(connection)
        self._epoll.modify(self._knock_fd, select.EPOLLIN | select.EPOLLONESHOT)

    def _take_in(self, connection: socket.socket) -> None:
        connection.setblocking(False)
        peer = Peer(connection)
        log.debug("client %d: connected", peer.fd)
        self.peers.append(peer)
        self._by_fd[peer.fd] = peer
        self._epoll.register(peer.fd, _EVENTS | select.EPOLLONESHOT)
        self.send(peer, encode_request("ready", Ready(PROTOCOL, VERSION)))

    def _refuse(self, connection: socket.socket) -> None:
        connection.setblocking(False)
        with suppress(OSError):
            connection.send(encode_error(None, Error(REFUSED, f"more than {MAX_CLIENTS} clients are connected")))
        connection.close()

    def _refuse_without_descriptor(self) -> None:
        """Refuses a connection when no descriptor is left, by freeing a spare one; otherwise the listener would stay
        readable.
        """
        os.close(self._spare)
        with suppress(OSError):
            self._refuse(self._listener.socket.accept()[0])
        self._spare = os.open(os.devnull, os.O_RDONLY | os.O_CLOEXEC)

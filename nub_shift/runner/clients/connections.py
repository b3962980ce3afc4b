"""The runner's socket and the connections to it, served a little at a time: play comes first.

Clients are waited for apart from pads, so that they cost play one descriptor. Their words are looked at one by one and
in turn, whenever nothing is due in play. Who says more than is answered, or does not read its answers, waits: nothing
more is read of it, and the system holds it up.
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

# A client with so many bad requests in a row is disconnected.
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
        process: the id of the process at its other end.
        helper: what that is, if it works for the runner.
        spoke: it has made a call; who has not makes room when all places are taken.
        faults: how many things it has said last that are none.
        gone: it has hung up, or was hung up on.
        feeds: what it is told of seats.
        all_hz: how often it is to be told of all seats, also of those to come; 0 if it did not ask for that.
        holds_back: nothing goes to the system for its sake.
        awaits: a call of its is being worked on beside play; what it says after that waits for the answer.
    """

    def __init__(self, connection: socket.socket) -> None:
        self.connection = connection
        self.fd = connection.fileno()
        asked = connection.getsockopt(socket.SOL_SOCKET, socket.SO_PEERCRED, _CREDENTIALS.size)
        self.process: int = _CREDENTIALS.unpack(asked)[0]
        self.reader = LineReader()
        self.outgoing = bytearray()
        self.feeds: dict[Seat, TelemetryFeed] = {}
        self.all_hz = 0
        self.pads_feed: PadsFeed | None = None
        self.signs_feed: SignsFeed | None = None
        self.helper: Helper | None = None
        self.awaits = False
        self.holds_back = False
        self.spoke = False
        self.faults = 0
        self.gone = False
        self.told = False  # for the server alone: it is about to be told something
        self.queued = False  # for `Connections` alone: it is to be looked at

    @property
    def wants_news(self) -> bool:
        """Whether it is to be told what happens."""
        return bool(self.feeds) or self.pads_feed is not None or self.signs_feed is not None

    @property
    def pauses(self) -> bool:
        """Whether nothing more is read of it at present."""
        return self.awaits or self.lags

    @property
    def lags(self) -> bool:
        """Whether it does not read what it is told."""
        return len(self.outgoing) > MAX_UNSENT_BYTES


class Connections:
    """All connections. `heard` gets what they say, message by message, and `gone` the peers that have hung up.

    Attributes:
        peers: in the order in which they came.
        pending: somebody has something to say that has not been looked at.

    Raises:
        OSError: the socket cannot be made.
    """

    def __init__(
        self, path: Path, watch: Watch, heard: Callable[[Peer, Incoming], None], gone: Callable[[Peer], None]
    ) -> None:
        self.peers: list[Peer] = []
        self._watch = watch
        self._heard = heard
        self._gone = gone
        self._listener = Listener(path, 2 * MAX_CLIENTS)
        self._knock_fd = self._listener.socket.fileno()
        self._by_fd: dict[int, Peer] = {}
        self._waiting: deque[Peer] = deque()  # they have said something
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
        """Looks at one thing: a message, some bytes, or somebody who connects."""
        # With all places taken, closed connections are removed before the next client is refused.
        if self._knocks and (len(self.peers) < MAX_CLIENTS or not self._waiting):
            self._knocks = False
            self._accept()
            return
        peer = self._waiting.popleft()
        peer.queued = False
        if peer.gone or peer.pauses:
            return  # it is looked at again when that is over
        try:
            message = peer.reader.next()
            if message is not None:
                self._look_at(peer)
                self._take(peer, message)
            elif self._receive(peer):
                self._look_at(peer)
            else:
                self._arm(peer)
        except Exception:  # a fault of ours in serving one client costs this client, and play goes on
            log.exception("client %d", peer.fd)
            self.drop(peer)

    def _take(self, peer: Peer, message: Incoming) -> None:
        peer.spoke = peer.spoke or isinstance(message, Request)
        peer.faults = peer.faults + 1 if isinstance(message, Fault) else 0
        self._heard(peer, message)
        if peer.faults > MAX_FAULTS:
            log.info("client %d: says nothing that is a call", peer.fd)
            self.drop(peer)

    def send(self, peer: Peer, data: bytes) -> None:
        """Sends, now or when the client reads again."""
        if peer.gone:
            return
        lagged = peer.lags
        peer.outgoing += data
        try:
            del peer.outgoing[: peer.connection.send(peer.outgoing)]
        except BlockingIOError:
            pass
        except OSError:
            self.drop(peer)
            return
        if lagged and not peer.lags:
            self._look_at(peer)
        if peer.outgoing:
            self._arm(peer)

    def answered(self, peer: Peer) -> None:
        """Reads the requests that a peer has sent during a wait that is over."""
        peer.awaits = False
        self._look_at(peer)

    def drop(self, peer: Peer) -> None:
        """Hangs up."""
        if peer.gone:
            return
        peer.gone = True  # another one may get the number of its descriptor
        del self._by_fd[peer.fd]
        log.debug("client %d: gone", peer.fd)
        self.peers.remove(peer)
        with suppress(OSError):
            self._epoll.unregister(peer.fd)
        peer.connection.close()
        self._gone(peer)

    def close(self) -> None:
        """Closes all connections and takes the socket away."""
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
                self.drop(peer)  # nobody is there to hear the answer
            elif events & ~select.EPOLLOUT and not peer.pauses:
                self._look_at(peer)
            else:
                self._arm(peer)

    def _look_at(self, peer: Peer) -> None:
        if not peer.queued:
            peer.queued = True
            self._waiting.append(peer)

    def _arm(self, peer: Peer) -> None:
        """Waits for what the peer does next."""
        if not peer.gone:
            reads = 0 if peer.pauses or peer.queued else _EVENTS
            writes = select.EPOLLOUT if peer.outgoing else 0
            self._epoll.modify(peer.fd, reads | writes | select.EPOLLONESHOT)

    def _receive(self, peer: Peer) -> bool:
        """Takes some of what a peer has sent; returns whether there was anything."""
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
        """Takes one connection in; the listener is watched again after it."""
        try:
            connection, _ = self._listener.socket.accept()
        except OSError as error:
            if error.errno in _NO_DESCRIPTORS:
                self._turn_away()
        else:
            if len(self.peers) >= MAX_CLIENTS:
                silent = next((peer for peer in self.peers if not peer.spoke), None)
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

    def _turn_away(self) -> None:
        """There is no descriptor for another connection: the spare one is used to close it, lest it knock for ever."""
        os.close(self._spare)
        with suppress(OSError):
            self._refuse(self._listener.socket.accept()[0])
        self._spare = os.open(os.devnull, os.O_RDONLY | os.O_CLOEXEC)

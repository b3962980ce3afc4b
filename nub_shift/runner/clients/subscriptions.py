"""Subscriptions of clients: telemetry of seats, all pads, and the content of signs."""

from __future__ import annotations

import logging
from collections import deque
from collections.abc import Callable, Iterable
from typing import Final

from nub_shift.engine.agenda import earlier
from nub_shift.protocol.codec import encode_request
from nub_shift.protocol.messages import LayoutNews
from nub_shift.runner.clients.connections import Connections, Peer
from nub_shift.runner.pads.batteries import Batteries
from nub_shift.runner.pads.pad_monitor import PadMonitor
from nub_shift.runner.pads.pads_feed import PadsFeed
from nub_shift.runner.seats.seat import Seat
from nub_shift.runner.seats.seat_reports import seat_state
from nub_shift.runner.seats.session import Session
from nub_shift.runner.seats.signs_feed import SignsFeed
from nub_shift.runner.seats.telemetry import TelemetryFeed

log = logging.getLogger("nub_shift.runner")

_LAYOUT: Final = encode_request("layout", LayoutNews())


class Subscriptions:
    """Sends due packets to clients, one client per step.

    Attributes:
        batteries: read while signs are sent; None without signs.
    """

    def __init__(
        self, session: Session, pad_monitor: PadMonitor, connections: Connections, clock: Callable[[], int]
    ) -> None:
        self.batteries: Batteries | None = None
        self._session = session
        self._pad_monitor = pad_monitor
        self._connections = connections
        self._clock = clock
        self._is_any = False
        self._due: deque[Peer] = deque()

    @property
    def pending(self) -> bool:
        """Whether a client has packets for `step` to send."""
        return bool(self._due)

    def due_us(self) -> int | None:
        """When `work` wants to be called."""
        due_us: int | None = None
        if self._is_any:
            for peer in self._connections.peers:
                due_us = earlier(due_us, _due_us(peer))
            due_us = earlier(due_us, self._pad_monitor.due_us())
        return due_us

    def work(self, now_us: int) -> None:
        """Collects the clients with due packets."""
        if not self._is_any:
            return
        self._pad_monitor.work(now_us)
        for peer in self._connections.peers:
            due_us = _due_us(peer)
            if due_us is not None and due_us <= now_us:
                peer.told = True
                self._due.append(peer)

    def step(self) -> None:
        """Sends the packets of one client."""
        peer = self._due.popleft()
        try:
            self._send(peer)
        except Exception:  # an unexpected fault in sending to one client costs this client, and play continues
            log.exception("client %d", peer.fd)
            self._connections.drop(peer)

    def subscribe(self, peer: Peer, seats: Iterable[Seat], hz: int) -> None:
        """Sends a client telemetry of these seats, `hz` times a second; 0 ends that."""
        for seat in seats:
            self.unsubscribe(peer, seat)
            if hz > 0:
                self._feed(peer, seat, hz)
        self._note_feeds()

    def unsubscribe(self, peer: Peer, seat: Seat) -> None:
        """Ends the telemetry of a seat."""
        feed = peer.feeds.pop(seat, None)
        if feed is not None:
            seat.feeds.remove(feed)

    def follow_seats(self) -> None:
        """Subscribes the clients that want telemetry of all seats to the new ones."""
        for peer in self._connections.peers:
            for seat in self._session.seats if peer.all_hz else ():
                if seat not in peer.feeds:
                    self._feed(peer, seat, peer.all_hz)

    def end_seat(self, seat: Seat) -> None:
        """Ends the telemetry of a seat that ends."""
        for peer in self._connections.peers:
            self.unsubscribe(peer, seat)

    def watch_pads(self, peer: Peer, hz: int, frames: str) -> None:
        """Subscribes a client to all pads, at most `hz` packets a second; 0 ends the subscription."""
        self._leave_pads(peer)
        if hz > 0:
            peer.pads_feed = PadsFeed(hz, frames)
            self._pad_monitor.add(peer.pads_feed)
        self._note_feeds()

    def watch_signs(self, peer: Peer, on: bool) -> None:
        """Subscribes a client to the content of signs, or ends the subscription."""
        if peer.signs_feed is not None:
            self._session.subscribe_signs(peer.signs_feed, on=False)
            peer.signs_feed = None
        if on:
            peer.signs_feed = SignsFeed()
            self._session.subscribe_signs(peer.signs_feed, on=True)
        self._note_feeds()

    def send_layout_news(self) -> None:
        """Notifies the clients that show signs of another keyboard layout."""
        for peer in self._connections.peers:
            if peer.signs_feed is not None:
                self._connections.send(peer, _LAYOUT)

    def end(self, peer: Peer) -> None:
        """Ends all that a client has subscribed to."""
        for seat in list(peer.feeds):
            self.unsubscribe(peer, seat)
        self._leave_pads(peer)
        self.watch_signs(peer, on=False)

    def _send(self, peer: Peer) -> None:
        peer.told = False
        now_us = self._clock()
        if peer.pads_feed is not None and (news := peer.pads_feed.packet(now_us)) is not None:
            self._connections.send(peer, encode_request("pads", news))
        if peer.signs_feed is not None:
            signs = peer.signs_feed.packet(now_us, self._session)
            if self.batteries is not None:
                self.batteries.work(now_us)
            if signs is not None:
                self._connections.send(peer, encode_request("signs", signs))
                if peer.helper is not None:
                    peer.helper.note_sent()
        for seat, feed in list(peer.feeds.items()):  # a failed send closes the peer and ends its feeds
            if (due := feed.due_us()) is not None and due <= now_us:
                packet = feed.packet(now_us, self._session.seats.index(seat), seat_state(seat))
                self._connections.send(peer, encode_request("telemetry", packet))

    def _feed(self, peer: Peer, seat: Seat, hz: int) -> None:
        feed = peer.feeds[seat] = TelemetryFeed(hz, seat.values)
        seat.feeds.append(feed)

    def _leave_pads(self, peer: Peer) -> None:
        if peer.pads_feed is not None:
            self._pad_monitor.remove(peer.pads_feed)
            peer.pads_feed = None

    def _note_feeds(self) -> None:
        self._is_any = any(peer.is_subscribed for peer in self._connections.peers)


def _due_us(peer: Peer) -> int | None:
    """Returns when a client is due its next packet; a client that does not read must wait."""
    if peer.is_lagging or peer.told:
        return None
    due_us: int | None = None
    for feed in peer.feeds.values():
        due_us = earlier(due_us, feed.due_us())
    if peer.signs_feed is not None:
        due_us = earlier(due_us, peer.signs_feed.due_us())
    return earlier(due_us, peer.pads_feed.due_us()) if peer.pads_feed is not None else due_us

"""The runner's JSON-RPC server: a Unix socket, open to its user alone."""

from __future__ import annotations

import logging
from collections.abc import Callable
from functools import partial
from pathlib import Path
from typing import assert_never

import msgspec

from nub_shift import version
from nub_shift.engine.program import Program
from nub_shift.keyboard.layout import LayoutSource
from nub_shift.model.messages import Code, Message, Saying
from nub_shift.model.problems import ProfileError
from nub_shift.protocol.calls import (
    METHODS,
    AnswerIntroduction,
    AssignPad,
    Call,
    EndSeat,
    GetState,
    Introduce,
    LoadProfile,
    PlayDemo,
    PlugIn,
    ReloadCards,
    SetLive,
    Stop,
    Subscribe,
    Unplug,
    WatchPads,
    WorkByHand,
    decode_call,
)
from nub_shift.protocol.codec import (
    INVALID_PARAMS,
    METHOD_NOT_FOUND,
    PROTOCOL,
    Error,
    Fault,
    Request,
    encode_error,
    encode_request,
    encode_result,
    refused,
)
from nub_shift.protocol.messages import Ready, Said, State
from nub_shift.runner.connections import Peer, listen_privately
from nub_shift.runner.pad_monitor import PadMonitor
from nub_shift.runner.pad_registry import PadRegistry
from nub_shift.runner.pads_feed import PadsFeed
from nub_shift.runner.seat import Seat
from nub_shift.runner.session import Session
from nub_shift.runner.telemetry import TelemetryFeed
from nub_shift.runner.watch import Watch
from nub_shift.store.profile_files import parse_profile

log = logging.getLogger("nub_shift.runner")

MAX_UNSENT_BYTES = 1_000_000


class _Refusal(Exception):
    def __init__(self, error: Error) -> None:
        super().__init__(error.message)
        self.error = error


class Server:
    """Listens at `path` and serves the session to whoever connects.

    Attributes:
        feeding: whether any client has a subscription, so that `work` has something to do.
        stop_asked: a client called `stop`, or the last one hung up and `until_hangup` holds.

    Raises:
        OSError: the socket cannot be made.
    """

    def __init__(
        self,
        path: Path,
        session: Session,
        registry: PadRegistry,
        pad_monitor: PadMonitor,
        watch: Watch,
        clock: Callable[[], int],
        layout: LayoutSource,
        until_hangup: bool = False,
    ) -> None:
        self.stop_asked = False
        self._until_hangup = until_hangup
        self._path = path
        self._session = session
        self._registry = registry
        self._pad_monitor = pad_monitor
        self._watch = watch
        self._clock = clock
        self._layout = layout
        self._peers: list[Peer] = []
        self.feeding = False
        self._listener = listen_privately(path)
        watch.read(self._listener.fileno(), self._accept)

    def say(self, message: Message) -> None:
        """Tells all clients something that the person should know."""
        for peer in list(self._peers):
            self._send(peer, encode_request("said", Said(message)))

    def due_us(self) -> int | None:
        """When the next telemetry packet is due."""
        feeds = [feed for peer in self._peers for feed in (peer.feed, peer.pads_feed) if feed is not None]
        times = [due for feed in feeds if (due := feed.due_us()) is not None]
        look_us = self._pad_monitor.due_us()
        return min([*times, *([look_us] if look_us is not None else [])], default=None)

    def work(self, now_us: int) -> None:
        """Sends the telemetry that is due."""
        self._pad_monitor.work(now_us)
        for peer in list(self._peers):
            if peer.unsent > MAX_UNSENT_BYTES:
                continue
            if peer.pads_feed is not None and (news := peer.pads_feed.packet(now_us)) is not None:
                self._send(peer, encode_request("pads", news))
            if peer.feed is not None and (due := peer.feed.due_us()) is not None and due <= now_us:
                seat = self._session.seats[peer.seat].state()
                self._send(peer, encode_request("telemetry", peer.feed.packet(now_us, seat.layers, seat.slots)))

    def close(self) -> None:
        """Closes all connections and takes the socket away."""
        for peer in list(self._peers):
            self._drop(peer)
        self._watch.forget(self._listener.fileno())
        self._listener.close()
        self._path.unlink(missing_ok=True)

    def _accept(self) -> None:
        try:
            connection, _ = self._listener.accept()
        except OSError:
            return  # it has gone again
        connection.setblocking(False)
        log.debug("client %d: connected", connection.fileno())
        peer = Peer(connection)
        self._peers.append(peer)
        self._watch.read(connection.fileno(), lambda: self._serve(peer))
        self._send(peer, encode_request("ready", Ready(PROTOCOL, version())))

    def _serve(self, peer: Peer) -> None:
        try:
            data = peer.connection.recv(65536)
        except BlockingIOError:
            return
        except OSError:
            data = b""
        if not data:
            self._drop(peer)
            return
        for message in peer.reader.feed(data):
            if isinstance(message, Fault):
                self._send(peer, encode_error(message.id, message.error))
            elif isinstance(message, Request):
                self._answer(peer, message)

    def _answer(self, peer: Peer, request: Request) -> None:
        try:
            answer = self._call(peer, request)
        except _Refusal as refusal:
            if request.id is not None:
                self._send(peer, encode_error(request.id, refusal.error))
            return
        if request.id is not None:
            self._send(peer, encode_result(request.id, answer))

    def _call(self, peer: Peer, request: Request) -> State:
        now_us = self._clock()
        call = _decoded(request)
        log.debug("client %d: %s", peer.connection.fileno(), request.method)
        try:
            match call:
                case GetState():
                    pass
                case Subscribe():
                    self._subscribe(peer, call)
                case LoadProfile(toml, seat):
                    self._session.load(self._seat(seat), _program(toml, self._layout), now_us)
                case SetLive(live):
                    self._session.go(live, now_us)
                case Stop():
                    self.stop_asked = True
                case AssignPad():
                    self._assign_pad(call, now_us)
                case EndSeat(seat):
                    self._end_seat(seat, now_us)
                case WatchPads(hz, frames):
                    self._watch_pads(peer, hz, frames)
                case PlugIn(pad):
                    self._registry.plug(pad)
                    self.look_now()
                case Unplug(pad):
                    self._registry.unplug(pad)
                    self._pad_monitor.look_now()
                case WorkByHand(pad, values):
                    if self._registry.work_by_hand(pad, values):
                        self._pad_monitor.look_now()
                case PlayDemo(pad):
                    self._registry.play_demo(pad)
                    self._pad_monitor.look_now()
                case ReloadCards():
                    self._pad_monitor.reload_cards()
                    for playing in self._session.seats:
                        self._session.reopen_pad(playing, now_us)
                case Introduce(pad):
                    self._pad_monitor.introduce(pad)
                case AnswerIntroduction(do, control):
                    self._pad_monitor.answer(do, control)
                case _:
                    assert_never(call)
        except Saying as saying:
            raise _Refusal(refused(saying.message)) from None
        return self._session.state()

    def look_now(self) -> None:
        """Something was plugged in."""
        self._session.look_now()
        self._pad_monitor.look_now()

    def _watch_pads(self, peer: Peer, hz: int, frames: str) -> None:
        self._look_away(peer)
        if hz > 0:
            peer.pads_feed = PadsFeed(hz, frames)
            self._pad_monitor.add(peer.pads_feed)
        self._note_feeds()

    def _note_feeds(self) -> None:
        self.feeding = any(peer.feed is not None or peer.pads_feed is not None for peer in self._peers)

    def _look_away(self, peer: Peer) -> None:
        if peer.pads_feed is not None:
            self._pad_monitor.remove(peer.pads_feed)
            peer.pads_feed = None

    def _assign_pad(self, asked: AssignPad, now_us: int) -> None:
        """Gives a pad to a seat, or to a new one."""
        program = _program(asked.toml, self._layout) if asked.toml else None
        entry = self._registry.entry(asked.pad)
        opener = partial(self._registry.find_again, entry.identities, entry.info(0, has_twin=False).name)
        before = next(
            (seat for seat in self._session.seats if seat.pad is not None and seat.pad.key == asked.pad), None
        )
        seat = self._session.add(program, opener, pad_returns=True) if program is not None else self._seat(asked.seat)
        if before is not None and before is not seat:
            self._session.reopen_pad(before, now_us)
        self._session.assign_pad(seat, opener, now_us)

    def _end_seat(self, index: int, now_us: int) -> None:
        seat = self._seat(index)
        if len(self._session.seats) == 1:
            raise _Refusal(refused(Message(Code.ONLY_SEAT)))
        for peer in self._peers:
            if peer.seat == index:
                self._unsubscribe(peer)
        self._session.remove(seat, now_us)
        for peer in self._peers:
            peer.seat -= int(peer.seat > index)

    def _subscribe(self, peer: Peer, asked: Subscribe) -> None:
        seat = self._seat(asked.seat)
        self._unsubscribe(peer)
        if asked.hz > 0:
            peer.seat = asked.seat
            peer.feed = TelemetryFeed(asked.hz, seat.values)
            seat.feeds.append(peer.feed)
        self._note_feeds()

    def _unsubscribe(self, peer: Peer) -> None:
        if peer.feed is not None:
            self._session.seats[peer.seat].feeds.remove(peer.feed)
            peer.feed = None

    def _seat(self, index: int) -> Seat:
        seats = self._session.seats
        if not 0 <= index < len(seats):
            raise _Refusal(Error(INVALID_PARAMS, f"there is no seat {index}, expected 0 to {len(seats) - 1}"))
        return seats[index]

    def _send(self, peer: Peer, data: bytes) -> None:
        peer.outgoing += data
        try:
            sent = peer.connection.send(peer.outgoing)
        except BlockingIOError:
            sent = 0
        except OSError:
            self._drop(peer)
            return
        del peer.outgoing[:sent]
        self._watch.write(peer.connection.fileno(), (lambda: self._send(peer, b"")) if peer.outgoing else None)

    def _drop(self, peer: Peer) -> None:
        if peer in self._peers:
            log.debug("client %d: gone", peer.connection.fileno())
            self._peers.remove(peer)
            self._unsubscribe(peer)
            self._look_away(peer)
            self._watch.forget(peer.connection.fileno())
            peer.connection.close()
            self._note_feeds()
            self.stop_asked = self.stop_asked or (self._until_hangup and not self._peers)


def _decoded(request: Request) -> Call:
    if request.method not in METHODS:
        raise _Refusal(Error(METHOD_NOT_FOUND, f"there is no method {request.method!r}"))
    try:
        return decode_call(request.method, request.params)
    except msgspec.ValidationError as error:
        raise _Refusal(Error(INVALID_PARAMS, str(error))) from None


def _program(toml: str, layout: LayoutSource) -> Program:
    try:
        return Program(parse_profile(toml, layout=layout), layout)
    except ProfileError as error:
        problems = [str(problem) for problem in error.problems]
        raise _Refusal(refused(Message(Code.PROFILE_HAS_FAULTS), problems)) from None

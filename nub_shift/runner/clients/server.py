"""The runner's JSON-RPC server: a Unix socket, open to its user alone."""

from __future__ import annotations

import logging
from collections.abc import Callable
from pathlib import Path
from typing import Final, assert_never

import msgspec

from nub_shift.engine.agenda import earlier
from nub_shift.engine.program import Program
from nub_shift.model.messages import Code, Message, MessageError
from nub_shift.model.profile.activation import Away, Front, cut
from nub_shift.protocol.calls import (
    ALL_SEATS,
    METHODS,
    Alive,
    AnswerIntroduction,
    AssignPad,
    Call,
    EndSeat,
    GetState,
    Halt,
    HoldBack,
    Introduce,
    LoadProfile,
    OpenMenu,
    PlayDemo,
    PlugIn,
    ReloadCards,
    ReportAway,
    ReportFront,
    ReportHaltKey,
    ReportLayout,
    Rumble,
    SetLive,
    SharePad,
    StayOn,
    Stop,
    Subscribe,
    SwitchGyro,
    TryFront,
    Unplug,
    WatchPads,
    WatchSession,
    WatchSigns,
    WorkByHand,
    decode_call,
)
from nub_shift.protocol.codec import (
    INVALID_PARAMS,
    METHOD_NOT_FOUND,
    Error,
    Fault,
    Incoming,
    Refused,
    Request,
    Response,
    encode_error,
    encode_request,
    encode_result,
    refused,
)
from nub_shift.protocol.messages import Notice, Ping, State
from nub_shift.runner.clients.connections import Connections, Peer
from nub_shift.runner.clients.helpers import Helpers
from nub_shift.runner.clients.subscriptions import Subscriptions
from nub_shift.runner.pads.pad_monitor import PadMonitor
from nub_shift.runner.pads.pad_registry import PadRegistry
from nub_shift.runner.pads.pad_search import PadSearch
from nub_shift.runner.profiles.by_game import ByGame
from nub_shift.runner.profiles.loading import Loading
from nub_shift.runner.seats.pad_source import PadSource
from nub_shift.runner.seats.profile_requests import Choice, Loaded
from nub_shift.runner.seats.seat import Seat
from nub_shift.runner.seats.session import Session
from nub_shift.runner.watch import Watch

log = logging.getLogger("nub_shift.runner")

# Limit for the first connection of a window; without one, the window has died while starting this runner.
ALONE_US: Final = 30_000_000


_PING: Final = encode_request("ping", Ping())


class _Refusal(Exception):
    def __init__(self, error: Error) -> None:
        super().__init__(error.message)
        self.error = error


class Server:
    """Serves the session to clients at `path`, in small steps.

    Attributes:
        stop_requested: a client has called `stop`, or with `until_hangup` the last client has disconnected or none has
            connected.
        subscriptions: unrequested packets to clients.
        on_front: receives the window in front, as reported by a helper.
        on_layout: called when a client reports another keyboard layout.
        helpers: the helper processes, monitored here.
        by_game: activates profiles by the window in front, if enabled.

    Raises:
        OSError: the socket cannot be created.
    """

    def __init__(
        self,
        path: Path,
        session: Session,
        registry: PadRegistry,
        pad_monitor: PadMonitor,
        watch: Watch,
        clock: Callable[[], int],
        loading: Loading,
        until_hangup: bool = False,
    ) -> None:
        self.stop_requested = False
        self._until_hangup = until_hangup
        self._session = session
        self._registry = registry
        self._pad_monitor = pad_monitor
        self._clock = clock
        self._alone_us = clock() + ALONE_US if until_hangup else None  # limit for the first connection
        self._loading = loading
        self.on_front: Callable[[Front], None] | None = None
        self.on_layout: Callable[[], None] | None = None
        self.helpers = Helpers()
        self.by_game: ByGame | None = None
        self._connections = Connections(path, watch, self._hear, self._on_gone)
        self.subscriptions = Subscriptions(session, pad_monitor, self._connections, clock)

    @property
    def pending(self) -> bool:
        """Whether `step` has work from clients or from loading profiles."""
        return self._connections.pending or self._loading.pending or self.subscriptions.pending

    def step(self) -> None:
        """Does one small piece of work."""
        if self._loading.pending:
            self._loading.step()
        if self.subscriptions.pending:
            self.subscriptions.step()
        if self._connections.pending:
            self._connections.step()

    def say(self, message: Message) -> None:
        """Sends a message for the person to all clients."""
        for peer in list(self._connections.peers):
            self._connections.send(peer, encode_request("said", Notice(message)))

    def due_us(self) -> int | None:
        """Returns when `work` has to be called."""
        due_us = earlier(earlier(self._loading.due_us(), self._alone_us), self.helpers.due_us())
        if self.by_game is not None:
            due_us = earlier(due_us, self.by_game.due_us())
        return earlier(due_us, self.subscriptions.due_us())

    def work(self, now_us: int) -> None:
        """Advances time-dependent work; packets that are due are sent by `step`."""
        self._loading.work(now_us)
        self.helpers.work(now_us)
        if self.by_game is not None:
            self.by_game.work(now_us)
        if self._alone_us is not None:
            if self._connections.peers:
                self._alone_us = None
            elif now_us >= self._alone_us:
                self.stop_requested = True
        self.subscriptions.work(now_us)

    def close(self) -> None:
        """Closes all connections and removes the socket."""
        self._connections.close()
        self.helpers.close()

    def rescan(self) -> None:
        """Searches for devices that were plugged in or out."""
        self._session.rescan()
        self._pad_monitor.rescan()

    def _hear(self, peer: Peer, message: Incoming) -> None:
        match message:
            case Fault(error, identity):
                self._connections.send(peer, encode_error(identity, error))
            case Request():
                try:
                    state = self._call(peer, message)
                except (_Refusal, MessageError) as error:
                    self._answer(peer, message, _error(error))
                else:
                    if not peer.awaits:
                        self._answer(peer, message, state)
            case Response():
                pass  # clients are not sent requests
            case _:
                assert_never(message)

    def _answer(self, peer: Peer, request: Request, answer: State | Error) -> None:
        if request.id is None:
            return
        if isinstance(answer, Error):
            self._connections.send(peer, encode_error(request.id, answer))
        else:
            self._connections.send(peer, encode_result(request.id, answer))

    def _call(self, peer: Peer, request: Request) -> State:
        """Executes a client's call. If the call loads a profile, the peer awaits the answer."""
        now_us = self._clock()
        call = _decoded(request)
        log.debug("client %d: %s", peer.fd, request.method)
        match call:
            case GetState():
                pass
            case Subscribe():
                self._subscribe(peer, call)
            case LoadProfile(toml, index, file):
                seat = self._seat(index)
                choice = self._session.choose(seat)
                self._load(peer, request, toml, file, lambda program: self._load_into(seat, program, file, choice))
            case SetLive(live):
                self._session.switch.go(live, now_us)
            case HoldBack(on):
                peer.holds_back = on
                self._follow_holding()
            case Halt(key):
                self._session.switch.halt(now_us, key)
            case Stop():
                self.stop_requested = True
            case AssignPad(pad, _, toml, True, file):
                self._load(peer, request, toml, file, lambda program: self._share(pad, program, file))
            case SharePad(pad, controls):
                self._session.shared_pads.split(pad, controls, now_us)
            case AssignPad(_, index, toml, _, file):
                source = PadSearch(self._registry, self._registry.entry(call.pad))
                if toml:
                    self._load(
                        peer, request, toml, file, lambda program: self._add_seat(call.pad, source, program, file)
                    )
                else:
                    self._session.assign_pad(self._seat(index), source, call.pad, now_us)
            case EndSeat(index):
                self._end_seat(index, now_us)
            case WatchPads(hz, frames):
                self.subscriptions.watch_pads(peer, hz, frames)
            case WatchSigns(on):
                self._watch_signs(peer, on)
            case WatchSession():
                self._watch_session(peer)
            case Alive():
                if peer.helper is not None:
                    peer.helper.note_answer(now_us)
            case ReportAway(why):
                if self._session.away is Away.NO_DISPLAY:
                    self.helpers.restart_now()  # helpers that need the display may start again
                self._session.set_away(why, now_us)
            case ReportFront(front):
                if self.on_front is not None:
                    self.on_front(cut(front))
            case TryFront(front):
                if self.by_game is not None:
                    self.by_game.try_front(cut(front))
            case ReportLayout():
                if self.on_layout is not None:
                    self.on_layout()
                self.subscriptions.send_layout_news()
            case ReportHaltKey(key):
                self._session.halt_key = key
                self._session.note_change()
            case Rumble(pattern, index):
                self._seat(index).rumble(pattern)
            case OpenMenu(on, index):
                self._session.open_menu(self._seat(index), on, now_us)
            case StayOn(layer, index):
                self._stay_on(self._seat(index), layer)
            case SwitchGyro(on, index):
                self._seat(index).engine.allow_motion(on)
                self._session.note_signs()
            case PlugIn(pad):
                if self._registry.plug(pad):
                    self._registry.work_by_hand(pad, {})  # at rest until the demo is requested
                self.rescan()
            case Unplug(pad):
                self._registry.unplug(pad)
                self.rescan()
            case WorkByHand(pad, values):
                if self._registry.work_by_hand(pad, values):
                    self._pad_monitor.rescan()
            case PlayDemo(pad):
                self._registry.play_demo(pad)
                self._pad_monitor.rescan()
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
        return self._session.state()

    def _load(self, peer: Peer, request: Request, toml: str, file: str, use: Callable[[Program], None]) -> None:
        """Reads a profile beside play, then loads it and answers."""

        def on_read(result: Loaded | Refused) -> None:
            answer: State | Error
            if isinstance(result, Refused):
                answer = refused(result.why, result.problems)
            else:
                try:
                    use(result.program)
                    answer = self._session.state()
                except (_Refusal, MessageError) as error:
                    answer = _error(error)
            self._answer(peer, request, answer)
            self._connections.answered(peer)

        peer.awaits = True
        self._loading.read(toml, file, on_read)

    def _load_into(self, seat: Seat, program: Program, file: str, choice: Choice) -> None:
        if seat not in self._session.seats:
            raise _Refusal(Error(INVALID_PARAMS, "the seat has ended"))
        if file == seat.file and program.plays_like(seat.program):
            return  # already in play: nothing is released
        self._session.load(seat, program, self._clock(), file, choice)

    def _follow_holding(self) -> None:
        """Keeps outputs from the system while a window of ours that requests this is in front."""
        self._session.switch.hold_back(any(peer.holds_back for peer in self._connections.peers), self._clock())

    def _stay_on(self, seat: Seat, layer: str) -> None:
        try:
            seat.stay_on(layer)
        except ValueError:
            raise _Refusal(Error(INVALID_PARAMS, f"there is no layer {layer!r}")) from None

    def _watch_session(self, peer: Peer) -> None:
        self._note_helper(peer)
        self._session.follows = self.by_game is not None
        self._session.note_change()

    def _note_helper(self, peer: Peer) -> None:
        """Sends heartbeats to a client that is a helper of this runner."""
        helper = self.helpers.of_process(peer.process)
        if helper is not None:
            peer.helper = helper
            helper.note_connected(lambda: self._connections.send(peer, _PING))

    def _watch_signs(self, peer: Peer, on: bool) -> None:
        self.subscriptions.watch_signs(peer, on)
        if on:
            self._note_helper(peer)
            self._end_alone()

    def _add_seat(self, pad: str, source: PadSource, program: Program, file: str) -> None:
        seat = self._session.add(program, source, pad_returns=True, file=file)
        self._session.assign_pad(seat, source, pad, self._clock())
        self.subscriptions.follow_seats()

    def _share(self, pad: str, program: Program, file: str) -> None:
        self._session.shared_pads.share(pad, program, self._clock(), file)
        self.subscriptions.follow_seats()

    def _end_seat(self, index: int, now_us: int) -> None:
        seat = self._seat(index)
        if len(self._session.seats) == 1:
            raise _Refusal(refused(Message(Code.ONLY_SEAT)))
        self.subscriptions.end_seat(seat)
        self._session.remove(seat, now_us)

    def _subscribe(self, peer: Peer, requested: Subscribe) -> None:
        every = requested.seat == ALL_SEATS
        if every:
            peer.all_hz = max(0, requested.hz)
        seats = list(self._session.seats) if every else [self._seat(requested.seat)]
        self.subscriptions.subscribe(peer, seats, requested.hz)

    def _seat(self, index: int) -> Seat:
        seats = self._session.seats
        if not 0 <= index < len(seats):
            raise _Refusal(Error(INVALID_PARAMS, f"there is no seat {index}, expected 0 to {len(seats) - 1}"))
        return seats[index]

    def _on_gone(self, peer: Peer) -> None:
        self.subscriptions.end(peer)
        if peer.helper is not None:
            peer.helper.note_gone()
            peer.helper = None
        if peer.holds_back:
            self._follow_holding()
        self._end_alone()

    def _end_alone(self) -> None:
        """Ends a runner with `until_hangup` that has no clients besides helpers."""
        if self._until_hangup and all(peer.signs_feed or peer.helper for peer in self._connections.peers):
            self.stop_requested = True


def _decoded(request: Request) -> Call:
    if request.method not in METHODS:
        raise _Refusal(Error(METHOD_NOT_FOUND, f"there is no method {request.method!r}"))
    try:
        return decode_call(request.method, request.params)
    except msgspec.ValidationError as error:
        raise _Refusal(Error(INVALID_PARAMS, str(error))) from None


def _error(error: _Refusal | MessageError) -> Error:
    return error.error if isinstance(error, _Refusal) else refused(error.message)

"""The window's connection to a runner, its own or the session's."""

from __future__ import annotations

import logging
from collections.abc import Callable
from contextlib import suppress
from typing import assert_never

from PyQt6.QtCore import QObject, QTimer, pyqtSignal
from PyQt6.QtNetwork import QLocalSocket

from nub_shift.editing.words.messages import message_words
from nub_shift.model.messages import Code
from nub_shift.protocol.calls import ALL_SEATS, Call, GetState, HoldBack, LoadProfile, SetLive, Subscribe, WatchPads
from nub_shift.protocol.client import ClientProtocol, News, Reply
from nub_shift.protocol.codec import PROTOCOL
from nub_shift.protocol.messages import LayoutNews, Notice, PadsNews, Ping, Ready, SignsNews, Telemetry
from nub_shift.protocol.sockets import check_private
from nub_shift.translation import tr
from nub_shift.ui.runner_start import RunnerStart

log = logging.getLogger("nub_shift.ui")

RESTART_MS = 1_500
MAX_RESTARTS = 3
# Run time after which a runner counts as started successfully.
UP_MS = 30_000
# Silence after a heartbeat that counts as no answer.
SILENT_MS = 1_000
# First wait before a retry of a profile whose reading was too slow, doubled each time.
LOAD_AGAIN_MS = 2_000
LOAD_AGAIN_MOST_MS = 60_000
# Interval of heartbeats while the window is invisible.
UNSEEN_MS = 10_000
# Interval of attempts to connect to a starting runner, which takes a few tenths of a second.
CONNECT_MS = 15


class RunnerLink(QObject):
    """Starts a runner and keeps the connection to it, without blocking the interface.

    Attributes:
        file: file of the profile given to the runner.

    Signals:
        state_changed(State): after each call, and at a new connection.
        telemetry(Telemetry), pads(PadsNews): at most `hz` times a second, the latter while subscribed.
        message(str): a message for the person.
        gone(): the runner has gone, so no outputs are sent.
        elsewhere(str): our seat has changed to the profile of another file, not requested here.
    """

    state_changed = pyqtSignal(object)
    telemetry = pyqtSignal(object)
    pads = pyqtSignal(object)
    message = pyqtSignal(str)
    elsewhere = pyqtSignal(str)
    gone = pyqtSignal()

    def __init__(self, starting: RunnerStart, hz: int = 30, parent: QObject | None = None) -> None:
        super().__init__(parent)
        self.file = ""
        self._starting = starting
        self._hz = hz
        self._protocol = ClientProtocol()
        self._restarts = 0
        self._ending = False
        self._live = False  # whether live is chosen
        self._carries_live = self._left = False
        self._in_front = False
        self._loads = self._live_requests = 0  # number of unanswered loads and requests for live
        self._requested = self._silent = False
        self._alike: tuple[int, ...] = (0,)  # seats with the same profile as our seat
        self._toml: str | None = None  # profile given to the runner, if not the one it was started with
        self._watching = (False, "", 0)
        self._seen = True
        self._ready = False
        self._up = QTimer(self)
        self._up.setSingleShot(True)
        self._up.setInterval(UP_MS)
        self._up.timeout.connect(self._on_up)
        self._pulse = QTimer(self)
        self._pulse.setInterval(SILENT_MS)
        self._pulse.timeout.connect(self._on_heartbeat)
        self._load_again = QTimer(self)
        self._load_again.setSingleShot(True)
        self._load_again.setInterval(LOAD_AGAIN_MS)
        self._load_again.timeout.connect(self._on_load_again)
        starting.ended.connect(self._on_ended)
        self._socket = QLocalSocket(self)
        self._knock = QTimer(self)
        self._knock.setInterval(CONNECT_MS)
        self._knock.timeout.connect(self._on_retry)
        self._socket.readyRead.connect(self._on_bytes)
        self._socket.disconnected.connect(self._on_disconnected)

    def start(self) -> None:
        """Starts the runner; `state_changed` follows."""
        self._protocol = ClientProtocol()
        self._hang_up()
        self._knock.start()
        self._starting.start()

    def load(self, toml: str) -> None:
        """Gives the runner another profile, for our seat and for seats with the same profile as ours."""
        self._toml = toml
        for seat in self._alike if self._ready else ():
            self._loads += 1
            self._call(LoadProfile(toml, seat, self.file), self._on_loaded)

    def adopt(self, toml: str) -> None:
        """Records the profile that our seat plays already; only a later runner has to be given it."""
        self._toml = None if self._starting.stays else toml

    def go(self, live: bool) -> None:
        """Goes live, or back to rehearsal; a starting runner does so once it is ready."""
        self._live = live
        self._ask_live()
        if not self._ready:
            self.message.emit(tr("the runner is not there yet"))

    def _ask_live(self) -> None:
        if self._ready:
            self._live_requests += 1
            self._call(SetLive(self._live), self._on_live)

    def _on_live(self, reply: Reply) -> None:
        self._live_requests -= 1
        self._answered(reply)

    def hold_back(self, in_front: bool) -> None:
        """Keeps outputs from the system while our window is in front. Renewed after a restart."""
        if in_front is not self._in_front:
            self._in_front = in_front
            self.call(HoldBack(in_front))

    def call(self, call: Call) -> None:
        """Sends a call; the answer comes as a state, or as a message for a refusal."""
        if self._ready:
            self._call(call, self._answered)

    def _call(self, call: Call, answered: Callable[[Reply], None]) -> None:
        self._socket.write(self._protocol.call(call, answered))
        self._socket.flush()  # before other work of the event loop

    def notify(self, call: Call) -> None:
        """Sends a frequent call without handling its answer."""
        if self._ready:
            self._socket.write(self._protocol.notify(call))

    def watch_pads(self, on: bool, frames: str = "", hz: int = 0) -> None:
        """Subscribes to all pads, or unsubscribes; renewed after a restart.

        Args:
            frames: key of the pad to report with every frame.
            hz: rate; that of all telemetry by default.
        """
        self._watching = (on, frames, hz)
        self.call(WatchPads(hz=(hz or self._hz) if on and self._seen else 0, frames=frames))

    @property
    def stays(self) -> bool:
        """Whether the runner continues without the window."""
        return self._starting.stays

    @property
    def descriptor(self) -> int:
        """File descriptor of the socket, for measuring the runner's answers; -1 while there is none."""
        return int(self._socket.socketDescriptor())

    @property
    def watched(self) -> str:
        """Key of the pad reported with every frame, or empty."""
        on, frames, _ = self._watching
        return frames if on else ""

    def set_seen(self, seen: bool) -> None:
        """Sets whether the window is visible; otherwise subscriptions are suspended. Renewed after a restart."""
        self._seen = seen
        self._pulse.setInterval(SILENT_MS if seen else UNSEEN_MS)
        self.call(Subscribe(self._hz if seen else 0, ALL_SEATS))
        self.watch_pads(*self._watching)

    def leave(self) -> None:
        """Disconnects and stays disconnected until `change`; a runner of our own ends."""
        self._left = True
        self._hang_up()
        self.gone.emit()

    def change(self, starting: RunnerStart) -> None:
        """Changes to another runner, which gets the last profile; live stays chosen."""
        self._hang_up()
        self._starting.ended.disconnect(self._on_ended)
        self._starting.end()
        self._starting = starting
        starting.ended.connect(self._on_ended)
        self._left = False
        self._restarts, self._carries_live = 0, self._live
        self.start()

    def end(self) -> None:
        """Disconnects, which ends a runner of our own."""
        self._ending = True
        self._hang_up()
        self._starting.end()

    def _on_loaded(self, reply: Reply) -> None:
        self._loads -= 1
        self._answered(reply)
        data = reply.error.data if reply.error is not None else None
        if data is not None and data.why.code is Code.READING_FAILED:
            if not self._load_again.isActive():
                self._load_again.start()
                self._load_again.setInterval(min(2 * self._load_again.interval(), LOAD_AGAIN_MOST_MS))
        elif reply.state is not None:
            self._load_again.setInterval(LOAD_AGAIN_MS)

    def _on_load_again(self) -> None:
        """Loads a profile again whose reading was too slow."""
        if self._toml is not None:
            self.load(self._toml)

    def _answered(self, reply: Reply) -> None:
        if reply.error is not None:
            data = reply.error.data
            words = [message_words(data.why), *data.problems] if data is not None else [reply.error.message]
            self.message.emit("; ".join(words))
            self.call(GetState())  # the present state, whatever was requested
        if reply.state is not None:
            if not self._live_requests:  # otherwise another change is pending
                self._live = reply.state.wanted
            titles = [seat.title for seat in reply.state.seats]
            self._alike = tuple(index for index, title in enumerate(titles) if title == titles[0])
            self.state_changed.emit(reply.state)
            plays = reply.state.seats[0].file
            if plays and plays != self.file and not self._loads:
                self.elsewhere.emit(plays)

    def _on_retry(self) -> None:
        """Tries to connect to the runner."""
        if self._socket.state() == QLocalSocket.LocalSocketState.UnconnectedState:
            with suppress(OSError):  # the folder does not exist yet; a folder open to others is reported by the runner
                check_private(self._starting.path)
                self._socket.connectToServer(str(self._starting.path))

    def _on_bytes(self) -> None:
        self._requested = False
        if self._silent:
            self._silent = False
            self.message.emit(tr("the runner answers again"))
        for news in self._protocol.feed(self._socket.readAll().data()):
            self._take(news)

    def _take(self, news: News) -> None:
        match news:
            case Ready():
                self._on_ready(news)
            case Telemetry():
                self.telemetry.emit(news)
            case PadsNews():
                self.pads.emit(news)
            case Notice(message):
                self.message.emit(message_words(message))
                self.call(GetState())
            case SignsNews() | LayoutNews() | Ping():
                pass  # not subscribed; the window watches the layout itself
            case _:
                assert_never(news)

    def _on_ready(self, ready: Ready) -> None:
        self._knock.stop()
        if ready.protocol != PROTOCOL:
            self.message.emit(
                tr("the runner is version {version}, which this window cannot talk to", version=ready.version)
            )
            return
        log.debug("runner: starting -> ready")
        self._ready = True
        self._starting.found()
        if self._restarts:
            self.message.emit(tr("the runner is there again"))
        self._up.start()
        self._pulse.start()
        self._alike, self._loads, self._live_requests = (0,), 0, 0
        if self._in_front:
            self.call(HoldBack(True))
        if self._toml is not None:
            self.load(self._toml)
        self.call(Subscribe(self._hz if self._seen else 0, ALL_SEATS))
        if self._watching[0]:
            self.watch_pads(*self._watching)
        if self._live and (self._carries_live or not self._starting.stays):  # the former runner was live
            self._ask_live()
        self._carries_live = False

    def _on_up(self) -> None:
        self._restarts = 0

    def _on_heartbeat(self) -> None:
        """Sends a heartbeat to a silent runner."""
        if self._requested and not self._silent:
            self._silent = True
            self.message.emit(tr("the runner does not answer"))
        if not self._requested:
            self._requested = True
            self.call(GetState())

    def _hang_up(self) -> None:
        self._ready = self._requested = self._silent = False
        for timer in (self._knock, self._up, self._pulse, self._load_again):
            timer.stop()
        self._socket.abort()

    def _on_disconnected(self) -> None:
        if self._ready and not self._ending:
            self._starting.lost()

    def _on_ended(self, why: str) -> None:
        self._hang_up()
        if self._ending or self._left:
            return
        self.gone.emit()
        self._restarts += 1
        if self._restarts <= MAX_RESTARTS:
            self.message.emit(tr("the runner ended ({why}); starting it again", why=why))
            QTimer.singleShot(0 if self._starting.stays else RESTART_MS, self.start)
        else:
            self.message.emit(
                tr(
                    "the runner ended {restarts} times in a row ({why}); keys go nowhere now",
                    restarts=self._restarts,
                    why=why,
                )
            )

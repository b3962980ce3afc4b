"""Clients of a runner, in one process: what they are told when they are slow, many, or leave."""

from __future__ import annotations

import socket
import time
from collections.abc import Callable, Iterator
from pathlib import Path

import pytest

from nub_shift.engine.values import Frame, Key
from nub_shift.keyboard.session import SessionLayout
from nub_shift.protocol.calls import Call, EndSeat, OpenMenu, Subscribe, WatchSigns, method_of, params_of
from nub_shift.protocol.client import ClientProtocol, News
from nub_shift.protocol.codec import encode_request
from nub_shift.protocol.messages import SignsNews, Telemetry
from nub_shift.runner.background import BackgroundWork
from nub_shift.runner.clients.connections import MAX_UNSENT_BYTES
from nub_shift.runner.clients.server import Server
from nub_shift.runner.pads.batteries import PERIOD_US, Batteries
from nub_shift.runner.pads.pad_monitor import PadMonitor
from nub_shift.runner.pads.pad_registry import PadRegistry
from nub_shift.runner.profiles.loading import Loading
from nub_shift.runner.seats.pad_events import PadEvents
from nub_shift.runner.seats.seat_reports import seat_state
from nub_shift.runner.seats.telemetry import MAX_BACKLOG, TelemetryFeed
from nub_shift.runner.watch import Watch
from tests.engine.playing import START_US, profile_text
from tests.runner.fakes import SEAT, Bench

REGAIN = 'south = { keys = ["KEY_A"], manner = "toggle", regain = true }'


class Client:
    """One connection, whose bytes move when a test says so."""

    def __init__(self, path: Path, turn: Callable[[], None]) -> None:
        self._turn = turn
        self._protocol = ClientProtocol()
        self.socket = socket.socket(socket.AF_UNIX)
        self.socket.connect(str(path))
        self.socket.setblocking(False)
        self._turn()

    def send(self, call: Call) -> None:
        self.socket.sendall(encode_request(method_of(call), params_of(call)))
        self._turn()

    def news(self) -> list[News]:
        try:
            return self._protocol.feed(self.socket.recv(1 << 20))
        except BlockingIOError:
            return []


class Served:
    """A session with a server."""

    def __init__(self, path: Path, until_hangup: bool = False) -> None:
        self.bench = Bench()
        self.watch = Watch()
        self.now_us = START_US
        registry = PadRegistry()
        monitor = PadMonitor(
            self.bench.session, registry, PadEvents(), self.watch, lambda: self.now_us, BackgroundWork(self.watch)
        )
        clock = lambda: self.now_us  # noqa: E731
        loading = Loading(self.watch, SessionLayout(), (), clock)
        self.server = Server(path, self.bench.session, registry, monitor, self.watch, clock, loading, until_hangup)
        self.path = path
        self.clients: list[Client] = []
        self.bench.session.work(START_US)

    def client(self) -> Client:
        self.clients.append(Client(self.path, self.turn))
        return self.clients[-1]

    def turn(self) -> None:
        """What has been said is heard."""
        self.watch.wait(0)
        while self.server.pending:
            self.server.step()
            self.watch.wait(0)

    def notify(self) -> None:
        """Time for the next packets."""
        self.now_us += 1_000_000
        self.server.work(self.now_us)
        self.turn()


@pytest.fixture
def served(tmp_path: Path) -> Iterator[Served]:
    tmp_path.chmod(0o700)
    made = Served(tmp_path / "r.sock")
    yield made
    made.server.close()
    for client in made.clients:
        client.socket.close()


@pytest.mark.parametrize("comes", [False, True])
def test_a_windows_runner_ends_where_its_window_never_comes(tmp_path: Path, comes: bool) -> None:
    tmp_path.chmod(0o700)
    served = Served(tmp_path / "r.sock", until_hangup=True)
    clients = [served.client()] if comes else []
    for _ in range(40):
        served.notify()
    assert served.server.stop_requested is not comes
    for client in clients:
        client.socket.close()
    served.turn()
    assert served.server.stop_requested
    served.server.close()


def test_a_windows_runner_does_not_stay_for_who_only_shows_signs(tmp_path: Path) -> None:
    tmp_path.chmod(0o700)
    served = Served(tmp_path / "r.sock", until_hangup=True)
    window, shows = served.client(), served.client()
    shows.send(WatchSigns())
    requested = [served.server.stop_requested]
    window.socket.close()
    served.turn()
    requested.append(served.server.stop_requested)
    assert requested == [False, True]
    served.server.close()
    shows.socket.close()


def test_a_menu_is_closed_with_its_pad_and_with_who_shows_it(served: Served) -> None:
    client = served.client()
    seat = served.bench.session.seats[0]
    client.send(OpenMenu(True))
    opened = [seat.in_menu]  # nobody shows it
    client.send(WatchSigns())
    client.send(OpenMenu(True))
    opened.append(seat.in_menu)
    served.bench.pads[0].unplugged = True
    served.bench.session.work(served.now_us)
    opened.append(seat.in_menu)
    assert opened == [False, True, False]
    served.notify()
    served.bench.session.work(served.now_us + 5_000_000)
    client.send(OpenMenu(True))
    served.bench.pads[-1].waiting.append(Frame(served.now_us, {"south": 1.0}))
    served.bench.session.work(served.now_us + 5_000_000)
    assert served.bench.session.ledger.down == (), "the game gets nothing"
    client.socket.close()
    served.turn()
    assert not seat.in_menu


def test_a_client_that_does_not_read_is_told_no_more_until_it_does(served: Served) -> None:
    slow = served.client()
    slow.send(Subscribe(hz=250))
    (peer,) = served.server._connections.peers
    pile = b"x" * (MAX_UNSENT_BYTES + 1)
    peer.outgoing += pile
    served.notify()
    assert len(peer.outgoing) == len(pile)
    peer.outgoing.clear()
    served.notify()
    assert any(isinstance(news, Telemetry) for news in slow.news())


def test_what_is_left_of_a_client_that_has_gone_is_not_taken_for_the_next_one(served: Served) -> None:
    first = served.client()
    first.socket.sendall(encode_request("state", {}, 1))
    served.watch.wait(0)  # it is noted, and not looked at yet
    (peer,) = served.server._connections.peers
    with socket.socket(socket.AF_UNIX) as second:
        served.server._connections.drop(peer)
        second.connect(str(served.path))
        served.turn()
        (other,) = served.server._connections.peers
        assert other.fd == peer.fd
        second.sendall(encode_request("state", {}, 1))
        served.turn()
        second.settimeout(5)
        assert b'"result"' in second.recv(1 << 20)


def test_when_a_seat_ends_the_clients_of_later_ones_follow_theirs(served: Served) -> None:
    for title in ("Second", "Third"):
        served.bench.add(profile_text('left_shoulder = { layer = "shift" }').replace('"Test"', f'"{title}"'))
    served.bench.session.work(START_US)
    clients = [served.client() for _ in range(3)]
    for seat, client in enumerate(clients):
        client.send(Subscribe(hz=250, seat=seat))
    served.notify()
    for client in clients:
        client.news()
    third = served.bench.session.seats[2]
    clients[0].send(EndSeat(1))
    served.bench.pads[2].waiting.append(Frame(served.now_us, {"left_shoulder": 1.0}))
    served.bench.session.work(served.now_us)
    served.notify()
    last = [news for news in clients[2].news() if isinstance(news, Telemetry)][-1]
    assert last.layers == ("base", "shift") == seat_state(third).layers
    assert last.seat == 1
    assert [news for news in clients[1].news() if isinstance(news, Telemetry)] == []  # its seat has ended


def test_whether_the_front_window_matters_goes_with_the_seat_that_needs_it() -> None:
    bench = Bench()
    seat = bench.add(profile_text(REGAIN))
    assert bench.session.needs_front
    bench.session.remove(seat, START_US)
    assert not bench.session.needs_front


def test_what_goes_beyond_the_limit_of_a_slow_subscriber_is_left_out() -> None:
    feed = TelemetryFeed(60, {})
    for number in range(MAX_BACKLOG + 100):
        feed.note_frame(Frame(START_US + number, {"south": float(number % 2)}))
        feed.note_outputs([Key(START_US + number, "KEY_A", bool(number % 2))])
    packet = feed.packet(START_US, 0, SEAT)
    assert packet is not None
    assert len(packet.changes) == len(packet.outputs) == MAX_BACKLOG
    assert packet.values["south"] == float((MAX_BACKLOG + 99) % 2)  # where it stands is told all the same


def test_who_shows_signs_is_told_what_is_something_else_and_nothing_while_nothing_is(served: Served) -> None:
    client = served.client()
    client.send(WatchSigns())
    served.notify()
    (first,) = [news for news in client.news() if isinstance(news, SignsNews)]
    assert first.profiles[0].title == served.bench.session.seats[0].program.profile.title
    pad = served.bench.pads[0]

    def told(values: dict[str, float]) -> list[SignsNews]:
        pad.waiting.append(Frame(served.now_us, values))
        served.bench.session.work(served.now_us)
        served.notify()
        return [news for news in client.news() if isinstance(news, SignsNews)]

    (shifted,) = told({"left_shoulder": 1.0})
    assert shifted.seats[0].layers == ("base", "shift")
    assert shifted.profiles == {}, "it was told"
    assert told({"south": 1.0}) == []  # a key is no sign
    assert served.server.due_us() is None, "nobody need wake up"
    client.send(WatchSigns(on=False))
    assert told({"left_shoulder": 0.0}) == []
    assert served.bench.session.signs == []


def test_batteries_are_looked_at_while_something_is_played_and_told(served: Served) -> None:
    found = {"fake": 60}
    looked: list[int] = []

    def read() -> dict[str, int]:
        looked.append(served.now_us)
        return found

    served.server.subscriptions.batteries = Batteries(served.bench.session, read, BackgroundWork(served.watch))
    client = served.client()
    client.send(WatchSigns())

    def told() -> list[int]:
        served.notify()
        end = time.monotonic() + 20
        news: list[SignsNews] = []
        while not news and time.monotonic() < end:
            served.watch.wait(0.01)
            served.notify()
            news = [found for found in client.news() if isinstance(found, SignsNews) and found.seats[0].battery >= 0]
        return [found.seats[0].battery for found in news]

    assert told() == [60]
    found["fake"] = 12
    for _ in range(100):  # nothing is played
        served.notify()
    assert len(looked) == 1
    served.bench.pads[0].waiting.append(Frame(served.now_us, {"south": 1.0}))
    served.now_us += PERIOD_US
    served.bench.session.work(served.now_us)
    assert told() == [12]

"""Builds a runner from its options and plays."""

from __future__ import annotations

import gc
import resource
from collections.abc import Callable
from dataclasses import dataclass
from functools import partial
from pathlib import Path
from typing import TYPE_CHECKING, assert_never

from nub_shift.engine.program import Program
from nub_shift.engine.values import US_PER_SECOND
from nub_shift.front.windows import has_display
from nub_shift.keyboard.session import SessionLayout
from nub_shift.model.kinds import OutputKind, PadKind
from nub_shift.model.messages import Code, Message
from nub_shift.model.plain_text import system_fault
from nub_shift.model.profile.profile import Profile
from nub_shift.outputs.output import OutputError
from nub_shift.outputs.registry import open_output
from nub_shift.pads.pad import Pad, PadError
from nub_shift.pads.spec import PadSpec, parse_spec
from nub_shift.protocol.clock import monotonic_us
from nub_shift.protocol.messages import State
from nub_shift.runner.background import BackgroundWork
from nub_shift.runner.clients.helpers import FRUGAL, Helper, Helpers
from nub_shift.runner.clients.server import Server
from nub_shift.runner.errors import CannotPlay
from nub_shift.runner.lazy_import import import_late
from nub_shift.runner.live.output_watch import OutputWatch
from nub_shift.runner.loop import StopSignals, run_loop
from nub_shift.runner.pads.batteries import Batteries
from nub_shift.runner.pads.pad_monitor import PadMonitor
from nub_shift.runner.pads.pad_registry import PadRegistry
from nub_shift.runner.pads.pad_search import PadSearch
from nub_shift.runner.profiles.by_game import ByGame
from nub_shift.runner.profiles.front_window import FrontWindow
from nub_shift.runner.profiles.loading import Loading
from nub_shift.runner.profiles.rule_list import RuleList
from nub_shift.runner.seats.pad_events import PadEvents
from nub_shift.runner.seats.pad_source import PadSource, Taken
from nub_shift.runner.seats.playing import keep_now, keeper
from nub_shift.runner.seats.session import Session
from nub_shift.runner.session_service.residence import Residence, ResidentShare
from nub_shift.runner.session_service.service import ServiceManager
from nub_shift.runner.watch import Watch

if TYPE_CHECKING:
    from nub_shift.pads.kernel.hotplug import Hotplug


@dataclass(frozen=True)
class Player:
    """A pad with a profile.

    Attributes:
        pad: simulated[:NAME], evdev[:MATCH] or recorded:FILE.
        file: file of the profile, or empty.
        identity: most specific identity of the pad before, or empty.
    """

    pad: str
    profile: Profile
    file: str = ""
    identity: str = ""


@dataclass(frozen=True)
class ResidentOptions:
    """Settings of a runner that stays for the whole session.

    Attributes:
        path: file of the kept state.
        described: returns a state as one line.
        output: the chosen output, or empty.
        simulated: simulated pads to plug in.
        news: messages about the restored state.
    """

    path: Path
    described: Callable[[State], str]
    output: str = ""
    seconds: tuple[ResidentShare, ...] = ()
    simulated: tuple[str, ...] = ()
    news: tuple[Message, ...] = ()


@dataclass(frozen=True)
class Options:
    """Options of play.

    Attributes:
        players: at least one.
        folders: folders of profiles that pads may request; without any, requests are ignored.
        seconds: time limit; None for none.
        layout: keyboard layout for typed texts.
        until_hangup: ends with the last client, as a window's own runner does.
        signs: shows signs while live.
        staying: stays for the whole session; an output that cannot be opened is then a message instead of an error.
    """

    players: tuple[Player, ...]
    folders: tuple[Path, ...]
    output: OutputKind
    rehearse: bool
    seconds: float | None
    socket: Path
    layout: SessionLayout
    until_hangup: bool = False
    signs: bool = False
    staying: ResidentOptions | None = None


def play(options: Options, notify: Callable[[Message], None], on_ready: Callable[[State], None]) -> None:
    """Plays until the end is requested. `notify` receives messages for the person, `on_ready` the state at
    the beginning of play.

    Raises:
        CannotPlay: the requested pad cannot exist, the output cannot be opened, or the socket cannot be created.
    """
    try:
        _play(options, notify, on_ready)
    except (OutputError, PadError) as error:
        raise CannotPlay.of(error.message) from None


def _play(options: Options, notify: Callable[[Message], None], on_ready: Callable[[State], None]) -> None:
    _leave_no_core()
    import_late("asyncio")  # imported by the library that reads devices, but unused here and five megabytes large
    start_us = monotonic_us()
    end_us = None if options.seconds is None else start_us + round(options.seconds * US_PER_SECOND)
    registry = PadRegistry()
    lost = _plug_kept(registry, options.staying)
    sources = [(player, pad_source(player.pad, registry, player.identity)) for player in options.players]
    watch = Watch()
    events = PadEvents()
    stop = StopSignals(watch)
    beside = BackgroundWork(watch)
    stays = options.staying is not None
    front = FrontWindow()
    loading = Loading(watch, options.layout, options.folders, monotonic_us)
    servers: list[Server] = []

    def say(message: Message) -> None:
        notify(message)
        for listening in servers:
            listening.say(message)

    session = Session(
        partial(open_output, options.output, start_us), options.output, say, events, loading, monotonic_us
    )
    for player, source in sources:
        returns = parse_spec(player.pad).kind is not PadKind.RECORDED
        session.add(Program(player.profile, options.layout), source, returns, player.file)
    path = str(options.socket)
    signs_fail = partial(session.say, Message(Code.SIGNS_FAIL))
    signs = Helper(
        "nub_shift.cli.signs", (path, *(["tray"] if stays else [])), beside, signs_fail, FRUGAL, works_on_request=True
    )
    watching = Helper("nub_shift.cli.session_watch", (path,), beside, session.note_unwatched)
    helpers = Helpers(signs, watching)
    shows = options.signs and has_display()
    if shows:
        session.on_live = signs.start
    session.output.watch = OutputWatch(session.switch, watch, beside, monotonic_us)
    session.keep_recap = keeper(beside)
    residence = _residence(options, session, registry, beside)
    follows = bool(options.folders) and (stays or has_display())  # without a display no window is reported
    by_game = _by_game(options, session, loading, watch, beside) if follows else None
    session.follows = by_game is not None and has_display()
    try:
        monitor = PadMonitor(session, registry, events, watch, monotonic_us, beside)
        server = _serve(options, session, registry, monitor, watch, loading)
        server.helpers = helpers
        server.on_front = front.told
        server.on_layout = partial(_retype, options.layout, session)
        servers.append(server)
        try:
            session.work(start_us)
            _go(session, options)
            for message in (*lost, *(options.staying.news if options.staying is not None else ())):
                session.say(message)
            on_ready(session.state())
            if residence is not None:
                residence.ready()
            batteries = Batteries(session, registry.batteries, beside) if options.signs else None
            server.subscriptions.batteries = batteries
            _watch_plugs(options, session, server, watch, beside, batteries)
            if has_display():
                watching.start()
            begin_signs = signs.start if shows and stays else _nothing  # has an icon in the tray
            if by_game is not None:
                front.follow(by_game.on_front)
                server.by_game = by_game
                by_game.start(begin_signs)  # not both at once: a machine is busy at login
            else:
                begin_signs()
            gc.freeze()  # excludes existing objects from garbage collection, which would delay keys
            run_loop(session, server, front, stop, watch, end_us, residence)
        finally:
            server.close()
            if residence is not None:
                residence.close()
    finally:
        loading.close()
        if by_game is not None:
            by_game.close()
        session.keep_recap = keep_now  # at the end the recap is written at once, without the background thread
        try:
            session.close(monotonic_us())
        finally:
            beside.close()
            stop.close()


def _plug_kept(registry: PadRegistry, staying: ResidentOptions | None) -> list[Message]:
    """Plugs the kept simulated pads in; returns messages about those that fail."""
    lost = []
    for name in staying.simulated if staying is not None else ():
        try:
            registry.plug(name)
        except PadError as error:
            lost.append(error.message)
    return lost


def _nothing() -> None:
    """Does nothing, for a part without start-up work."""


def _by_game(options: Options, session: Session, loading: Loading, watch: Watch, beside: BackgroundWork) -> ByGame:
    listing = Loading(watch, options.layout, options.folders, monotonic_us)
    rules = RuleList(listing, options.folders, beside, session.say, monotonic_us)
    return ByGame(session, loading, rules, options.folders, monotonic_us)


def _go(session: Session, options: Options) -> None:
    """Goes live if requested.

    Raises:
        OutputError: going live failed, and the runner does not stay to report that later.
    """
    try:
        session.switch.go(not options.rehearse, monotonic_us())
    except OutputError as error:
        if options.staying is None:
            raise
        session.say(error.message)


def _residence(options: Options, session: Session, registry: PadRegistry, beside: BackgroundWork) -> Residence | None:
    staying = options.staying
    if staying is None:
        return None
    return Residence(
        session, registry, beside, staying.path, staying.output, staying.seconds, staying.described, ServiceManager()
    )


def _leave_no_core() -> None:
    """Disables core dumps, since keys stay down while a core is dumped.

    The kernel takes a limit of one byte for none even where it pipes cores to a program (core(5)).
    """
    _, most = resource.getrlimit(resource.RLIMIT_CORE)
    resource.setrlimit(resource.RLIMIT_CORE, (min(1, most) if most >= 0 else 1, most))


def _watch_plugs(
    options: Options,
    session: Session,
    server: Server,
    watch: Watch,
    beside: BackgroundWork,
    batteries: Batteries | None,
) -> None:
    """Searches for pads and reads `batteries` at each udev event; without udev, seats search once a second."""
    evdev = any(parse_spec(player.pad).kind is PadKind.EVDEV for player in options.players)
    if not evdev and options.staying is None:
        return

    def listen() -> Hotplug | None:
        from nub_shift.pads.kernel.hotplug import Hotplug

        try:
            return Hotplug()
        except OSError:
            return None

    def on_news(hotplug: Hotplug) -> None:
        came = hotplug.came()
        if came or hotplug.gone:
            hotplug.gone = False
            server.rescan()
        if batteries is not None and (came or hotplug.power):
            hotplug.power = False
            batteries.look()

    def on_listening(hotplug: Hotplug | None) -> None:
        if hotplug is not None:
            watch.read(hotplug.fileno(), partial(on_news, hotplug))
            server.rescan()  # devices plugged in before the subscription
            if batteries is not None:
                batteries.look()
            session.has_plug_events = hotplug.is_sure

    beside.run(listen, on_listening)


def _retype(layout: SessionLayout, session: Session) -> None:
    """Types texts on another keyboard layout from now on, if the layout has changed."""
    if layout.refresh():
        session.profile_requests.retype()


def _serve(
    options: Options,
    session: Session,
    registry: PadRegistry,
    monitor: PadMonitor,
    watch: Watch,
    loading: Loading,
) -> Server:
    try:
        return Server(options.socket, session, registry, monitor, watch, monotonic_us, loading, options.until_hangup)
    except OSError as error:
        why = system_fault(error)
        raise CannotPlay(Code.FILE_FAILED, file=str(error.filename or options.socket), why=why) from None


def pad_source(text: str, registry: PadRegistry, former: str = "") -> PadSource:
    """Returns the source of the pad after `--pad`; a simulated pad is plugged in.

    Args:
        former: identity of the former pad, or empty.

    Raises:
        PadError: unknown kind of pad, simulated pad, or recording.
    """
    spec = parse_spec(text)
    match spec.kind:
        case PadKind.RECORDED:
            return _Recording(spec.file)
        case PadKind.SIMULATED:
            if not former:
                registry.plug(spec.match)
            return PadSearch(registry, spec, former)
        case PadKind.EVDEV:
            return PadSearch(registry, spec, former)
        case _:
            assert_never(spec.kind)


class _Recording:
    """Source of a pad that plays from a file.

    Raises:
        PadError: the file cannot be read.
    """

    former = ""
    identities: tuple[str, ...] = ()
    unsure = False
    spare = None

    def __init__(self, file: Path) -> None:
        from nub_shift.pads.recorded.recordings import open_recording

        self.requested = PadSpec(PadKind.RECORDED, str(file)).text
        self._opened = open_recording(file)

    def open(self, taken: Taken) -> Pad:  # noqa: ARG002
        """Opens the recording from its beginning."""
        return self._opened(monotonic_us())

    def forget(self) -> None:
        """Does nothing: a recording has no other seat."""

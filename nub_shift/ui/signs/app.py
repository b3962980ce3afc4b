"""The process that shows signs for one runner, and ends with it."""

from __future__ import annotations

import logging
import os
import signal
import socket
import sys
from collections.abc import Callable, Collection
from functools import cache, partial
from pathlib import Path
from typing import TYPE_CHECKING, Final

from PyQt6.QtCore import QSocketNotifier, QTimer
from PyQt6.QtGui import QGuiApplication
from PyQt6.sip import voidptr

from nub_shift.front.offers import LAYERS, offers
from nub_shift.front.windows import is_wayland
from nub_shift.keyboard.session import SessionLayout
from nub_shift.protocol.calls import Alive, Call, Rumble, WatchSigns
from nub_shift.protocol.client import Answered, ClientProtocol
from nub_shift.protocol.codec import PROTOCOL
from nub_shift.protocol.messages import LayoutNews, Ping, Ready, SignsNews
from nub_shift.protocol.sockets import check_private
from nub_shift.ui.connection_notifier import ConnectionNotifier
from nub_shift.ui.signs.board import Board, Screen
from nub_shift.ui.signs.pad_menus import PadMenus
from nub_shift.ui.signs.sign_kinds import PATTERNS, Sign

if TYPE_CHECKING:
    from nub_shift.desktop_bus.bus import Bus
    from nub_shift.ui.fault_note import NoteFault
    from nub_shift.ui.signs.sounds import Sounds
    from nub_shift.ui.signs.tray import Tray

log = logging.getLogger("nub_shift.ui")

MOST_BYTES: Final = 65_536
# Wait before connecting to the session's bus again.
TRAY_AGAIN_MS: Final = 10_000
_BUS_VARIABLE: Final = "DBUS_SESSION_BUS_ADDRESS"
_NO_BUS: Final = "disabled:"  # an unknown transport, so that nothing connects or starts a bus


def run_signs(path: Path, tray: bool, note_fault: NoteFault) -> int:
    """Shows the signs of the runner at a socket until it ends; returns the exit status.

    With a `tray` it has an icon there. `note_fault` logs an unexpected fault, after which the process continues.
    """
    sys.excepthook = note_fault
    if os.environ.get("DISPLAY"):  # also set in a Wayland session
        from nub_shift.front.x11 import leave_out_extensions

        leave_out_extensions()
    bus = keep_bus_from_qt()
    offered = offers() if is_wayland() else frozenset()
    opened = screen_of_session(offered)
    application = QGuiApplication(sys.argv[:1])
    application.setApplicationName("nub-shift")
    application.setQuitOnLastWindowClosed(False)
    signal.signal(signal.SIGTERM, signal.SIG_DFL)
    signal.signal(signal.SIGINT, signal.SIG_DFL)
    screen = opened()
    listening = RunnerSubscriber(path, screen, SessionLayout(), bus if tray else "")
    try:
        listening.start()
        return application.exec()
    except OSError as error:
        log.warning("no runner: %s", error)
        return 1
    finally:
        listening.end()
        screen.close()


def keep_bus_from_qt() -> str:
    """Hides the session's bus from Qt, which does not need it here; returns its address, empty if there is none.

    Qt connects to the bus at its start, and waits for a hanging one without a timeout.
    """
    address = os.environ.get(_BUS_VARIABLE, "")
    os.environ[_BUS_VARIABLE] = _NO_BUS
    return address


def screen_of_session(offered: Collection[str]) -> Callable[[], Screen]:
    """Returns a function that creates this session's screen; called before the application exists.

    `offered` are the interfaces of a Wayland compositor. Without layer surfaces, signs go through its X server, and Qt
    has to as well.
    """
    if is_wayland():
        layers = _layers() if LAYERS in offered else None
        if layers is not None:
            return layers
        if os.environ.get("DISPLAY"):
            os.environ["QT_QPA_PLATFORM"] = "xcb"
    from nub_shift.ui.signs.x11_screen import X11Screen

    return X11Screen


def _layers() -> Callable[[], Screen] | None:
    """Returns a function that creates layer surfaces, if the compositor has them and the library exists for this
    processor.
    """
    try:
        from nub_shift.ui.signs.layer_screen import Connection, LayerScreen
    except ImportError:
        return None
    connection = Connection.open()
    return partial(LayerScreen, connection) if connection is not None else None


class RunnerSubscriber:
    """The connection to the runner. The end of the connection ends the process."""

    def __init__(self, path: Path, screen: Screen, layout: SessionLayout, tray_bus: str) -> None:
        """`tray_bus` is the address of the icon's bus; empty for no icon."""
        self._path = path
        self._tray_bus = tray_bus
        self._layout = layout
        self._board = Board(screen, layout)
        self._menus = PadMenus(screen, layout, self._ask)
        self._bus: Bus | None = None
        self._tray: Tray | None = None
        if tray_bus:
            self._begin_tray()
        self._protocol = ClientProtocol()
        self._listening: ConnectionNotifier[_Line] = ConnectionNotifier(self._board)
        self._listening.news.connect(self._read)
        self._sounds = cache(_sounds)

    def start(self) -> None:
        """Connects.

        Raises:
            OSError: no process listens there.
        """
        self._listening.begin(_Line(self._path))

    def end(self) -> None:
        """Closes the connection."""
        if self._bus is not None:
            self._bus.close()
        self._listening.end()

    def _begin_tray(self) -> None:
        """Starts the tray icon on the session's bus; retries if there is none, or it has gone."""
        from nub_shift.desktop_bus.bus import Bus
        from nub_shift.ui.signs.session_bus import BusNotifiers
        from nub_shift.ui.signs.tray import Tray

        self._bus = Bus.open(self._tray_bus)
        if self._bus is None:
            QTimer.singleShot(TRAY_AGAIN_MS, self._begin_tray)
            return
        self._notifiers = BusNotifiers(self._bus, self._on_bus_gone)
        news, profiles = (self._tray.news, self._tray.profiles) if self._tray is not None else (None, {})
        self._tray = Tray(self._bus, self._notify)
        if news is not None:
            self._tray.take(news, profiles)

    def _on_bus_gone(self) -> None:
        if self._listening.connection is not None:  # otherwise the process itself is ending
            QTimer.singleShot(TRAY_AGAIN_MS, self._begin_tray)

    def _notify(self, call: Call) -> None:
        self._ask(call, None)

    def _play_signals(self, came: list[Sign]) -> None:
        """Plays rumble and sound of the last new sign."""
        for sign in came[-1:]:
            profile = self._board.profiles.get(sign.player)
            if profile is not None and profile.signs.rumble:
                self._notify(Rumble(PATTERNS[sign.kind][not sign.on], sign.player))
            if profile is not None and profile.signs.sound:
                self._sounds().play(sign.kind, sign.on)

    def _ask(self, call: Call, answered: Answered | None) -> None:
        line = self._listening.connection
        if line is not None:
            said = self._protocol.call(call, answered) if answered is not None else self._protocol.notify(call)
            line.send(said)

    def _read(self) -> None:
        line = self._listening.connection
        try:
            data = line.socket.recv(MOST_BYTES) if line is not None else b""
        except BlockingIOError:
            return
        except OSError:
            data = b""
        if not data:
            self._on_gone()
            return
        for news in self._protocol.feed(data):
            match news:
                case Ready(protocol):
                    if protocol != PROTOCOL:
                        log.warning("the runner speaks protocol %d, not %d", protocol, PROTOCOL)
                        self._on_gone()
                        return
                    self._notify(WatchSigns())
                case Ping():
                    self._notify(Alive())
                case LayoutNews():
                    if self._layout.refresh():
                        self._board.rename_keys()
                case SignsNews():
                    self._take(news)
                case _:
                    pass

    def _take(self, news: SignsNews) -> None:
        self._play_signals(self._board.take(news))
        self._menus.take(news, self._board.profiles)
        if self._tray is not None:
            self._tray.take(news, self._board.profiles)

    def _on_gone(self) -> None:
        self.end()
        self._board.clear()
        self._menus.clear()
        QGuiApplication.exit(0)


def _sounds() -> Sounds:
    """Returns the player of sounds, created at first use."""
    from nub_shift.ui.signs.sounds import Sounds

    return Sounds()


class _Line:
    """A connection to the runner, polled by Qt."""

    def __init__(self, path: Path) -> None:
        check_private(path)
        self.socket = socket.socket(socket.AF_UNIX, socket.SOCK_STREAM)
        self.socket.connect(str(path))
        self.socket.setblocking(False)
        self._outgoing = bytearray()
        self._writes = QSocketNotifier(voidptr(self.socket.fileno()), QSocketNotifier.Type.Write)
        self._writes.setEnabled(False)
        self._writes.activated.connect(self._give)

    def send(self, data: bytes) -> None:
        """Sends data, at once or when the runner reads again, without blocking."""
        self._outgoing += data
        self._give()

    def _give(self) -> None:
        try:
            del self._outgoing[: self.socket.send(self._outgoing)]
        except BlockingIOError:
            pass
        except OSError:
            self._outgoing.clear()  # the reader notices the end
        self._writes.setEnabled(bool(self._outgoing))

    def fileno(self) -> int:
        return self.socket.fileno()

    def close(self) -> None:
        self._writes.setEnabled(False)
        self.socket.close()

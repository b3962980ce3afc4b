"""The process that shows signs: it listens to one runner, and ends as that does."""

from __future__ import annotations

import logging
import os
import signal
import sys
from collections.abc import Callable
from functools import partial
from pathlib import Path
from typing import Final

from PyQt6.QtCore import QTimer
from PyQt6.QtNetwork import QLocalSocket
from PyQt6.QtWidgets import QApplication

from nub_shift.keyboard.session import SessionLayout
from nub_shift.protocol.calls import Call, TellFront, WatchSigns
from nub_shift.protocol.client import ClientProtocol
from nub_shift.protocol.codec import PROTOCOL
from nub_shift.protocol.messages import Ready, SignsNews
from nub_shift.ui.signs.board import Board, Screen
from nub_shift.ui.signs.front_watch import FrontWatch

log = logging.getLogger("nub_shift.ui")

# A runner that does not answer by then never will.
PATIENCE_MS: Final = 10_000


def run_signs(path: Path) -> int:
    """Shows what the runner at that socket tells, until it ends; returns the exit status."""
    opened = screen_of_session()
    application = QApplication(sys.argv[:1])
    application.setApplicationName("nub-shift")
    application.setQuitOnLastWindowClosed(False)
    signal.signal(signal.SIGTERM, signal.SIG_DFL)
    signal.signal(signal.SIGINT, signal.SIG_DFL)
    screen = opened()
    listening = RunnerEar(path, Board(screen, SessionLayout()()))
    listening.start()
    try:
        return application.exec()
    finally:
        listening.end()
        screen.close()


def screen_of_session() -> Callable[[], Screen]:
    """What makes the screen for this session, once there is an application; to be asked before.

    Where the compositor has no layer surfaces, signs go through its X server, and Qt has to as well.
    """
    if os.environ.get("WAYLAND_DISPLAY"):
        from nub_shift.ui.signs.layer_screen import Connection, LayerScreen

        connection = Connection.open()
        if connection is not None:
            return partial(LayerScreen, connection)
        if os.environ.get("DISPLAY"):
            os.environ["QT_QPA_PLATFORM"] = "xcb"
    from nub_shift.ui.signs.x11_screen import X11Screen

    return X11Screen


class RunnerEar:
    """The connection to the runner."""

    def __init__(self, path: Path, board: Board) -> None:
        self._path = path
        self._board = board
        self._protocol = ClientProtocol()
        self._socket = QLocalSocket()
        self._socket.readyRead.connect(self._read)
        self._socket.disconnected.connect(self._end)
        self._socket.errorOccurred.connect(self._end)
        self._front = FrontWatch(lambda front: self._tell(TellFront(front)))
        self._patience = QTimer()
        self._patience.setSingleShot(True)
        self._patience.timeout.connect(self._end)

    def start(self) -> None:
        """Connects; the process ends if nobody answers."""
        self._patience.start(PATIENCE_MS)
        self._socket.connectToServer(str(self._path))

    def end(self) -> None:
        """Listens no more."""
        self._front.end()
        self._socket.abort()

    def _tell(self, call: Call) -> None:
        self._socket.write(self._protocol.tell(call))

    def _read(self) -> None:
        for news in self._protocol.feed(self._socket.readAll().data()):
            match news:
                case Ready(protocol):
                    self._patience.stop()
                    if protocol != PROTOCOL:
                        log.warning("the runner speaks protocol %d, not %d", protocol, PROTOCOL)
                        self._end()
                    else:
                        self._tell(WatchSigns())
                        self._front.begin()
                case SignsNews():
                    self._board.take(news)
                case _:
                    pass

    def _end(self) -> None:
        self._board.clear()
        QApplication.exit(0)

"""Requests of a second start of the program to the open window."""

from __future__ import annotations

import logging
import os
from collections.abc import Callable
from functools import partial

import msgspec
from PyQt6.QtCore import QObject, QTimer
from PyQt6.QtNetwork import QLocalServer, QLocalSocket
from PyQt6.sip import voidptr

from nub_shift.protocol.listener import Listener
from nub_shift.protocol.window_call import ACTIVATION, MAX_LINE, Answered, Asked, window_socket

log = logging.getLogger("nub_shift.ui")

BACKLOG = 4


class SingleInstance(QObject):
    """Listens while the window is open. Without a socket the window works too, and a second one may open."""

    def __init__(self, show: Callable[[str], str], end: Callable[[], object], parent: QObject) -> None:
        """`show` brings the window to the front, with a profile if given; returns the reason of a failure, or empty.

        `end` closes the window.
        """
        super().__init__(parent)
        self._show = show
        self._end = end
        self._callers: set[QLocalSocket] = set()
        self._server = QLocalServer(self)
        self._server.newConnection.connect(self._on_caller)
        try:
            self._listener = Listener(window_socket(), BACKLOG)
        except OSError as error:
            log.warning("a second start will not find this window: %s", error)
            return
        # The listener has created the socket with more checks than the server would; the server owns it from here on.
        self._server.listen(voidptr(self._listener.socket.detach()))

    def close(self) -> None:
        """Stops listening."""
        if self._server.isListening():
            self._server.close()
            self._listener.close()

    def _on_caller(self) -> None:
        while (caller := self._server.nextPendingConnection()) is not None:
            # The only reference, without which its connections would be deleted.
            self._callers.add(caller)
            caller.disconnected.connect(partial(self._on_gone, caller))
            caller.readyRead.connect(partial(self._on_words, caller))
            self._on_words(caller)

    def _on_gone(self, caller: QLocalSocket) -> None:
        self._callers.discard(caller)
        caller.deleteLater()

    def _on_words(self, caller: QLocalSocket) -> None:
        if caller.canReadLine():
            try:
                requested = msgspec.json.decode(caller.readLine().data(), type=Asked)
            except (msgspec.MsgspecError, ValueError, RecursionError) as error:
                log.warning("a second start was not understood: %s", error)
                QTimer.singleShot(0, caller.abort)  # after its reading
                return
            if requested.token:
                os.environ[ACTIVATION] = requested.token
            fault = self._show(requested.profile) if not requested.ends else ""
            caller.write(msgspec.json.encode(Answered(fault)) + b"\n")
            caller.disconnectFromServer()
            if requested.ends:
                self._end()
        elif caller.bytesAvailable() > MAX_LINE:
            QTimer.singleShot(0, caller.abort)

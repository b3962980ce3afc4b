"""Non-blocking connection to the runner."""

from __future__ import annotations

import asyncio
import logging
import socket
from collections.abc import Callable
from pathlib import Path
from typing import Final

from nub_shift.protocol.calls import Call
from nub_shift.protocol.client import ClientProtocol, News
from nub_shift.protocol.sockets import check_private

log = logging.getLogger("nub_shift.session_watch")

_READ_BYTES: Final = 65_536


class RunnerLine:
    """Sends calls without answers, and receives notifications.

    Raises:
        OSError: no process listens there, or other users could.
    """

    def __init__(
        self, path: Path, loop: asyncio.AbstractEventLoop, heard: Callable[[News], None], gone: Callable[[], None]
    ) -> None:
        check_private(path)
        self._socket = socket.socket(socket.AF_UNIX, socket.SOCK_STREAM)
        self._socket.connect(str(path))
        self._socket.setblocking(False)
        self._loop = loop
        self._heard = heard
        self._gone = gone
        self._protocol = ClientProtocol()
        self._outgoing = bytearray()
        loop.add_reader(self._socket, self._take)

    def notify(self, call: Call) -> None:
        """Sends a call."""
        self._outgoing += self._protocol.notify(call)
        self._give()

    def close(self) -> None:
        """Closes the connection."""
        if self._socket.fileno() >= 0:
            self._loop.remove_reader(self._socket)
            self._loop.remove_writer(self._socket)
            self._socket.close()

    def _give(self) -> None:
        try:
            del self._outgoing[: self._socket.send(self._outgoing)]
        except BlockingIOError:
            pass
        except OSError:
            return  # the reader notices the end
        if self._outgoing:
            self._loop.add_writer(self._socket, self._give)
        else:
            self._loop.remove_writer(self._socket)

    def _take(self) -> None:
        try:
            data = self._socket.recv(_READ_BYTES)
        except BlockingIOError:
            return
        except OSError:
            data = b""
        if not data:
            self.close()
            self._gone()
            return
        for news in self._protocol.feed(data):
            self._heard(news)

"""The runner's socket, and each connection to it."""

from __future__ import annotations

import errno
import os
import socket
from pathlib import Path

from nub_shift.protocol.codec import LineReader
from nub_shift.runner.pads_feed import PadsFeed
from nub_shift.runner.telemetry import TelemetryFeed


class Peer:
    """One connection."""

    def __init__(self, connection: socket.socket) -> None:
        self.connection = connection
        self.reader = LineReader()
        self.outgoing = bytearray()
        self.feed: TelemetryFeed | None = None
        self.pads_feed: PadsFeed | None = None
        self.seat = 0

    @property
    def unsent(self) -> int:
        return len(self.outgoing)


def listen_privately(path: Path) -> socket.socket:
    """A listening Unix socket that nobody else could ever connect to: its folder and itself are private first.

    Raises:
        OSError: as the system says.
    """
    path.parent.mkdir(parents=True, exist_ok=True, mode=0o700)
    folder = path.parent.stat()
    if folder.st_uid != os.getuid() or folder.st_mode & 0o077:
        raise PermissionError(errno.EPERM, "others may enter this folder; choose a private one", str(path.parent))
    path.unlink(missing_ok=True)
    listener = socket.socket(socket.AF_UNIX, socket.SOCK_STREAM)
    before = os.umask(0o077)
    try:
        listener.bind(str(path))
    except OSError:
        listener.close()
        raise
    finally:
        os.umask(before)
    listener.listen(8)
    listener.setblocking(False)
    return listener

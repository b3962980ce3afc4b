"""The socket that a runner listens on."""

from __future__ import annotations

import errno
import os
import socket
import stat
from contextlib import suppress
from pathlib import Path

from nub_shift.protocol.sockets import check_private, is_listening
from nub_shift.translation import tr


class Listener:
    """A listening Unix socket that no other user could ever connect to: folder and socket are private from their
    creation.

    Deletes only a socket left behind by a runner of this user, and at the end its own.

    Raises:
        OSError: another process listens there, or the path is no socket; or as raised by `check_private` and the
            system.
    """

    def __init__(self, path: Path, backlog: int) -> None:
        self._path = path
        path.parent.mkdir(parents=True, exist_ok=True, mode=0o700)
        check_private(path)
        _make_room(path)
        self.socket = socket.socket(socket.AF_UNIX, socket.SOCK_STREAM)
        before = os.umask(0o077)
        try:
            self.socket.bind(str(path))
            self.socket.listen(backlog)
        except OSError as error:
            self.socket.close()
            raise OSError(error.errno, error.strerror, str(path)) from None
        finally:
            os.umask(before)
        self.socket.setblocking(False)
        self._made = _node_of(path)

    def close(self) -> None:
        """Removes the socket, if it is still the one created here."""
        self.socket.close()
        with suppress(OSError):
            if _node_of(self._path) == self._made:
                self._path.unlink()


def _make_room(path: Path) -> None:
    try:
        there = path.lstat()
    except FileNotFoundError:
        return
    if not stat.S_ISSOCK(there.st_mode):
        raise FileExistsError(errno.EEXIST, tr("is there already and is no socket; choose another name"), str(path))
    if is_listening(path):
        raise OSError(
            errno.EADDRINUSE, tr("somebody listens there; end that program, or choose another name"), str(path)
        )
    path.unlink()


def _node_of(path: Path) -> tuple[int, int, int]:
    """Returns device, inode and time of a socket file; a file in its place may have the same inode."""
    found = path.lstat()
    return found.st_dev, found.st_ino, found.st_mtime_ns

"""Sockets of runners, in a folder private to their user, which both ends check."""

from __future__ import annotations

import errno
import os
import socket
import stat
from pathlib import Path

import platformdirs

from nub_shift.translation import tr

# The system's limit on a socket's path, in bytes.
MAX_PATH_BYTES = 107
# Beginning of the line that reports a listening runner. Programs wait for this line, so it is not translated.
READY = "ready:"


def runtime_folder() -> Path:
    """Returns the user's private folder for sockets: the session's, or one in the home folder."""
    session = os.environ.get("XDG_RUNTIME_DIR")
    return Path(session) / "nub-shift" if session else platformdirs.user_state_path("nub-shift") / "run"


def default_socket() -> Path:
    """Returns a socket path for this process alone."""
    return runtime_folder() / f"runner-{os.getpid()}.sock"


def resident_socket() -> Path:
    """Returns the socket of the session's resident runner, one for each user."""
    return runtime_folder() / "resident.sock"


def running_sockets() -> list[Path]:
    """Returns the sockets of this user's listening runners in the default folder, the newest first."""
    found = [path for path in (*runtime_folder().glob("runner-*.sock"), resident_socket()) if is_listening(path)]
    return sorted(found, key=lambda path: path.stat().st_mtime, reverse=True)


def is_listening(path: Path) -> bool:
    """Returns whether a process listens there."""
    with socket.socket(socket.AF_UNIX, socket.SOCK_STREAM) as probe:
        try:
            probe.connect(str(path))
        except OSError:
            return False  # left behind by a killed runner
    return True


def check_private(path: Path) -> None:
    """Checks that no other user can replace the socket of a path.

    Raises:
        OSError: its folder is a link, another user's, or open to others; or the path is too long.
    """
    if len(os.fsencode(path)) > MAX_PATH_BYTES:
        wrong = tr(
            "is too long for a socket (at most {most} bytes); choose a shorter one with --socket", most=MAX_PATH_BYTES
        )
        raise OSError(errno.ENAMETOOLONG, wrong, str(path))
    folder = path.parent.lstat()
    if stat.S_ISLNK(folder.st_mode):
        raise NotADirectoryError(errno.ENOTDIR, tr("is a link; choose the folder itself"), str(path.parent))
    if folder.st_uid != os.getuid():
        raise PermissionError(errno.EPERM, tr("is another user's; choose a folder of your own"), str(path.parent))
    if folder.st_mode & 0o077:
        raise PermissionError(errno.EPERM, tr("others may enter this folder; choose a private one"), str(path.parent))

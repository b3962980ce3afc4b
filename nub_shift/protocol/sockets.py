"""Where runners listen: sockets in a folder that is their user's alone. Both ends check that before they trust it."""

from __future__ import annotations

import errno
import os
import socket
import stat
from pathlib import Path

import platformdirs

from nub_shift.translation import tr

# The longest path of a socket, in bytes, that the system takes.
MAX_PATH_BYTES = 107
# How the line begins by which a runner says that it listens. Programs wait for it, so it is the same in every language.
READY = "ready:"


def runtime_folder() -> Path:
    """The user's private folder for sockets: the session's, or one at home where a session has none."""
    session = os.environ.get("XDG_RUNTIME_DIR")
    return Path(session) / "nub-shift" if session else platformdirs.user_state_path("nub-shift") / "run"


def default_socket() -> Path:
    """A socket path of this process's own."""
    return runtime_folder() / f"runner-{os.getpid()}.sock"


def resident_socket() -> Path:
    """Returns the socket of the runner that stays for the whole session, one for each user."""
    return runtime_folder() / "resident.sock"


def running_sockets() -> list[Path]:
    """The sockets of all runners of this user that listen where runners listen by default, the newest first."""
    found = [path for path in (*runtime_folder().glob("runner-*.sock"), resident_socket()) if is_heard(path)]
    return sorted(found, key=lambda path: path.stat().st_mtime, reverse=True)


def is_heard(path: Path) -> bool:
    """Whether anybody listens there."""
    with socket.socket(socket.AF_UNIX, socket.SOCK_STREAM) as probe:
        try:
            probe.connect(str(path))
        except OSError:
            return False  # left behind by a runner that was killed
    return True


def check_private(path: Path) -> None:
    """Checks that nobody else can put anything in the place of the socket of that path.

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

"""The one way in which files are written: a reader finds the old one or the new one, never a part."""

from __future__ import annotations

import errno
import os
import re
import stat
import time
from contextlib import suppress
from pathlib import Path
from typing import Final

import platformdirs

from nub_shift.translation import tr

# Mode of a new file before the process's umask; `mkstemp` makes private files.
NEW_FILE_MODE = 0o666
# Of files that say what somebody did: of the state folder.
PRIVATE_MODE = 0o600
# No write takes this long.
LEFT_S: Final = 600.0
# Names of the temporary files of `write_text`.
_TEMPORARY = re.compile(r"\..+\.(?:toml|jsonl)\.[a-z0-9_]{8}")


def write_text(path: Path, text: str) -> None:
    """Writes a temporary file beside `path`, syncs it, renames it over `path`, and syncs the folder.

    Where `path` is a symbolic link, what it leads to is written and the link stays. A file keeps its mode.

    Raises:
        OSError: nothing was changed; also where `path` leads to a pipe, a device, a socket or a folder.
    """
    import tempfile  # brings much with it, and a runner that writes nothing needs none of it

    require_regular(path)
    target = path.resolve() if path.is_symlink() else path
    target.parent.mkdir(parents=True, exist_ok=True)
    handle, name = tempfile.mkstemp(dir=target.parent, prefix=f".{target.name}.")
    try:
        with os.fdopen(handle, "w", encoding="utf-8") as stream:
            os.fchmod(stream.fileno(), _mode_for(target))
            stream.write(text)
            stream.flush()
            os.fsync(stream.fileno())
        Path(name).replace(target)
    except BaseException:
        Path(name).unlink(missing_ok=True)
        raise
    _sync_folder(target.parent)


def require_regular(path: Path) -> None:
    """Refuses a path that leads to a pipe, a device, a socket or a folder; every writer calls it before it writes.

    A rename would make a regular file of a device, and a pipe without a reader would be waited for.

    Raises:
        OSError: with the path, if it is none of a regular file, nothing yet, and a link to one of the two.
    """
    with suppress(FileNotFoundError):
        if not stat.S_ISREG(path.stat().st_mode):
            raise OSError(errno.EINVAL, tr("this is no plain file"), str(path))


def sweep(folder: Path) -> None:
    """Takes away what writes that were killed have left in a folder; one that is still going on is not that old."""
    with suppress(OSError):
        for left in folder.iterdir():
            if _TEMPORARY.fullmatch(left.name):
                with suppress(OSError):
                    if time.time() - left.stat().st_mtime > LEFT_S:
                        left.unlink()


def _mode_for(target: Path) -> int:
    """The mode that the file has, or that a new one would have; of the state folder's files a private one."""
    if target.is_relative_to(platformdirs.user_state_path("nub-shift")):
        return PRIVATE_MODE
    try:
        return stat.S_IMODE(target.stat().st_mode)
    except OSError:
        return NEW_FILE_MODE & ~_umask()


def _umask() -> int:
    """The process's umask. `os.umask` would set it for a moment, and other threads make files too."""
    try:
        lines = Path("/proc/self/status").read_text("ascii", "replace").splitlines()
        return next(int(line.split()[1], 8) for line in lines if line.startswith("Umask:"))
    except (OSError, StopIteration, ValueError):
        return 0o077


def _sync_folder(folder: Path) -> None:
    """Keeps the rename over a loss of power, where the file system can sync a folder."""
    with suppress(OSError):
        handle = os.open(folder, os.O_RDONLY | os.O_DIRECTORY)
        try:
            os.fsync(handle)
        finally:
            os.close(handle)

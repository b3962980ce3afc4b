"""Atomic writing of files: readers find the old content or the new one, never a part."""

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

# Mode of a new file before the process's umask; `mkstemp` creates private files.
NEW_FILE_MODE = 0o666
# Mode of files in the state folder, which record what a person did.
PRIVATE_MODE = 0o600
# Age of a temporary file after which its write must have been killed.
LEFT_S: Final = 600.0
# Names of the temporary files of `write_text`.
_TEMPORARY = re.compile(r"\..+\.(?:toml|jsonl)\.[a-z0-9_]{8}")


def write_text(path: Path, text: str) -> None:
    """Writes a temporary file beside `path`, syncs it, renames it to `path`, and syncs the folder.

    The target of a symbolic link is written, and the link stays. An existing file keeps its mode.

    Raises:
        OSError: nothing was changed; also if `path` leads to a pipe, a device, a socket or a folder.
    """
    import tempfile  # imported late: large, and not needed by a runner that writes nothing

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
    """Refuses a path that leads to a pipe, a device, a socket or a folder; called by every writer.

    A rename would replace a device by a regular file, and writing to a pipe without a reader would block.

    Raises:
        OSError: with the path, unless it is a regular file, missing, or a link to either.
    """
    with suppress(FileNotFoundError):
        if not stat.S_ISREG(path.stat().st_mode):
            raise OSError(errno.EINVAL, tr("this is no plain file"), str(path))


def sweep(folder: Path) -> None:
    """Removes the temporary files of killed writes in a folder, recognised by their age."""
    with suppress(OSError):
        for left in folder.iterdir():
            if _TEMPORARY.fullmatch(left.name):
                with suppress(OSError):
                    if time.time() - left.stat().st_mtime > LEFT_S:
                        left.unlink()


def _mode_for(target: Path) -> int:
    """Returns the mode of the existing or a new file; private in the state folder."""
    if target.is_relative_to(platformdirs.user_state_path("nub-shift")):
        return PRIVATE_MODE
    try:
        return stat.S_IMODE(target.stat().st_mode)
    except OSError:
        return NEW_FILE_MODE & ~_umask()


def _umask() -> int:
    """Returns the process's umask. `os.umask` would have to change it for a moment, which affects other threads."""
    try:
        lines = Path("/proc/self/status").read_text("ascii", "replace").splitlines()
        return next(int(line.split()[1], 8) for line in lines if line.startswith("Umask:"))
    except (OSError, StopIteration, ValueError):
        return 0o077


def _sync_folder(folder: Path) -> None:
    """Syncs a folder, so that a rename survives a loss of power, where the file system supports that."""
    with suppress(OSError):
        handle = os.open(folder, os.O_RDONLY | os.O_DIRECTORY)
        try:
            os.fsync(handle)
        finally:
            os.close(handle)

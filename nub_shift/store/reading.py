"""Bounded reading of files, whatever they are."""

from __future__ import annotations

import os
import stat
from pathlib import Path

from nub_shift.model.plain_text import system_fault
from nub_shift.model.problems import Problem, ProfileError
from nub_shift.translation import tr

MAX_FILE_BYTES = 256_000


def read_plain(path: Path, most: int) -> bytes | None:
    """Returns the bytes of a regular file, at most `most` and one; None for a pipe, a device or a folder.

    Raises:
        OSError: the file is unreadable.
    """
    # Non-blocking, since opening a pipe without a writer would wait.
    with os.fdopen(os.open(path, os.O_RDONLY | os.O_NONBLOCK | os.O_CLOEXEC), "rb") as stream:
        return stream.read(most + 1) if stat.S_ISREG(os.fstat(stream.fileno()).st_mode) else None


def read_bounded(path: Path) -> str:
    """Returns the text of a file without its byte order mark.

    A pipe, a device or a folder is refused unread, and reading is bounded.

    Raises:
        ProfileError: unreadable, not a regular file, too large, or no text.
    """
    source = str(path)
    try:
        data = read_plain(path, MAX_FILE_BYTES)
    except (OSError, ValueError) as error:  # a name with NUL
        wrong = tr("cannot be read ({why})", why=system_fault(error) if isinstance(error, OSError) else error)
        raise ProfileError(source, [Problem("file", wrong, tr("expected a file that can be read"))]) from None
    if data is None:
        raise ProfileError(source, [Problem("file", tr("is a pipe or a device"), tr("expected a plain file"))])
    if len(data) > MAX_FILE_BYTES:
        right = tr("expected under {kilobytes} kB", kilobytes=MAX_FILE_BYTES // 1000)
        raise ProfileError(source, [Problem("file", tr("is too large for a profile"), right)])
    try:
        return data.decode("utf-8-sig")
    except UnicodeDecodeError as error:
        wrong = tr("byte {start} is not text", start=error.start)
        raise ProfileError(source, [Problem("file", wrong, tr("expected TOML in UTF-8"))]) from None

"""Notices that files in folders are written, made, moved or deleted, as the kernel tells (fcntl(2), F_NOTIFY).

The kernel tells by a signal, which wakes the loop as other signals do. It takes no library and no thread, and nothing
is looked at while nothing happens.
"""

from __future__ import annotations

import fcntl
import logging
import os
import signal
from collections.abc import Sequence
from contextlib import suppress
from pathlib import Path
from types import FrameType
from typing import Final

log = logging.getLogger("nub_shift.runner")

_NEWS: Final = fcntl.DN_MODIFY | fcntl.DN_CREATE | fcntl.DN_DELETE | fcntl.DN_RENAME | fcntl.DN_MULTISHOT


class FolderWatch:
    """Watches folders.

    Attributes:
        came: something has changed in one of them, for whoever takes it back.
    """

    def __init__(self, folders: Sequence[Path]) -> None:
        self.came = False
        self._open: list[int] = []
        self._before = signal.signal(signal.SIGIO, self._on_signal)
        for folder in folders:
            try:
                folder.mkdir(parents=True, exist_ok=True)
                descriptor = os.open(folder, os.O_RDONLY | os.O_DIRECTORY | os.O_CLOEXEC)
                self._open.append(descriptor)
                fcntl.fcntl(descriptor, fcntl.F_NOTIFY, _NEWS)
            except OSError as error:  # as of a file system that does not tell
                log.warning("%s is not watched: %s", folder, error)

    def close(self) -> None:
        """Watches no more."""
        signal.signal(signal.SIGIO, self._before)
        for descriptor in self._open:
            with suppress(OSError):
                os.close(descriptor)

    def _on_signal(self, _number: int, _frame: FrameType | None) -> None:
        self.came = True

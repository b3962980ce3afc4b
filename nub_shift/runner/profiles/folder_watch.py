"""Watches folders for written, created, moved or deleted files by kernel notification (fcntl(2), F_NOTIFY).

The notification is a signal, which wakes the loop like other signals, without a library, a thread or polling.
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
        came: a folder has changed; reset by the reader.
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
            except OSError as error:  # the file system does not support notification
                log.warning("%s is not watched: %s", folder, error)

    def close(self) -> None:
        """Ends watching."""
        signal.signal(signal.SIGIO, self._before)
        for descriptor in self._open:
            with suppress(OSError):
                os.close(descriptor)

    def _on_signal(self, _number: int, _frame: FrameType | None) -> None:
        self.came = True

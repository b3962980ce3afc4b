"""Starts the process that shows signs, once there is something to show and somewhere to show it."""

from __future__ import annotations

import logging
import os
import sys
from contextlib import suppress
from pathlib import Path

log = logging.getLogger("nub_shift.runner")


# It paints now and then: pictures go back to the system (mallopt(3)), and no desktop's own toolkit is loaded beside Qt.
_FRUGAL = {
    "MALLOC_ARENA_MAX": "1",
    "MALLOC_MMAP_THRESHOLD_": "65536",
    "MALLOC_TRIM_THRESHOLD_": "65536",
    "QT_QPA_PLATFORMTHEME": "generic",
}


class SignsProcess:
    """A process of its own, so that painting cannot delay a key. It ends by itself as the runner hangs up."""

    def __init__(self, socket: Path, tray: bool) -> None:
        """With a `tray` it has an icon there."""
        self._socket = socket
        self._tray = tray
        self._pid = 0

    def start(self) -> None:
        """Has it there, if this session has a display."""
        if not any(os.environ.get(name) for name in ("DISPLAY", "WAYLAND_DISPLAY")) or self._is_there():
            return
        words = [
            sys.executable,
            "-m",
            "nub_shift",
            "signs",
            "--socket",
            str(self._socket),
            *(["--tray"] if self._tray else []),
        ]
        to_nowhere = [(os.POSIX_SPAWN_OPEN, number, os.devnull, os.O_RDWR, 0) for number in (0, 1, 2)]
        try:
            self._pid = os.posix_spawn(sys.executable, words, {**os.environ, **_FRUGAL}, file_actions=to_nowhere)
            log.info("signs: process %d", self._pid)
        except OSError as error:
            log.warning("signs cannot be shown: %s", error)

    def _is_there(self) -> bool:
        if self._pid:
            with suppress(ChildProcessError):
                if os.waitpid(self._pid, os.WNOHANG) == (0, 0):
                    return True
            self._pid = 0
        return False

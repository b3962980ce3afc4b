"""Starts the process that shows signs, once there is something to show and somewhere to show it."""

from __future__ import annotations

import logging
import os
import sys
from functools import partial
from pathlib import Path
from typing import Final

from nub_shift.protocol.clock import monotonic_us
from nub_shift.runner.beside import Beside

log = logging.getLogger("nub_shift.runner")


# It paints now and then: pictures go back to the system (mallopt(3)), and no desktop's own toolkit is loaded beside Qt.
_FRUGAL = {
    "MALLOC_ARENA_MAX": "1",
    "MALLOC_MMAP_THRESHOLD_": "65536",
    "MALLOC_TRIM_THRESHOLD_": "65536",
    "QT_QPA_PLATFORMTHEME": "generic",
}


# One that ends sooner would end again.
_LEAST_US: Final = 10_000_000


def has_display() -> bool:
    """Whether there is anything to show signs on."""
    return any(os.environ.get(name) for name in ("DISPLAY", "WAYLAND_DISPLAY"))


class SignsProcess:
    """A process of its own, so that painting cannot delay a key. It ends by itself as the runner hangs up."""

    def __init__(self, socket: Path, beside: Beside, tray: bool, tells_front: bool, stays: bool) -> None:
        """With a `tray` it has an icon there; with `tells_front` it tells which window is in front.

        One that `stays` is started again when it ends.
        """
        self._words = ["-m", "nub_shift.cli.signs", str(socket)]
        self._words += ["tray"] if tray else []
        self._words += ["front"] if tells_front else []
        self._beside = beside
        self._stays = stays
        self._there = False
        self._started_us = 0

    def start(self) -> None:
        """Has it there, if this session has a display."""
        if self._there or not has_display():
            return
        to_nowhere = [(os.POSIX_SPAWN_OPEN, number, os.devnull, os.O_RDWR, 0) for number in (0, 1, 2)]
        words = [sys.executable, *self._words]
        try:
            pid = os.posix_spawn(sys.executable, words, {**os.environ, **_FRUGAL}, file_actions=to_nowhere)
        except OSError as error:
            log.warning("signs cannot be shown: %s", error)
            return
        log.info("signs: process %d", pid)
        self._there, self._started_us = True, monotonic_us()
        self._beside.run(partial(os.waitpid, pid, 0), self._on_ended)

    def _on_ended(self, ended: tuple[int, int]) -> None:
        self._there = False
        log.info("signs: process %d has ended, status %d", *ended)
        if self._stays and monotonic_us() - self._started_us > _LEAST_US:
            self.start()

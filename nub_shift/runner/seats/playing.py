"""Counts of a session for its recap, stored beside play when the session ends."""

from __future__ import annotations

import logging
import time
from collections.abc import Callable
from functools import partial
from pathlib import Path

from nub_shift.engine.tally import Tally
from nub_shift.engine.values import US_PER_SECOND
from nub_shift.runner.background import BackgroundWork
from nub_shift.store.played import Recap, keep_played

log = logging.getLogger("nub_shift.runner")


class Playing:
    """Session of one seat with one profile while live.

    Attributes:
        losses: number of lost connections of its pad.
    """

    def __init__(self, file: str, tally: Tally, now_us: int, battery: int) -> None:
        self.file = file
        self.tally = tally
        self.losses = 0
        self._pauses = self._paused_us = 0
        self._paused_at_us: int | None = None
        self._began_us = now_us
        self._started = time.time()
        self._battery = battery

    def pause(self, on: bool, now_us: int) -> None:
        """Suspends or resumes the session."""
        if on and self._paused_at_us is None:
            self._pauses += 1
            self._paused_at_us = now_us
        elif not on and self._paused_at_us is not None:
            self._paused_us += now_us - self._paused_at_us
            self._paused_at_us = None

    def recap(self, now_us: int, battery: int) -> Recap:
        """Returns the recap up to now."""
        tally = self.tally
        still_us = self._paused_us + (now_us - self._paused_at_us if self._paused_at_us is not None else 0)
        first = self._battery if self._battery >= 0 else battery
        return Recap(
            self._started,
            time.time(),
            (now_us - self._began_us - still_us) / US_PER_SECOND,
            dict(tally.moves),
            dict(tally.layers),
            dict(tally.short),
            self._pauses,
            self.losses,
            (first, battery),
        )


def keep_now(file: str, recap: Recap) -> None:
    """Stores a recap with the profile of a file."""
    _keep(Path(file), recap)


def keeper(beside: BackgroundWork) -> Callable[[str, Recap], None]:
    """Returns a function that stores recaps beside play."""

    def keep(file: str, recap: Recap) -> None:
        beside.run(partial(_keep, Path(file), recap), lambda _: None)

    return keep


def _keep(file: Path, recap: Recap) -> None:
    try:
        keep_played(file, recap)
    except OSError as error:
        log.warning("what was played cannot be kept: %s", error)

"""What is done in a session of play, counted for its recap; kept beside play as it ends."""

from __future__ import annotations

import logging
import time
from collections.abc import Callable
from functools import partial
from pathlib import Path

from nub_shift.engine.tally import Tally
from nub_shift.engine.values import US_PER_SECOND
from nub_shift.runner.beside import Beside
from nub_shift.store.played import Recap, keep_played

log = logging.getLogger("nub_shift.runner")


class Playing:
    """One seat's session with one profile, while it is live.

    Attributes:
        losses: how often its pad went.
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
        """Nothing acts from now on, or does again."""
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
    """Keeps a recap with the profile of that file."""
    _keep(Path(file), recap)


def keeper(beside: Beside) -> Callable[[str, Recap], None]:
    """The same, beside play."""

    def keep(file: str, recap: Recap) -> None:
        beside.run(partial(_keep, Path(file), recap), lambda _: None)

    return keep


def _keep(file: Path, recap: Recap) -> None:
    try:
        keep_played(file, recap)
    except OSError as error:
        log.warning("what was played cannot be kept: %s", error)

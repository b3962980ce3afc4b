"""Battery levels of pads in play, read beside play and only during play."""

from __future__ import annotations

from collections.abc import Callable, Mapping
from typing import Final

from nub_shift.runner.background import BackgroundWork
from nub_shift.runner.seats.session import Session

# Interval of reading; few drivers report a change.
PERIOD_US: Final = 120_000_000


class Batteries:
    """Keeps the battery level of each seat's pad up to date."""

    def __init__(self, session: Session, read: Callable[[], Mapping[str, int]], beside: BackgroundWork) -> None:
        """`read` returns percentages by key of pad, and may be slow."""
        self._session = session
        self._read = read
        self._beside = beside
        self._looking = self._again = False
        self._looked_us = 0

    def work(self, now_us: int) -> None:
        """Reads the levels if the last reading is old. Called during play."""
        if now_us - self._looked_us > PERIOD_US:
            self._looked_us = now_us
            self.look()

    def look(self) -> None:
        """Starts a reading; a request during a reading starts another one afterwards."""
        if self._looking:
            self._again = True
            return
        self._looking = True
        self._beside.run(self._read, self._on_found)

    def _on_found(self, percents: Mapping[str, int]) -> None:
        self._looking = False
        for seat in self._session.seats:
            seat.battery = percents.get(seat.pad.key, -1) if seat.pad is not None else -1
        self._session.note_signs()
        if self._again:
            self._again = False
            self.look()

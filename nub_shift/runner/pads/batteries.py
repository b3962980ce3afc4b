"""How full the batteries of pads in play are: looked at beside play, and never while nothing is played."""

from __future__ import annotations

from collections.abc import Callable, Mapping
from typing import Final

from nub_shift.runner.beside import Beside
from nub_shift.runner.seats.session import Session

# Few drivers say that a battery is emptier now.
PERIOD_US: Final = 120_000_000


class Batteries:
    """Keeps what each seat knows of its pad's battery."""

    def __init__(self, session: Session, read: Callable[[], Mapping[str, int]], beside: Beside) -> None:
        """`read` gives how full they are, in percent, by the keys of their pads; it may take its time."""
        self._session = session
        self._read = read
        self._beside = beside
        self._looking = self._again = False
        self._looked_us = 0

    def work(self, now_us: int) -> None:
        """Something is played: looks, if that is long ago."""
        if now_us - self._looked_us > PERIOD_US:
            self._looked_us = now_us
            self.look()

    def look(self) -> None:
        """Has all of them looked at; what comes meanwhile is looked at afterwards."""
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

"""Content of signs for one subscriber, sent at each change, at most at the painting rate."""

from __future__ import annotations

from collections.abc import Sequence
from typing import Final, Protocol

from nub_shift.engine.values import US_PER_SECOND
from nub_shift.model.profile.activation import Away
from nub_shift.model.profile.profile import Profile
from nub_shift.protocol.messages import SeatSigns, SignsNews
from nub_shift.runner.live.live_switch import LiveSwitch
from nub_shift.runner.seats.seat import Seat
from nub_shift.runner.seats.seat_reports import seat_signs

PERIOD_US: Final = US_PER_SECOND // 60


class Signed(Protocol):
    """Source of signs: a session."""

    @property
    def switch(self) -> LiveSwitch:
        """Switch between rehearsal and live."""

    @property
    def away(self) -> Away:
        """Reason for sending nothing, or None."""

    @property
    def seats(self) -> Sequence[Seat]:
        """Seats in play."""


class SignsFeed:
    """Reads all seats for one subscriber; never due while nothing happens."""

    def __init__(self) -> None:
        self._dirty = True
        self._next_us = 0
        self._told: tuple[bool, bool, bool, tuple[SeatSigns, ...], bool] | None = None
        self._profiles: list[Profile] = []

    def note(self) -> None:
        """Records an event that may change the signs."""
        self._dirty = True

    def due_us(self) -> int | None:
        """Returns when `packet` has to be called; None while there is nothing to send."""
        return self._next_us if self._dirty else None

    def packet(self, now_us: int, session: Signed) -> SignsNews | None:
        """Returns the message that is due, if any."""
        if not self._dirty or now_us < self._next_us:
            return None
        self._dirty = False
        seats = session.seats
        away = session.away is not Away.NO
        switch = session.switch
        now = switch.live, switch.wanted, switch.halted, tuple(seat_signs(seat) for seat in seats), away
        playing = [seat.program.profile for seat in seats]
        had = self._profiles
        news = {
            number: profile
            for number, profile in enumerate(playing)
            if number >= len(had) or had[number] is not profile
        }
        if now == self._told and not news and len(had) == len(playing):
            self._next_us = now_us + PERIOD_US // 2  # the next packet need not wait for a whole period
            return None
        self._next_us = max(now_us, self._next_us + PERIOD_US)  # one delay does not shift later packets
        self._told, self._profiles = now, playing
        return SignsNews(*now[:4], news, away)

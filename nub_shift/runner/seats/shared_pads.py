"""Pads played by two seats: the division of controls, beginning and end of sharing."""

from __future__ import annotations

from collections.abc import Collection
from typing import Protocol

from nub_shift.engine.program import Program
from nub_shift.engine.values import Output
from nub_shift.model.controls import CONTROL_BY_NAME, right_hand_controls
from nub_shift.model.messages import Code
from nub_shift.pads.pad import PadError
from nub_shift.runner.seats.pad_source import PadSource
from nub_shift.runner.seats.seat import Seat
from nub_shift.runner.seats.sharing import Sharing


class SharingHost(Protocol):
    """Members of the session that shared pads use."""

    seats: list[Seat]

    def add(self, program: Program, source: PadSource, pad_returns: bool, file: str = "") -> Seat:
        """Adds a seat."""

    def send(self, seat: Seat, outputs: list[Output]) -> None:
        """Sends a seat's outputs."""


class SharedPads:
    """Pads with two seats each: the first seat reads the pad, and the second gets some of its controls."""

    def __init__(self, host: SharingHost) -> None:
        self._host = host
        self._sharings: dict[Seat, tuple[Sharing, Seat]] = {}  # by seat, with the seat that has the rest of its pad

    def is_shared(self, key: str) -> bool:
        """Whether two seats play the pad of that key."""
        return any(seat.pad is not None and seat.pad.key == key for seat in self._sharings)

    def share(self, key: str, program: Program, now_us: int, file: str = "") -> Seat:
        """Adds a second seat with the right hand's controls of the pad of that key; the pad's own seat keeps the rest.

        Raises:
            PadError: no seat plays the pad, or two do already.

        Returns:
            The new seat.
        """
        first = next((seat for seat in self._host.seats if seat.pad is not None and seat.pad.key == key), None)
        if first is None or first.pad is None:
            raise PadError(Code.NOBODY_PLAYS)
        if first in self._sharings:
            raise PadError(Code.PAD_IS_SHARED)
        sharing = Sharing(first.source, right_hand_controls(first.pad.controls, first.pad.fingers))
        second = self._host.add(program, sharing.second, pad_returns=True, file=file)
        self._sharings |= {first: (sharing, second), second: (sharing, first)}
        first.source, first.companion = sharing.first, second
        self._reopen(first, now_us)
        return second

    def split(self, key: str, controls: Collection[str], now_us: int) -> None:
        """Gives the second seat of the pad of that key these controls, and the first seat the rest.

        Raises:
            PadError: the pad is not shared, or there are no such controls.
        """
        for name in controls:
            if name not in CONTROL_BY_NAME:
                raise PadError(Code.NO_SUCH_CONTROL, control=name)
        for first, (sharing, _) in self._sharings.items():
            if first.companion is not None and first.pad is not None and first.pad.key == key:
                sharing.seconds = frozenset(controls)
                self._reopen(first, now_us)
                return
        raise PadError(Code.PAD_IS_NOT_SHARED)

    def end(self, seat: Seat, now_us: int) -> None:
        """Ends a seat's part of its shared pad: the other seat gets the whole pad."""
        if seat not in self._sharings:
            return
        sharing, other = self._sharings.pop(seat)
        del self._sharings[other]
        seat.companion = other.companion = None
        self._host.send(seat, seat.close_pad(now_us))
        self._host.send(other, other.assign_pad(sharing.source, now_us))

    def second_part(self, seat: Seat) -> tuple[Seat, Collection[str]] | None:
        """Returns the first seat of a second seat's pad, with the second seat's controls; None for any other seat."""
        sharing, other = self._sharings.get(seat, (None, seat))
        return (other, sharing.seconds) if sharing is not None and seat.companion is None else None

    def _reopen(self, first: Seat, now_us: int) -> None:
        self._host.send(first, first.reopen(now_us))
        if first.companion is not None:
            self._host.send(first.companion, first.companion.reopen(now_us))

"""A runner for the whole session: keeps what is played, and reports to the service manager."""

from __future__ import annotations

import logging
from collections.abc import Callable, Sequence
from dataclasses import dataclass
from pathlib import Path

from nub_shift.engine.agenda import earlier
from nub_shift.engine.program import Program
from nub_shift.model.messages import MessageError
from nub_shift.protocol.messages import State
from nub_shift.runner.background import BackgroundWork
from nub_shift.runner.pads.pad_registry import PadRegistry
from nub_shift.runner.seats.seat import Seat
from nub_shift.runner.seats.session import Session
from nub_shift.runner.session_service.service import ServiceManager
from nub_shift.store.residence import ResidentPlayer, ResidentState, write_kept

log = logging.getLogger("nub_shift.runner")


@dataclass(frozen=True)
class ResidentShare:
    """A second player on the pad of a player, with some controls, once the pad is connected."""

    first: int
    program: Program
    file: str
    controls: tuple[str, ...]


class Residence:
    """Keeps a staying session."""

    def __init__(
        self,
        session: Session,
        registry: PadRegistry,
        beside: BackgroundWork,
        path: Path,
        output: str,
        shares: Sequence[ResidentShare],
        described: Callable[[State], str],
        service: ServiceManager,
    ) -> None:
        """`path` is the file of the kept state, including `output` if chosen by the person; `described` words a
        state.
        """
        self._session = session
        self._registry = registry
        self._beside = beside
        self._path = path
        self._output = output
        self._awaited = [(session.seats[share.first], share) for share in shares]
        self._described = described
        self._service = service
        self._kept: ResidentState | None = None
        self._changed = True
        self._writing = False
        self._ping_us: int | None = None
        session.on_change = self._note_change

    def ready(self) -> None:
        """Reports that presses have effects."""
        self._service.notify("READY=1")

    def due_us(self) -> int | None:
        """Returns when `work` has to be called."""
        return earlier(0 if self._changed else None, self._ping_us)

    def work(self, now_us: int) -> None:
        """Advances the time."""
        if self._service.ping_us is not None and (self._ping_us is None or now_us >= self._ping_us):
            self._ping_us = now_us + self._service.ping_us
            self._service.notify("WATCHDOG=1")
        if self._changed:
            self._changed = False
            self._share(now_us)
            self._keep()
            self._service.notify_status(self._described(self._session.state()))

    def close(self) -> None:
        """Reports the requested end."""
        self._service.notify("STOPPING=1")

    def _note_change(self) -> None:
        self._changed = True

    def _share(self, now_us: int) -> None:
        """Adds second players whose pads have been connected."""
        for seat, share in [(seat, share) for seat, share in self._awaited if seat.pad is not None]:
            self._awaited.remove((seat, share))
            assert seat.pad is not None
            key = seat.pad.key
            try:
                self._session.shared_pads.share(key, share.program, now_us, share.file)
                self._session.shared_pads.split(key, share.controls, now_us)
            except MessageError as error:
                self._session.say(error.message)

    def _keep(self) -> None:
        """Writes the changed state beside play, one write after another."""
        kept = self._present()
        if kept == self._kept or self._writing:
            return
        self._kept = kept
        self._writing = True

        def write() -> None:
            try:
                write_kept(self._path, kept)
            except OSError as error:
                log.warning("what is played cannot be kept: %s", error)

        def written(_: None) -> None:
            self._writing = False
            self._changed = True  # further changes may have come meanwhile

        self._beside.run(write, written)

    def _present(self) -> ResidentState:
        seats = self._session.seats
        players = [self._player(seat) for seat in seats]
        players += [
            ResidentPlayer("", share.file, shares_with=seats.index(seat), controls=share.controls)
            for seat, share in self._awaited
            if seat in seats
        ]
        return ResidentState(self._session.switch.wanted, tuple(players), self._registry.plugged, self._output)

    def _player(self, seat: Seat) -> ResidentPlayer:
        shared = self._session.shared_pads.second_part(seat)
        if shared is not None:
            first, controls = shared
            number = self._session.seats.index(first)
            return ResidentPlayer("", seat.file, shares_with=number, controls=tuple(sorted(controls)))
        return ResidentPlayer(seat.source.requested, seat.file, seat.source.former)

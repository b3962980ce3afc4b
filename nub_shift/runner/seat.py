"""One pad with one profile in play."""

from __future__ import annotations

from collections.abc import Callable, Collection
from typing import Protocol

from nub_shift.engine.engine import Engine
from nub_shift.engine.ledger import Ledger
from nub_shift.engine.program import Program
from nub_shift.engine.values import Frame, Output
from nub_shift.pads.pad import Pad, PadError, PadGone
from nub_shift.protocol.messages import PadState, SeatState
from nub_shift.runner.telemetry import TelemetryFeed

_NOT_LOOKED = "no pad yet"
RETRY_US = 1_000_000

# Opens a pad that is not one of those, by their keys.
OpenPad = Callable[[Collection[str]], Pad]


class Table(Protocol):
    """What a seat needs of the session that it belongs to.

    Attributes:
        on_frames: gets what pads do, by their keys, while somebody looks at all pads.
    """

    ledger: Ledger
    live: bool
    on_frames: Callable[[str, list[Frame]], None] | None

    def pads_taken(self) -> Collection[str]:
        """Keys of the pads that have a seat."""

    def send(self, outputs: list[Output]) -> None:
        """Takes what the seat's engine puts out."""

    def say(self, message: str) -> None:
        """Tells the person something."""

    def note_change(self) -> None:
        """The state is another now."""

    def note_pad(self, seat: Seat) -> None:
        """A seat has got its pad, or lost it."""


class Seat:
    """Moves frames from a pad through an engine to the session's output.

    Attributes:
        feeds: telemetry subscribers.
        values: the pad's channels as they stand.
        over: set when the pad has nothing more to give and none will come back (a recording's end).
        pad: the pad, while one is connected.
        trouble: what is wrong with it, or empty.
    """

    def __init__(self, table: Table, program: Program, open_pad: OpenPad, pad_returns: bool) -> None:
        self.feeds: list[TelemetryFeed] = []
        self.over = False
        self.values: dict[str, float] = {}
        self.pad: Pad | None = None
        self.trouble = ""
        self.program = program
        self._table = table
        self._engine = Engine(program, table.ledger)
        self._open_pad = open_pad
        self._pad_returns = pad_returns
        self._retry_us = 0
        self._has_news = False
        self._missing = _NOT_LOOKED

    def due_us(self) -> int | None:
        """When `work` wants to be called, though nothing may be readable."""
        if self.pad is None:
            return None if self.over else self._retry_us
        times = [time for time in (self.pad.due_us(), self._engine.deadline()) if time is not None]
        return min(times) if times else None

    def take_pad(self, now_us: int, fd: int | None = None) -> None:
        """Takes what the pad has on one of its descriptors, or on all."""
        if self.pad is None:
            return
        try:
            frames = self.pad.read(now_us, fd)
        except PadGone as gone:
            self._lose_pad(now_us, str(gone))
            return
        for frame in frames:
            self._table.send(self._engine.feed(frame))
            self.values.update(frame.values)
            for feed in self.feeds:
                feed.note_frame(frame)
        if self._table.on_frames is not None:
            self._table.on_frames(self.pad.key, frames)

    def look_now(self) -> None:
        """Something was plugged in: a pad that a seat waits for, or more of the pad that it has."""
        self._retry_us = 0
        self._has_news = True

    def work(self, now_us: int) -> None:
        """Lets time pass, and takes what a pad that goes by time has by now."""
        if self.pad is None:
            if not self.over and now_us >= self._retry_us:
                self._look_for_pad(now_us)
            return
        if self._has_news:
            self._take_news(now_us)
        due = self.pad.due_us() if self.pad is not None else None
        if due is not None and due <= now_us:
            self.take_pad(now_us)
        if self.pad is not None:
            self._table.send(self._engine.advance(now_us))

    def stop(self, now_us: int) -> None:
        """Releases all that this seat holds."""
        self._table.send(self._engine.stop(now_us))

    def resume(self, now_us: int) -> None:
        """Plays on after `stop`; the pad is grabbed if the session is live."""
        self.grab()
        self._table.send(self._engine.resume(now_us))

    def load(self, program: Program, now_us: int) -> None:
        """Goes on with another profile. The pad's frames wait in the kernel meanwhile."""
        before, self.program = self.program.profile.game, program
        self._table.send(self._engine.replace(program, now_us))
        if program.profile.game.reads_pads is not before.reads_pads:
            self.grab()

    def leave_game(self, now_us: int) -> bool:
        """The game is not in front any more. Returns whether toggles wait for it to come back."""
        self._table.send(self._engine.leave_game(now_us))
        return self._engine.awaits_game

    def regain_game(self, now_us: int) -> None:
        """The game is in front again."""
        self._table.send(self._engine.regain_game(now_us))

    def sit(self, open_pad: OpenPad, now_us: int) -> None:
        """Goes on with another pad, that comes back by itself if it is unplugged."""
        self._open_pad = open_pad
        self._pad_returns = True
        self.reopen(now_us)

    def reopen(self, now_us: int) -> None:
        """Lets the pad go and looks for it again: it is known differently by now."""
        if self.pad is not None:
            self._release_pad(now_us)
        self.over = False
        self._look_for_pad(now_us)

    def grab(self) -> None:
        """Keeps the pad from others while live, but for a game that reads it too."""
        if self.pad is None:
            return
        try:
            self.pad.set_grabbed(self._table.live and not self.program.profile.game.reads_pads)
            self.trouble = ""
        except PadError as error:
            self.trouble = str(error)
            self._table.say(self.trouble)

    def close(self, now_us: int) -> None:
        """Releases everything and lets the pad go, whatever fails on the way."""
        try:
            self.stop(now_us)
        finally:
            pad, self.pad = self.pad, None
            if pad is not None:
                pad.close()

    def state(self) -> SeatState:
        """A look at everything."""
        engine = self._engine.state()
        if self.pad is None:
            pad = PadState("", (), self._missing)
        else:
            pad = PadState(self.pad.name, self.pad.controls, "", self.pad.key, self.pad.printed)
        title = self.program.profile.title
        return SeatState(title, pad, engine.layers, engine.slots, engine.toggles, engine.carousels, engine.rings)

    def _look_for_pad(self, now_us: int) -> None:
        try:
            self.pad = self._open_pad(self._table.pads_taken())
        except PadError as error:
            if str(error) != self._missing:
                self._missing = str(error)
                self._table.say(f"waiting for a pad: {error}")
                self._table.note_change()
            self._retry_us = now_us + RETRY_US
            return
        if self._missing != _NOT_LOOKED:
            self._missing = _NOT_LOOKED
            self._table.say(f"{self.pad.name} is here")
        self.grab()
        self._table.note_pad(self)
        self.take_pad(now_us)

    def _take_news(self, now_us: int) -> None:
        """Motion sensors, a surface or player lights may have come after the device with the buttons."""
        self._has_news = False
        if self.pad is not None and self.pad.has_grown():
            self.reopen(now_us)
        else:
            self._table.note_pad(self)

    def _release_pad(self, now_us: int) -> None:
        pad, self.pad = self.pad, None
        self._table.send(self._engine.forget_pad(now_us))
        self.values.clear()
        if pad is not None:
            pad.close()

    def _lose_pad(self, now_us: int, why: str) -> None:
        self._release_pad(now_us)
        self._missing = why
        self.over = not self._pad_returns
        self._retry_us = now_us + RETRY_US
        self._table.say(why)
        self._table.note_pad(self)

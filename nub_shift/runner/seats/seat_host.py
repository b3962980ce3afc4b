"""What a seat needs of the session that it belongs to."""

from __future__ import annotations

from typing import Protocol, TypeVar

from nub_shift.engine.ledger import Ledger
from nub_shift.model.messages import Message
from nub_shift.runner.live.live_switch import LiveSwitch
from nub_shift.runner.seats.pad_events import PadEvents
from nub_shift.runner.seats.pad_source import Taken

SeatT = TypeVar("SeatT", contravariant=True)


class SeatHost(Protocol[SeatT]):
    """Parts of a session that its seats need."""

    ledger: Ledger
    switch: LiveSwitch
    pads_changed: bool
    pad_events: PadEvents
    hears_plugs: bool

    def taken(self, seat: SeatT) -> Taken:
        """The pads that other seats have, or wait for to come back."""

    def say(self, message: Message) -> None:
        """Tells the person something."""

    def note_change(self) -> None:
        """The state is another now."""

    def note_signs(self) -> None:
        """Marks the state that signs show as changed."""

    def ask_halt(self) -> None:
        """The person wants everything to stop, or to go on after that."""

    def ask_menu(self, seat: SeatT, opens: bool) -> None:
        """The person wants the menu of a seat's pad, or wants it closed."""

    def note_pad(self, seat: SeatT) -> None:
        """A seat has got its pad, or lost it."""

    def note_unheard(self) -> None:
        """A person presses in a game that gets nothing."""

"""Interface of a session for its seats."""

from __future__ import annotations

from typing import Protocol, TypeVar

from nub_shift.engine.ledger import Ledger
from nub_shift.model.messages import Message
from nub_shift.runner.live.live_switch import LiveSwitch
from nub_shift.runner.seats.pad_events import PadEvents
from nub_shift.runner.seats.pad_source import Taken

SeatT = TypeVar("SeatT", contravariant=True)


class SeatHost(Protocol[SeatT]):
    """Members of a session that its seats use."""

    ledger: Ledger
    switch: LiveSwitch
    pads_changed: bool
    pad_events: PadEvents
    has_plug_events: bool

    def taken(self, seat: SeatT) -> Taken:
        """Returns the pads that other seats have or await."""

    def say(self, message: Message) -> None:
        """Sends a message to the person."""

    def note_change(self) -> None:
        """Marks the state as changed."""

    def note_signs(self) -> None:
        """Marks the state that signs show as changed."""

    def request_halt(self) -> None:
        """Requests a halt, or its end."""

    def request_menu(self, seat: SeatT, opens: bool) -> None:
        """Requests the menu of a seat's pad to be opened or closed."""

    def note_pad(self, seat: SeatT) -> None:
        """Notifies the session that a seat got or lost its pad."""

    def note_rehearsed_press(self) -> None:
        """Notifies the session of a press that reaches no game."""

"""Loading of profiles during play: requested from a pad, or typed on another keyboard layout."""

from __future__ import annotations

from collections.abc import Callable
from dataclasses import dataclass
from functools import partial
from typing import Protocol

from nub_shift.engine.program import Program
from nub_shift.model.messages import Code, Message
from nub_shift.model.profile.profile import Profile
from nub_shift.protocol.codec import Refused
from nub_shift.runner.seats.seat import Seat


@dataclass(frozen=True)
class Loaded:
    """A playable profile, with its file or an empty text."""

    program: Program
    file: str = ""


@dataclass(frozen=True)
class Choice:
    """A person's choice of a profile, with the state at that time, since reading a profile takes time.

    Attributes:
        window: number of the window in front; 0 if unknown.
        auto_changes: number of automatic changes of the seat's profile.
    """

    window: int
    auto_changes: int


class ProfileSource(Protocol):
    """Loads profiles during play. Each call is answered by one call of `done`, at once or later."""

    @property
    def can_find(self) -> bool:
        """Whether profiles can be requested by title."""

    def find(self, title: str, done: Callable[[Loaded | Refused], None]) -> None:
        """Loads the profile of that title."""

    def check_again(self, profile: Profile, done: Callable[[Loaded | Refused], None]) -> None:
        """Checks and compiles a profile for the present keyboard layout."""


class RequestHost(Protocol):
    """Members of the session that profile requests use."""

    seats: list[Seat]

    def choose(self, seat: Seat) -> Choice:
        """Returns the choice of a profile that a person makes now."""

    def load(self, seat: Seat, program: Program, now_us: int, file: str = "", choice: Choice | None = None) -> None:
        """Gives a seat another profile."""

    def say(self, message: Message) -> None:
        """Sends a message to the person."""


class ProfileRequests:
    """Loads the requested profiles of seats, and those whose texts another keyboard layout types differently.

    Attributes:
        requested: seats and titles that pads have requested since the last `work`.
    """

    def __init__(self, host: RequestHost, source: ProfileSource, clock: Callable[[], int]) -> None:
        self.requested: list[tuple[Seat, str]] = []
        self._host = host
        self._source = source
        self._clock = clock

    def work(self) -> None:
        """Loads the requested profiles; without searchable folders only reports the request."""
        requested, self.requested = self.requested, []
        for seat, title in requested:
            if self._source.can_find:
                self._source.find(title, partial(self._on_found, seat, self._host.choose(seat)))
            else:
                self._host.say(Message(Code.PROFILE_ASKED_FOR, {"title": title}))

    def retype(self) -> None:
        """Types texts on another keyboard layout; seats without texts are not disturbed.

        A profile with a text that the layout cannot type stays unchanged, and a message reports that.
        """
        for seat in self._host.seats:
            profile = seat.program.profile
            if any(step.text for sequence in profile.sequences for step in sequence.steps):
                self._source.check_again(profile, partial(self._on_checked, seat))

    def _on_found(self, seat: Seat, choice: Choice, found: Loaded | Refused) -> None:
        if isinstance(found, Refused):
            self._host.say(found.why)
        elif seat in self._host.seats:
            self._host.load(seat, found.program, self._clock(), found.file, choice)
            if seat.program is found.program:
                self._host.say(Message(Code.PLAYING, {"title": found.program.profile.title}))

    def _on_checked(self, seat: Seat, checked: Loaded | Refused) -> None:
        if isinstance(checked, Refused):
            self._host.say(checked.why)
        # the seat has changed its profile meanwhile
        elif seat in self._host.seats and seat.program.profile == checked.program.profile:
            self._host.load(seat, checked.program, self._clock(), seat.file)

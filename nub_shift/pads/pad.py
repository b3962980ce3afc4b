"""What the runner asks of any pad."""

from __future__ import annotations

from collections.abc import Callable, Iterable, Sequence
from typing import Protocol, runtime_checkable

from nub_shift.engine.values import Frame
from nub_shift.model.controls import Finger
from nub_shift.model.messages import Saying
from nub_shift.model.pad.trim import PadTrim
from nub_shift.pads.description import Description
from nub_shift.pads.input_codes import Event


class PadGone(Saying):
    """The pad was unplugged, or its recording is over."""


class PadError(Saying):
    """A pad cannot be used; the message says why."""


# Gets raw events of a pad besides whoever plays with it.
Tap = Callable[[Sequence[Event]], None]


class Pad(Protocol):
    """A source of frames.

    Attributes:
        key: where it is: what tells it from the other pads that are connected.
        name: what the device calls itself.
        controls: the canonical controls that it has.
        printed: what is printed on them, where that is not their position.
        fingers: what works them, where that is not the usual finger.
        menu: the button that opens its menu, where that is not the usual one.
        is_guessed: nobody has set it up, and the names of its controls follow from its codes alone.
    """

    key: str
    name: str
    controls: tuple[str, ...]
    printed: dict[str, str]
    fingers: dict[str, Finger]
    menu: str
    is_guessed: bool

    @property
    def away(self) -> tuple[str, ...]:
        """The controls that did not lie at rest when it was opened, where nobody has said where they rest."""

    @property
    def performs(self) -> bool:
        """Whether what it does is a demo or a recording, and nobody's hand."""

    @property
    def gyro_bias(self) -> tuple[float, float, float] | None:
        """Known bias of the gyro about x, y and z, in degrees a second."""

    @property
    def trim(self) -> PadTrim:
        """Corrections of the card."""

    def keep_gyro_bias(self, bias: tuple[float, float, float]) -> None:
        """Keeps what was learned of that with the pad, if it has somewhere to keep it."""

    def filenos(self) -> tuple[int, ...]:
        """The descriptors that become readable with new frames; none for a pad that goes by time."""

    def due_us(self) -> int | None:
        """When the next frame is there, for a pad that goes by time; it is another only after it was read."""

    def read(self, now_us: int, fd: int | None = None) -> list[Frame]:
        """The frames up to now, of one descriptor or of all.

        Raises:
            PadGone: there will be no more.
        """

    def set_grabbed(self, grabbed: bool) -> None:
        """Whether others are kept from seeing this pad."""

    def show_player(self, number: int) -> None:
        """Lights the player light of that number, from 1, if it has such lights."""

    def rumble(self, pattern: Sequence[int]) -> None:
        """Has its motors run and rest by turns, each for so many milliseconds, if it has some; nobody waits for it."""

    def has_grown(self) -> bool:
        """Whether there are more devices that belong to it than when it was opened: a driver makes them one by one."""

    def close(self) -> None:
        """Lets the device go."""


@runtime_checkable
class DevicePad(Pad, Protocol):
    """A pad that is kernel devices, real or made up: its raw events can be listened to.

    Attributes:
        descriptions: of its devices, the one with the buttons first.
        tap: gets the raw events of that one.
    """

    tap: Tap | None

    @property
    def descriptions(self) -> tuple[Description, ...]:
        """See above."""

    def positions(self) -> dict[int, int]:
        """Returns the positions of the axes of the device with the buttons."""


def with_name(pads: Iterable[tuple[str, str]], match: str) -> str | None:
    """The first key whose key or text contains `match`, letter case aside."""
    wanted = match.casefold()
    return next((key for key, text in pads if wanted in key.casefold() or wanted in text.casefold()), None)

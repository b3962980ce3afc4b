"""Interface of pads for the runner."""

from __future__ import annotations

from collections.abc import Callable, Iterable, Sequence
from typing import Protocol, runtime_checkable

from nub_shift.engine.values import Frame
from nub_shift.model.controls import Finger
from nub_shift.model.messages import MessageError
from nub_shift.model.pad.trim import PadTrim
from nub_shift.pads.description import Description
from nub_shift.pads.input_codes import Event


class PadGone(MessageError):
    """The pad was unplugged, or its recording has ended."""


class PadError(MessageError):
    """A pad cannot be used; the message gives the reason."""


# Receiver of raw events of a pad, besides the player.
Tap = Callable[[Sequence[Event]], None]


class Pad(Protocol):
    """A source of frames.

    Attributes:
        key: identifies the pad among the connected ones.
        name: name reported by the device.
        controls: canonical controls of the pad.
        printed: labels on its controls, where they are not the position.
        fingers: fingers of its controls, where unusual.
        menu: button of the pad menu, where unusual.
        is_guessed: the pad is not set up, and the names of its controls are guessed from the codes.
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
        """Controls not at rest when the pad was opened, as far as their rest is uncertain."""

    @property
    def is_automatic(self) -> bool:
        """Whether the movements come from a demo or a recording, and not from a hand."""

    @property
    def gyro_bias(self) -> tuple[float, float, float] | None:
        """Known bias of the gyro about x, y and z, in degrees a second."""

    @property
    def trim(self) -> PadTrim:
        """Corrections of the card."""

    def keep_gyro_bias(self, bias: tuple[float, float, float]) -> None:
        """Stores a learned bias with the pad, if the pad has a card."""

    def filenos(self) -> tuple[int, ...]:
        """Returns the descriptors that become readable with new frames; empty for a time-driven pad."""

    def due_us(self) -> int | None:
        """Returns when the next frame of a time-driven pad is due; changes only with a read."""

    def read(self, now_us: int, fd: int | None = None) -> list[Frame]:
        """Returns the frames up to now, of one descriptor or of all.

        Raises:
            PadGone: there will be no more.
        """

    def set_grabbed(self, grabbed: bool) -> None:
        """Grabs the pad exclusively, or ungrabs it."""

    def show_player(self, number: int) -> None:
        """Lights the player light of that number, from 1, if it has such lights."""

    def rumble(self, pattern: Sequence[int]) -> None:
        """Runs and rests the motors alternately by milliseconds, if there are any; returns at once."""

    def has_grown(self) -> bool:
        """Returns whether further devices of the pad have appeared since it was opened, since drivers create them one
        by one.
        """

    def close(self) -> None:
        """Closes the pad."""


@runtime_checkable
class DevicePad(Pad, Protocol):
    """A pad of kernel devices, real or simulated, with accessible raw events.

    Attributes:
        descriptions: descriptions of its devices, the one with the buttons first.
        tap: receives the raw events of that device.
    """

    tap: Tap | None

    @property
    def descriptions(self) -> tuple[Description, ...]:
        """Descriptions of the devices, the one with the buttons first."""

    def positions(self) -> dict[int, int]:
        """Returns the positions of the axes of the device with the buttons."""


def with_name(pads: Iterable[tuple[str, str]], match: str) -> str | None:
    """Returns the first key whose key or text contains `match`, ignoring case."""
    wanted = match.casefold()
    return next((key for key, text in pads if wanted in key.casefold() or wanted in text.casefold()), None)

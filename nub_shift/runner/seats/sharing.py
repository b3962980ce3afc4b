"""Where two seats that play one pad get their halves from."""

from __future__ import annotations

from collections.abc import Collection

from nub_shift.model.messages import Code
from nub_shift.pads.combined.halves import FirstHalf
from nub_shift.pads.pad import Pad, PadError
from nub_shift.protocol.messages import SparePad
from nub_shift.runner.seats.pad_source import PadSource, Taken


class Sharing:
    """One pad for two seats.

    Attributes:
        source: finds the whole pad.
        seconds: the controls that the second seat has; the first one has the rest.
        first, second: a PadSource for each seat.
    """

    def __init__(self, source: PadSource, seconds: Collection[str]) -> None:
        self.source = source
        self.seconds = frozenset(seconds)
        self.first = _First(self)
        self.second = _Second(self.first)


class _First:
    """Finds the pad, and opens it for both."""

    def __init__(self, sharing: Sharing) -> None:
        self._sharing = sharing
        self.pad: FirstHalf | None = None

    @property
    def asked(self) -> str:
        """Text after `--pad` that finds the whole pad."""
        return self._sharing.source.asked

    @property
    def had(self) -> str:
        """Identity of the whole pad before."""
        return self._sharing.source.had

    @property
    def identities(self) -> tuple[str, ...]:
        """Likewise."""
        return self._sharing.source.identities

    @property
    def unsure(self) -> bool:
        """Likewise."""
        return self._sharing.source.unsure

    @property
    def spare(self) -> SparePad | None:
        """Likewise."""
        return self._sharing.source.spare

    def open(self, taken: Taken) -> Pad:
        """Opens the pad; raises PadError as its source does."""
        self.pad = FirstHalf(self._sharing.source.open(taken), self._sharing.seconds)
        return self.pad

    def forget(self) -> None:
        """Any other pad that fits will do for both."""
        self._sharing.source.forget()


class _Second:
    """Gets its half once the first one has opened the pad."""

    asked = ""  # the first one looks for the pad
    had = ""
    unsure = False
    spare = None

    def __init__(self, first: _First) -> None:
        self._first = first

    @property
    def identities(self) -> tuple[str, ...]:
        """Identities of the whole pad."""
        return self._first.identities

    def open(self, taken: Taken) -> Pad:  # noqa: ARG002 - as all sources are asked
        """Its half; raises PadError while there is none."""
        first = self._first.pad
        if first is None or first.second.ended:
            raise PadError(Code.NO_PAD_CONNECTED)
        return first.second

    def forget(self) -> None:
        """The first one looks for the pad."""

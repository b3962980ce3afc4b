"""Pad sources of two seats that play one pad."""

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
        source: source of the whole pad.
        seconds: controls of the second seat; the first seat has the rest.
        first, second: PadSource of each seat.
    """

    def __init__(self, source: PadSource, seconds: Collection[str]) -> None:
        self.source = source
        self.seconds = frozenset(seconds)
        self.first = _First(self)
        self.second = _Second(self.first)


class _First:
    """Finds and opens the pad for both seats."""

    def __init__(self, sharing: Sharing) -> None:
        self._sharing = sharing
        self.pad: FirstHalf | None = None

    @property
    def requested(self) -> str:
        """Text after `--pad` that finds the whole pad."""
        return self._sharing.source.requested

    @property
    def former(self) -> str:
        """Identity of the former whole pad."""
        return self._sharing.source.former

    @property
    def identities(self) -> tuple[str, ...]:
        """Identities of the whole pad."""
        return self._sharing.source.identities

    @property
    def unsure(self) -> bool:
        """Whether the whole pad may be a different one."""
        return self._sharing.source.unsure

    @property
    def spare(self) -> SparePad | None:
        """Unused pad to offer instead."""
        return self._sharing.source.spare

    def open(self, taken: Taken) -> Pad:
        """Opens the pad.

        Raises:
            PadError: as for the source of the whole pad.
        """
        self.pad = FirstHalf(self._sharing.source.open(taken), self._sharing.seconds)
        return self.pad

    def forget(self) -> None:
        """Accepts any other matching pad for both seats."""
        self._sharing.source.forget()


class _Second:
    """Gets its half once the first seat has opened the pad."""

    requested = ""  # the first seat's source finds the pad
    former = ""
    unsure = False
    spare = None

    def __init__(self, first: _First) -> None:
        self._first = first

    @property
    def identities(self) -> tuple[str, ...]:
        """Identities of the whole pad."""
        return self._first.identities

    def open(self, taken: Taken) -> Pad:  # noqa: ARG002 - as all sources are asked
        """Opens its half.

        Raises:
            PadError: the first seat has no pad.
        """
        first = self._first.pad
        if first is None or first.second.ended:
            raise PadError(Code.NO_PAD_CONNECTED)
        return first.second

    def forget(self) -> None:
        """Does nothing: the first seat's source finds the pad."""

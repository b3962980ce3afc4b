"""What a seat needs of whoever finds its pad."""

from __future__ import annotations

from collections.abc import Collection
from dataclasses import dataclass
from typing import Protocol

from nub_shift.pads.pad import Pad
from nub_shift.protocol.messages import SparePad


@dataclass(frozen=True)
class Taken:
    """Pads of the other seats.

    Attributes:
        keys: of their pads.
        awaited: of pads that they wait for to come back, the most particular identity of each.
    """

    keys: Collection[str] = ()
    awaited: Collection[str] = ()


class PadSource(Protocol):
    """Source of a seat's pad."""

    @property
    def asked(self) -> str:
        """Text after `--pad` that finds the pad; empty if only another seat's source does."""

    @property
    def had(self) -> str:
        """The most particular identity of the pad that it gave last, or empty."""

    @property
    def identities(self) -> tuple[str, ...]:
        """Identities that the pad's cards may have, the most particular first."""

    @property
    def unsure(self) -> bool:
        """Whether that pad may be another one, of the same kind as the one before."""

    @property
    def spare(self) -> SparePad | None:
        """A pad that no seat has or waits for, while the requested one is missing."""

    def open(self, taken: Taken) -> Pad:
        """Opens it; raises PadError if it is not there, or cannot be used."""

    def forget(self) -> None:
        """Forgets the pad, which belongs to another seat now."""

"""Interface between a seat and the search for its pad."""

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
        keys: keys of their pads.
        awaited: most specific identity of each pad whose return they await.
    """

    keys: Collection[str] = ()
    awaited: Collection[str] = ()


class PadSource(Protocol):
    """Source of a seat's pad."""

    @property
    def requested(self) -> str:
        """Text after `--pad` that finds the pad; empty for the second seat of a shared pad."""

    @property
    def former(self) -> str:
        """Most specific identity of the last pad, or empty."""

    @property
    def identities(self) -> tuple[str, ...]:
        """Identities that the pad's cards may have, the most specific first."""

    @property
    def unsure(self) -> bool:
        """Whether the pad may be a different one of the same kind as before."""

    @property
    def spare(self) -> SparePad | None:
        """Unused pad to offer while the requested one is missing."""

    def open(self, taken: Taken) -> Pad:
        """Opens the pad.

        Raises:
            PadError: the pad is missing or cannot be used.
        """

    def forget(self) -> None:
        """Forgets the pad, which belongs to another seat now."""

"""What the pads of seats do, told to whoever looks at all pads."""

from __future__ import annotations

from collections.abc import Sequence
from typing import Protocol

from nub_shift.engine.values import Frame


class PadListener(Protocol):
    """Somebody who looks at all pads."""

    def on_frames(self, key: str, frames: Sequence[Frame]) -> None:
        """The pad of that key did something."""

    def on_pads(self) -> None:
        """A seat has got its pad, or lost it."""


class PadEvents:
    """Forwards seat and pad events to at most one listener.

    Attributes:
        listener: None while nobody looks, which is nearly always.
    """

    def __init__(self) -> None:
        self.listener: PadListener | None = None

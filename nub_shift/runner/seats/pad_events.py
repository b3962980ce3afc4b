"""Events of the seats' pads, forwarded to the monitor of all pads."""

from __future__ import annotations

from collections.abc import Sequence
from typing import Protocol

from nub_shift.engine.values import Frame


class PadListener(Protocol):
    """Listener to the pads of seats."""

    def on_frames(self, key: str, frames: Sequence[Frame]) -> None:
        """Called with the frames of a pad."""

    def on_pads(self) -> None:
        """Called when a seat gets or loses its pad."""


class PadEvents:
    """Forwards seat and pad events to at most one listener.

    Attributes:
        listener: None without subscribers, which is nearly always.
    """

    def __init__(self) -> None:
        self.listener: PadListener | None = None

"""Events of all pads for one subscriber, thinned to the requested rate."""

from __future__ import annotations

from collections.abc import Iterable, Mapping

from nub_shift.engine.values import US_PER_SECOND, Frame
from nub_shift.protocol.messages import ConnectedPads, FrameNews, PadsNews
from nub_shift.runner.seats.telemetry import MAX_BACKLOG


class PadsFeed:
    """Collects packets for one subscriber; never due while nothing happens.

    Attributes:
        whole: key of the pad whose every frame is sent, or empty.
    """

    def __init__(self, hz: int, whole: str) -> None:
        self.whole = whole
        self._period_us = US_PER_SECOND // max(1, min(hz, 250))
        self._values: dict[str, dict[str, float]] = {}
        self._frames: list[FrameNews] = []
        self._connected: ConnectedPads | None = None
        self._next_us = 0

    def note_values(self, pad: str, values: Mapping[str, float]) -> None:
        """Records the values of a pad's channels."""
        self._values.setdefault(pad, {}).update(values)

    def note_frames(self, pad: str, frames: Iterable[Frame]) -> None:
        """Records the frames of a pad."""
        for frame in frames:
            self.note_values(pad, frame.values)
            if pad == self.whole and len(self._frames) < MAX_BACKLOG:
                self._frames.append(FrameNews(frame.t_us, frame.values))

    def note_connected(self, connected: ConnectedPads) -> None:
        """Records the changed list of pads."""
        self._connected = connected

    def due_us(self) -> int | None:
        """Returns when `packet` has to be called; None while there is nothing to send."""
        return self._next_us if self._values or self._connected is not None else None

    def packet(self, now_us: int) -> PadsNews | None:
        """Returns the due packet, if any."""
        due = self.due_us()
        if due is None or now_us < due:
            return None
        made = PadsNews(now_us, self._values, tuple(self._frames), self._connected)
        self._values, self._frames, self._connected = {}, [], None
        self._next_us = now_us + self._period_us
        return made

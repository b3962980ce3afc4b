"""What happened, collected for the subscribers and thinned to the rate they asked for."""

from __future__ import annotations

from typing import Final

from nub_shift.engine.values import US_PER_SECOND, Frame, Output, Pointer
from nub_shift.model.controls import DIGITAL
from nub_shift.protocol.messages import ChannelChange, SeatState, Telemetry

# A subscriber that falls this far behind gets the present state and a gap, not a growing backlog.
MAX_BACKLOG: Final = 5_000
# Pointer motion is told in sums over stretches of this length: fine enough to draw its path.
POINTER_US: Final = 8_000


class TelemetryFeed:
    """Collects for one subscriber. It asks for nothing while nothing happens."""

    def __init__(self, hz: int, values: dict[str, float]) -> None:
        self._period_us = US_PER_SECOND // max(1, min(hz, 250))
        self._values = dict(values)
        self._changes: list[ChannelChange] = []
        self._outputs: list[Output] = []
        self._dirty = True
        self._next_us = 0

    def note_frame(self, frame: Frame) -> None:
        """Takes what the pad did."""
        self._values.update(frame.values)
        if len(self._changes) < MAX_BACKLOG:
            for channel, value in frame.values.items():
                if channel in DIGITAL:
                    self._changes.append(ChannelChange(frame.t_us, channel, value > 0.5))
        self._dirty = True

    def note_outputs(self, outputs: list[Output]) -> None:
        """Takes what the game got, or would have got."""
        for output in outputs:
            if len(self._outputs) >= MAX_BACKLOG:
                break
            before = self._outputs[-1] if self._outputs else None
            if (
                isinstance(output, Pointer)
                and isinstance(before, Pointer)
                and output.t_us // POINTER_US == before.t_us // POINTER_US
            ):
                self._outputs[-1] = Pointer(before.t_us, before.dx + output.dx, before.dy + output.dy)
            else:
                self._outputs.append(output)
        self._dirty = self._dirty or bool(outputs)

    def note_change(self) -> None:
        """Something else is worth a packet, a change of profile, say."""
        self._dirty = True

    def due_us(self) -> int | None:
        """When `packet` wants to be called; None while there is nothing to tell."""
        return self._next_us if self._dirty else None

    def packet(self, now_us: int, index: int, seat: SeatState) -> Telemetry | None:
        """The packet that is due, if one is, of the seat of that number, which is in that state."""
        if not self._dirty or now_us < self._next_us:
            return None
        made = Telemetry(
            now_us,
            self._values,
            self._changes,
            self._outputs,
            layers=seat.layers,
            slots=seat.slots,
            performs=seat.pad.performs,
            seat=index,
            toggles=seat.toggles,
        )
        self._values, self._changes, self._outputs = {}, [], []
        self._dirty = False
        self._next_us = now_us + self._period_us
        return made

"""Telemetry of a seat for one subscriber, thinned to the requested rate."""

from __future__ import annotations

from typing import Final

from nub_shift.engine.values import US_PER_SECOND, Frame, Output, Pointer
from nub_shift.model.controls import DIGITAL
from nub_shift.protocol.messages import ChannelChange, SeatState, Telemetry

# A subscriber that falls this far behind gets the present state and a gap in place of a growing backlog.
MAX_BACKLOG: Final = 5_000
# Pointer motion is summed over intervals of this length, short enough for drawing its path.
POINTER_US: Final = 8_000


class TelemetryFeed:
    """Collects telemetry for one subscriber; never due while nothing happens."""

    def __init__(self, hz: int, values: dict[str, float]) -> None:
        self._period_us = US_PER_SECOND // max(1, min(hz, 250))
        self._values = dict(values)
        self._changes: list[ChannelChange] = []
        self._outputs: list[Output] = []
        self._dirty = True
        self._next_us = 0

    def note_frame(self, frame: Frame) -> None:
        """Records a frame of the pad."""
        self._values.update(frame.values)
        if len(self._changes) < MAX_BACKLOG:
            for channel, value in frame.values.items():
                if channel in DIGITAL:
                    self._changes.append(ChannelChange(frame.t_us, channel, value > 0.5))
        self._dirty = True

    def note_outputs(self, outputs: list[Output]) -> None:
        """Records outputs, sent or rehearsed."""
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
        """Records another change, such as that of the profile."""
        self._dirty = True

    def due_us(self) -> int | None:
        """Returns when `packet` has to be called; None while there is nothing to send."""
        return self._next_us if self._dirty else None

    def packet(self, now_us: int, index: int, seat: SeatState) -> Telemetry | None:
        """Returns the due packet, if any, of the seat with this number and state."""
        if not self._dirty or now_us < self._next_us:
            return None
        made = Telemetry(
            now_us,
            self._values,
            self._changes,
            self._outputs,
            layers=seat.layers,
            slots=seat.slots,
            is_automatic=seat.pad.is_automatic,
            seat=index,
            toggles=seat.toggles,
        )
        self._values, self._changes, self._outputs = {}, [], []
        self._dirty = False
        self._next_us = now_us + self._period_us
        return made

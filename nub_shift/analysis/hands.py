"""Recorded movements of a pad's sticks, triggers, sliders and sensors in the last minutes, for repeated analysis."""

from __future__ import annotations

from collections.abc import Iterable, Sequence
from dataclasses import dataclass
from functools import cached_property

import numpy as np
from numpy.typing import NDArray

from nub_shift.engine.shaping.trimming import Trimming
from nub_shift.engine.values import US_PER_SECOND, Frame
from nub_shift.model.controls import CONTROLS, Kind
from nub_shift.model.pad.trim import PadTrim, StickTrim
from nub_shift.model.slot_names import slot_name

Samples = NDArray[np.float64]
Times = NDArray[np.int64]

_KINDS = {Kind.STICK, Kind.SURFACE, Kind.TRIGGER, Kind.SLIDER, Kind.MOTION}
CHANNELS = tuple(channel for control in CONTROLS if control.kind in _KINDS for channel in control.channels)
# Three minutes of a pad that reports 250 times a second.
ROWS = 45_000
GRID_US = 4_000
# Gap between two separately recorded pieces.
_SEAM_US = GRID_US


@dataclass(frozen=True, eq=False)
class Piece:
    """Some channels over some time.

    Attributes:
        t_us: begin of each row in microseconds (n).
        values: by row and channel (n by the number of channels).
    """

    t_us: Times
    values: Samples

    @cached_property
    def grid(self) -> tuple[Times, Samples]:
        """Times every 4 ms with the channel values; cached, since many feels are compared."""
        ticks = np.arange(self.t_us[0], self.t_us[-1] + 1, GRID_US)
        return ticks, self.values[held_at(self.t_us, ticks)]

    @property
    def seconds(self) -> float:
        """How long it is, from the first row to the last."""
        return float(self.t_us[-1] - self.t_us[0]) / US_PER_SECOND if len(self.t_us) else 0.0


def held_at(t_us: Times, ticks: Times) -> NDArray[np.intp]:
    """Returns the index of the row in force at each tick."""
    return np.maximum(np.searchsorted(t_us, ticks, side="right") - 1, 0)


class Hands:
    """Records frames; the oldest are dropped after about three minutes.

    Attributes:
        count: number of rows taken in all.
    """

    def __init__(self) -> None:
        self._column = {channel: column for column, channel in enumerate(CHANNELS)}
        self._t_us = np.zeros(ROWS, dtype=np.int64)
        self._rows = np.zeros((ROWS, len(CHANNELS)))
        self._trimmed: dict[str, StickTrim] = {}
        self._trimmings: dict[tuple[int, int], Trimming] = {}
        self.forget()

    def fit(self, trim: PadTrim) -> None:
        """Sets the correction of sticks; rows recorded with another one are dropped."""
        if trim.sticks == self._trimmed:
            return
        if self._trimmed or trim.sticks:
            self.forget()
        self._trimmed = trim.sticks
        self._trimmings = {
            (self._column[slot_name(stick, "x")], self._column[slot_name(stick, "y")]): Trimming(one)
            for stick, one in trim.sticks.items()
        }

    def placed(self, stick: str, x: float, y: float) -> tuple[float, float]:
        """Returns the corrected position of a stick."""
        trimming = self._trimmings.get((self._column[slot_name(stick, "x")], self._column[slot_name(stick, "y")]))
        return trimming.place(x, y) if trimming is not None else (x, y)

    def forget(self) -> None:
        """Drops all rows, for another pad."""
        self.count = 0
        self._now = np.zeros(len(CHANNELS))
        self._left_out_us = 0
        self._watched = False

    def pause(self) -> None:
        """Suspends recording: the time until the next frame does not count."""
        self._watched = False

    def take(self, frames: Iterable[Frame]) -> int:
        """Records frames in order of time; returns the number of new rows."""
        column, before = self._column, self.count
        for frame in frames:
            moved = False
            for channel, value in frame.values.items():
                if channel in column:
                    self._now[column[channel]] = value
                    moved = True
            if not moved:
                continue
            last_us = int(self._t_us[(self.count - 1) % ROWS]) if self.count else frame.t_us
            if not self._watched:
                self._left_out_us = frame.t_us - last_us - (_SEAM_US if self.count else 0)
                self._watched = True
            at = self.count % ROWS
            self._t_us[at] = max(frame.t_us - self._left_out_us, last_us)
            self._rows[at] = self._now
            for (x, y), trimming in self._trimmings.items():
                self._rows[at, x], self._rows[at, y] = trimming.place(float(self._now[x]), float(self._now[y]))
            self.count += 1
        return self.count - before

    def last(self, channels: Sequence[str], count: int) -> list[tuple[float, ...]]:
        """Returns the values of some channels in the last rows."""
        columns = [self._column[channel] for channel in channels]
        rows = np.arange(max(self.count - min(count, ROWS), 0), self.count) % ROWS
        return [tuple(row) for row in self._rows[rows][:, columns].tolist()]

    def piece(self, channels: Sequence[str], seconds: float) -> Piece:
        """Returns the last seconds of some channels, or less if less is recorded."""
        have = min(self.count, ROWS)
        order = np.arange(self.count - have, self.count) % ROWS
        t_us = self._t_us[order]
        first = int(np.searchsorted(t_us, t_us[-1] - round(seconds * US_PER_SECOND))) if have else 0
        columns = [self._column[channel] for channel in channels]
        return Piece(t_us[first:], self._rows[order[first:]][:, columns])

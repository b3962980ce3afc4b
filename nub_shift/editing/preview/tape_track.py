"""Content of the tape: the last seconds of pad input and game output on one time axis, without painting."""

from __future__ import annotations

from collections import deque
from dataclasses import dataclass
from typing import assert_never

from nub_shift.engine.values import Key, Place, PlaceBack, Pointer, ProfileRequest, Wheel
from nub_shift.model.controls import CONTROL_OF_CHANNEL, CONTROLS, DIGITAL, Kind
from nub_shift.protocol.messages import Telemetry
from nub_shift.translation import tr

SPAN_US = 8_000_000
TRACED = (Kind.STICK, Kind.TRIGGER, Kind.SLIDER, Kind.MOTION, Kind.SURFACE)
_STILL = 0.06  # part of full deflection
_STEP_US = 40_000
_TURNING = 8.0  # degrees a second
_GAME = -1  # owner of keys, which all seats share


@dataclass
class TapeBar:
    """A button or key held from `start_us` to `end_us`; None while held. `seat` is the seat that pressed it."""

    name: str
    start_us: int
    end_us: int | None = None
    seat: int = 0


@dataclass(frozen=True)
class Mark:
    """A wheel click."""

    name: str
    t_us: int
    seat: int = 0


class TapeTrack:
    """Collects telemetry and drops what has scrolled out.

    Attributes:
        pad_bars: digital channels.
        game_bars: keys and mouse buttons.
        marks: wheel clicks.
        traces: points (time, value) of analogue channels, by seat and channel.
        pointer: points (time, counts x, counts y) of pointer motion, of all seats.
        last_us: time of the last event.
    """

    def __init__(self) -> None:
        self.pad_bars: deque[TapeBar] = deque()
        self.game_bars: deque[TapeBar] = deque()
        self.marks: deque[Mark] = deque()
        self.traces: dict[tuple[int, str], deque[tuple[int, float]]] = {}
        self.pointer: deque[tuple[int, int, int]] = deque()
        self.last_us = 0
        self._open: dict[tuple[int, str], TapeBar] = {}
        self._moved_us: dict[tuple[int, str], int] = {}  # time of the last movement, by seat and control

    def take(self, packet: Telemetry) -> None:
        """Adds a packet."""
        seat = packet.seat
        for touch in packet.changes:
            self._bar(self.pad_bars, seat, touch.channel, touch.down, touch.t_us, seat)
        for channel, value in packet.values.items():
            if CONTROL_OF_CHANNEL[channel].kind in TRACED and channel not in DIGITAL:
                self._trace(seat, channel, packet.t_us, value)
        for output in packet.outputs:
            self.last_us = packet.t_us
            match output:
                case Key(t_us, code, down):
                    self._bar(self.game_bars, _GAME, code, down, t_us, seat)  # the seat of the last release counts
                case Pointer(t_us, dx, dy):
                    self.pointer.append((t_us, dx, dy))
                case Wheel(t_us, x, y):
                    way = ("↑" if y > 0 else "↓") if y else ("→" if x > 0 else "←")
                    self.marks.append(Mark(tr("Wheel {way}", way=way), t_us, seat))
                case Place(t_us):
                    self.marks.append(Mark(tr("Pointer placed"), t_us, seat))
                case PlaceBack(t_us):
                    self.marks.append(Mark(tr("Pointer back"), t_us, seat))
                case ProfileRequest():
                    pass
                case _:
                    assert_never(output)
        self._forget(packet.t_us - SPAN_US)

    def active_controls(self, now_us: int) -> list[tuple[int, str]]:
        """Returns seats with their controls that moved within the span, in the order of the lanes."""
        since = now_us - SPAN_US
        found = {
            (bar.seat, CONTROL_OF_CHANNEL[bar.name].name) for bar in self.pad_bars if (bar.end_us or now_us) > since
        }
        found.update(moved for moved, t_us in self._moved_us.items() if t_us > since)
        seats = sorted({seat for seat, _ in found})
        return [(seat, control.name) for seat in seats for control in CONTROLS if (seat, control.name) in found]

    def active_keys(self, now_us: int) -> dict[str, set[int]]:
        """Returns keys and wheel directions of the span, in order of first appearance, with the seats that sent
        them.
        """
        since = now_us - SPAN_US
        keys: dict[str, set[int]] = {}
        for bar in self.game_bars:
            if (bar.end_us or now_us) > since:
                keys.setdefault(bar.name, set()).add(bar.seat)
        for mark in self.marks:
            if mark.t_us > since:
                keys.setdefault(mark.name, set()).add(mark.seat)
        return keys

    def _bar(self, bars: deque[TapeBar], owner: int, name: str, down: bool, t_us: int, seat: int) -> None:
        """Ends the bar of a name and owner, and begins another if `down`."""
        self.last_us = max(self.last_us, t_us)
        bar = self._open.pop((owner, name), None)
        if bar is not None:
            bar.end_us = t_us
        if down:
            self._open[owner, name] = TapeBar(name, t_us, seat=seat)
            bars.append(self._open[owner, name])

    def _trace(self, seat: int, channel: str, t_us: int, value: float) -> None:
        """Adds a point if the difference is visible, which excludes noise at rest."""
        if "accel" in channel:
            return
        motion = "gyro" in channel
        points = self.traces.setdefault((seat, channel), deque([(t_us, 0.0)]))
        last_us, last = points[-1]
        if abs(value) > (_TURNING if motion else _STILL):
            self._moved_us[seat, CONTROL_OF_CHANNEL[channel].name] = t_us
            self.last_us = max(self.last_us, t_us)
        if abs(value - last) < (_TURNING / 4 if motion else _STILL / 4):
            return
        if t_us - last_us > _STEP_US:
            points.append((t_us - _STEP_US, last))  # constant until just now
        points.append((t_us, value))

    def _forget(self, before_us: int) -> None:
        for bars in (self.pad_bars, self.game_bars):
            while bars and bars[0].end_us is not None and bars[0].end_us < before_us:
                bars.popleft()
        while self.marks and self.marks[0].t_us < before_us:
            self.marks.popleft()
        while self.pointer and self.pointer[0][0] < before_us:
            self.pointer.popleft()
        for points in self.traces.values():
            while len(points) > 1 and points[1][0] < before_us:
                points.popleft()

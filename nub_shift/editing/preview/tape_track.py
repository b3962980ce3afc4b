"""What the tape shows: the last seconds of pad input and game output on one time axis. Plain values, no painting."""

from __future__ import annotations

from collections import deque
from dataclasses import dataclass

from nub_shift.engine.values import Key, Pointer, Wheel
from nub_shift.model.controls import CONTROL_OF_CHANNEL, CONTROLS, DIGITAL, Kind
from nub_shift.protocol.messages import Telemetry

SPAN_US = 8_000_000
TRACED = (Kind.STICK, Kind.TRIGGER, Kind.SLIDER, Kind.MOTION, Kind.SURFACE)
_STILL = 0.06  # of full deflection
_STEP_US = 40_000
_TURNING = 8.0  # degrees a second


@dataclass
class TapeBar:
    """A button or key that was down from `start_us` to `end_us`; None while it still is."""

    name: str
    start_us: int
    end_us: int | None = None


@dataclass(frozen=True)
class Mark:
    """A moment: a wheel click."""

    name: str
    t_us: int


class TapeTrack:
    """Collects telemetry and forgets what has scrolled out.

    Attributes:
        pad_bars: digital channels.
        game_bars: keys and mouse buttons.
        marks: wheel clicks.
        traces: analogue channel to points (time, value).
        pointer: points (time, counts x, counts y) of pointer motion.
        last_us: when something last happened.
    """

    def __init__(self) -> None:
        self.pad_bars: deque[TapeBar] = deque()
        self.game_bars: deque[TapeBar] = deque()
        self.marks: deque[Mark] = deque()
        self.traces: dict[str, deque[tuple[int, float]]] = {}
        self.pointer: deque[tuple[int, int, int]] = deque()
        self.last_us = 0
        self._open: dict[str, TapeBar] = {}
        self._moved_us: dict[str, int] = {}  # control to when it last moved

    def take(self, packet: Telemetry) -> None:
        """Adds a packet."""
        for touch in packet.changes:
            self._bar(self.pad_bars, touch.channel, touch.down, touch.t_us)
        for channel, value in packet.values.items():
            if CONTROL_OF_CHANNEL[channel].kind in TRACED and channel not in DIGITAL:
                self._trace(channel, packet.t_us, value)
        for output in packet.outputs:
            self.last_us = packet.t_us
            match output:
                case Key(t_us, code, down):
                    self._bar(self.game_bars, code, down, t_us)
                case Pointer(t_us, dx, dy):
                    self.pointer.append((t_us, dx, dy))
                case Wheel(t_us, x, y):
                    way = ("↑" if y > 0 else "↓") if y else ("→" if x > 0 else "←")
                    self.marks.append(Mark(f"Wheel {way}", t_us))
        self._forget(packet.t_us - SPAN_US)

    def active_controls(self, now_us: int) -> list[str]:
        """Controls that moved within the span, in the order of the lanes."""
        since = now_us - SPAN_US
        names = {CONTROL_OF_CHANNEL[bar.name].name for bar in self.pad_bars if (bar.end_us or now_us) > since}
        names.update(name for name, t_us in self._moved_us.items() if t_us > since)
        return [control.name for control in CONTROLS if control.name in names]

    def active_keys(self, now_us: int) -> list[str]:
        """Keys and wheel ways of the span, in the order in which they first appeared."""
        since = now_us - SPAN_US
        keys = [bar.name for bar in self.game_bars if (bar.end_us or now_us) > since]
        return list(dict.fromkeys([*keys, *(mark.name for mark in self.marks if mark.t_us > since)]))

    def _bar(self, bars: deque[TapeBar], name: str, down: bool, t_us: int) -> None:
        self.last_us = max(self.last_us, t_us)
        bar = self._open.pop(name, None)
        if bar is not None:
            bar.end_us = t_us
        if down:
            self._open[name] = TapeBar(name, t_us)
            bars.append(self._open[name])

    def _trace(self, channel: str, t_us: int, value: float) -> None:
        """Adds a point if it differs by what an eye can see; noise at rest adds none."""
        if "accel" in channel:
            return
        motion = "gyro" in channel
        points = self.traces.setdefault(channel, deque([(t_us, 0.0)]))
        last_us, last = points[-1]
        if abs(value) > (_TURNING if motion else _STILL):
            self._moved_us[CONTROL_OF_CHANNEL[channel].name] = t_us
            self.last_us = max(self.last_us, t_us)
        if abs(value - last) < (_TURNING / 4 if motion else _STILL / 4):
            return
        if t_us - last_us > _STEP_US:
            points.append((t_us - _STEP_US, last))  # it stayed there until just now
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

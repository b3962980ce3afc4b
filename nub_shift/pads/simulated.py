"""A made-up pad that performs a script, with the noise, drift and jitter of a real one.

It stands in for hardware wherever there is none. The same seed performs the same to the bit.
"""

from __future__ import annotations

import random
from collections.abc import Sequence
from dataclasses import dataclass
from math import cos, pi, sin
from typing import Protocol

from nub_shift.engine.values import US_PER_SECOND, Frame
from nub_shift.model.controls import CONTROL_BY_NAME, Kind
from nub_shift.pads.pad import PadGone


class Gesture(Protocol):
    """A movement of some channels over a stretch of the performance, in seconds from its start."""

    @property
    def start_s(self) -> float: ...

    @property
    def end_s(self) -> float: ...

    def at(self, t_s: float) -> dict[str, float]:
        """Values of its channels at a moment between start and end."""


@dataclass(frozen=True)
class Press:
    """A button, held down."""

    channel: str
    start_s: float
    end_s: float

    def at(self, t_s: float) -> dict[str, float]:  # noqa: ARG002 - the same all through
        return {self.channel: 1.0}


@dataclass(frozen=True)
class Push:
    """An axis that eases to a value, stays, and eases back; `ease_s` is the time of each way."""

    channel: str
    value: float
    start_s: float
    end_s: float
    ease_s: float = 0.12

    def at(self, t_s: float) -> dict[str, float]:
        nearest = min(t_s - self.start_s, self.end_s - t_s)
        part = min(nearest / self.ease_s, 1.0)
        return {self.channel: self.value * part * part * (3 - 2 * part)}


@dataclass(frozen=True)
class Sweep:
    """Two axes that go round: `turns` turns clockwise from `from_degrees` (0 is up), easing out and in."""

    channels: tuple[str, str]
    radius: float
    turns: float
    start_s: float
    end_s: float
    from_degrees: float = 0.0
    ease_s: float = 0.15

    def at(self, t_s: float) -> dict[str, float]:
        part = (t_s - self.start_s) / (self.end_s - self.start_s)
        angle = self.from_degrees * pi / 180 + 2 * pi * self.turns * part
        out = self.radius * min(1.0, (t_s - self.start_s) / self.ease_s, (self.end_s - t_s) / self.ease_s)
        x, y = self.channels
        return {x: out * sin(angle), y: -out * cos(angle)}


# A prime number of steps, so that no two channels ever repeat together.
NOISE_LENGTH = 4093


@dataclass(frozen=True)
class Traits:
    """What a made-up pad is like.

    Attributes:
        noise: standard deviation of a stick axis at rest, as a part of full deflection.
        rest: where a stick axis stands when nobody touches it, by channel.
        jitter_us: how far a frame's time strays from the grid.
    """

    name: str
    controls: tuple[str, ...]
    rate_hz: int = 250
    noise: float = 0.004
    rest: tuple[tuple[str, float], ...] = ()
    jitter_us: int = 300
    axis_steps: int = 2047


class SimulatedPad:
    """Performs gestures from `start_us` on, again and again unless `once`."""

    def __init__(
        self, traits: Traits, gestures: Sequence[Gesture], length_s: float, start_us: int, once: bool = False
    ) -> None:
        self.key = f"simulated:{traits.name}"
        self.name = traits.name
        self.controls = traits.controls
        self._traits = traits
        self._in_second: dict[int, list[Gesture]] = {}
        for gesture in sorted(gestures, key=lambda gesture: gesture.start_s):
            for second in range(int(gesture.start_s), int(gesture.end_s) + 1):
                self._in_second.setdefault(second, []).append(gesture)
        self._length_us = round(length_s * US_PER_SECOND)
        self._start_us = start_us
        self._once = once
        self._random = random.Random(traits.name)
        # Drawing noise anew for each frame would cost more than playing it.
        self._noise = [self._random.gauss(0.0, 1.0) for _ in range(NOISE_LENGTH)]
        self._noise_at = 0
        self._channels = [channel for name in traits.controls for channel in CONTROL_BY_NAME[name].channels]
        self._untouched = dict.fromkeys(self._channels, 0.0) | dict(traits.rest)
        self._noisy = [
            (channel, noise, 1.0 if channel.startswith(("left_stick", "right_stick")) else 2000.0)
            for channel in self._channels
            if (noise := self._noise_of(channel))
        ]
        self._last: dict[str, float] = dict.fromkeys(self._channels, 0.0)
        self._count = 0
        self._due_us = start_us

    def filenos(self) -> tuple[int, ...]:
        """None: it goes by time."""
        return ()

    def due_us(self) -> int:
        """When the next frame is there."""
        return self._due_us

    def read(self, now_us: int, fd: int | None = None) -> list[Frame]:  # noqa: ARG002 - it has none
        """The frames up to now; raises PadGone when it performs once and is through."""
        if self._once and self._due_us - self._start_us > self._length_us:
            raise PadGone("the performance is over")
        frames = []
        while self._due_us <= now_us:
            values = self._values((self._due_us - self._start_us) % self._length_us / US_PER_SECOND)
            changed = {channel: value for channel, value in values.items() if value != self._last[channel]}
            if changed:
                self._last.update(changed)
                frames.append(Frame(self._due_us, changed))
            self._count += 1
            grid_us = self._start_us + self._count * US_PER_SECOND // self._traits.rate_hz
            jitter_us = self._random.randint(-self._traits.jitter_us, self._traits.jitter_us)
            self._due_us = max(self._due_us + 1, grid_us + jitter_us)
        return frames

    def set_grabbed(self, grabbed: bool) -> None:
        """There is nobody to keep it from."""

    def close(self) -> None:
        """There is nothing to let go."""

    def _values(self, t_s: float) -> dict[str, float]:
        values = self._untouched.copy()
        for gesture in self._in_second.get(int(t_s), ()):
            if gesture.start_s <= t_s <= gesture.end_s:
                for channel, value in gesture.at(t_s).items():
                    values[channel] += value
        steps, table, at = self._traits.axis_steps, self._noise, self._noise_at
        for channel, noise, limit in self._noisy:
            at += 1
            value = round((values[channel] + noise * table[at % NOISE_LENGTH]) * steps) / steps
            values[channel] = limit if value > limit else -limit if value < -limit else value
        self._noise_at = at
        return values

    def _noise_of(self, channel: str) -> float:
        """Standard deviation of one channel; gyros are noisy by about a tenth of a degree a second."""
        control = next(CONTROL_BY_NAME[name] for name in self.controls if channel in CONTROL_BY_NAME[name].channels)
        if control.kind is Kind.MOTION:
            return 0.1 if "gyro" in channel else 0.003
        return self._traits.noise if control.kind is Kind.STICK and not channel.endswith("click") else 0.0

"""A simulated pad that plays a demo or is worked by hand, with the noise, drift and jitter of a real one.

Substitute for hardware: movements of its controls become events of the kernel devices that it consists of, which are
decoded by its card like those of any pad. Equal seeds give bit-identical demos.
"""

from __future__ import annotations

import random
from collections import deque
from collections.abc import Iterator, Mapping, Sequence
from dataclasses import dataclass
from math import cos, hypot, nan, pi, sin
from typing import Protocol

from nub_shift.engine.values import US_PER_SECOND, Frame
from nub_shift.model.controls import AT_REST, CONTROL_BY_NAME, CONTROLS, Finger, Kind
from nub_shift.model.messages import Code
from nub_shift.pads.description import Description
from nub_shift.pads.input_codes import EV_ABS, Event
from nub_shift.pads.kernel.decoder import Decoder
from nub_shift.pads.known.cards import Bias, Source, known_as
from nub_shift.pads.known.gamepad import wiring_of
from nub_shift.pads.known.wiring import Wiring
from nub_shift.pads.made_up.encoder import Encoder, describe_canonical, describe_motion, describe_surface
from nub_shift.pads.pad import PadGone, Tap

# Bound on channel values; sensors reach some thousand degrees a second.
_FURTHEST = 4000.0
# Bound on pending states of a pad worked by hand; beyond it the newest counts.
MAX_HANDS = 32


class Gesture(Protocol):
    """A movement of some channels over a part of the demo, in seconds from its start."""

    @property
    def start_s(self) -> float: ...

    @property
    def end_s(self) -> float: ...

    def at(self, t_s: float) -> dict[str, float]:
        """Returns the values of its channels at a moment between start and end."""


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
    """Two axes that circle: `turns` turns clockwise from `from_degrees` (0 is up), easing out and in."""

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


# Prime, so that the noise of no two channels repeats together.
NOISE_LENGTH = 4093


@dataclass(frozen=True)
class Built:
    """A kernel device of a simulated pad, with the true meaning of its codes."""

    description: Description
    wiring: Wiring


@dataclass(frozen=True)
class Traits:
    """Description of a simulated pad.

    Attributes:
        fingers: fingers of its controls, where unusual, unless a card overrides them.
        battery: charge in percent; -1 for a pad on its cable.
        built: the device with its buttons; by the kernel's gamepad document unless given.
        noise: standard deviation of a stick axis at rest, as a part of full deflection.
        reach: deflection of fully pushed sticks.
        bend: power applied to a push; below 1 the first part of a push jumps.
        rest: position of a released stick axis, by channel.
        jitter_us: jitter of a frame's time.
    """

    name: str
    controls: tuple[str, ...]
    rate_hz: int = 250
    noise: float = 0.004
    reach: float = 1.0
    bend: float = 1.0
    rest: tuple[tuple[str, float], ...] = ()
    jitter_us: int = 300
    axis_steps: int = 2047
    fingers: tuple[tuple[str, Finger], ...] = ()
    battery: int = -1
    built: Built | None = None

    def devices(self) -> tuple[Built, ...]:
        """The kernel devices of the pad: the one with the buttons, then those of motion and surface."""
        description = describe_canonical(self.name, self.controls)
        main = self.built or Built(description, wiring_of(description))
        parts = {"motion": describe_motion(self.name), "surface": describe_surface(self.name)}
        others = (part for control, part in parts.items() if control in self.controls)
        return (main, *(Built(part, wiring_of(part)) for part in others))


class SimulatedPad:
    """Plays gestures from `start_us` on, repeatedly unless `once`.

    Attributes:
        traits: description of the pad.
        descriptions: descriptions of its kernel devices, the one with the buttons first.
        by_hand: channels held by hand; None during the demo.
        plugged: whether the pad is plugged in.
        tap: receives the events of the device with the buttons.

    Raises:
        ProfileError: its card has faults.
    """

    def __init__(
        self, key: str, traits: Traits, gestures: Sequence[Gesture], length_s: float, start_us: int, once: bool = False
    ) -> None:
        self.key = f"simulated:{key}"
        self.by_hand: dict[str, float] | None = None
        self._hands: deque[dict[str, float]] = deque()  # states set since the last frame, one frame each
        self.plugged = True
        self.tap: Tap | None = None
        self.battery = traits.battery
        self.traits = traits
        built = traits.devices()
        self.descriptions = tuple(device.description for device in built)
        self._encoders = [Encoder(device.wiring) for device in built]
        self._channels = [channel for name in traits.controls for channel in CONTROL_BY_NAME[name].channels]
        self.wire()
        self._in_second: dict[int, list[Gesture]] = {}
        for gesture in sorted(gestures, key=lambda gesture: gesture.start_s):
            for second in range(int(gesture.start_s), int(gesture.end_s) + 1):
                self._in_second.setdefault(second, []).append(gesture)
        self._length_us = round(length_s * US_PER_SECOND)
        self._start_us = start_us
        self._once = once
        self._random = random.Random(traits.name)
        # Drawn once: random numbers for each frame would cost more than playing it.
        self._noise = [self._random.gauss(0.0, 1.0) for _ in range(NOISE_LENGTH)]
        self._noise_at = 0
        self._untouched = {channel: AT_REST[channel] for channel in self._channels} | dict(traits.rest)
        self._noisy = [
            (channel, noise, 1.0 if channel.startswith(("left_stick", "right_stick")) else 2000.0)
            for channel in self._channels
            if (noise := self._noise_of(channel))
        ]
        sticks = [control for name in traits.controls if (control := CONTROL_BY_NAME[name]).kind is Kind.STICK]
        is_worn = (traits.reach, traits.bend) != (1.0, 1.0)
        self._worn = [control.channels[:2] for control in sticks] if is_worn else []
        self._count = 0
        self._due_us = start_us

    def wire(self) -> None:
        """Reads the pad's card again.

        Raises:
            ProfileError: the card has faults.
        """
        known = [known_as(description) for description in self.descriptions]
        named = {control for one in known for control in one.wiring.controls}
        self.name = known[0].name
        self.printed = known[0].printed
        self.fingers = {**dict(self.traits.fingers), **known[0].fingers}
        self.menu = known[0].menu
        self.is_guessed = known[0].is_guessed
        self._gyro_bias = known[0].gyro_bias
        self.trim = known[0].trim
        self.controls = tuple(control.name for control in CONTROLS if control.name in named)
        self._ways = [
            (encoder, Decoder(one.wiring, one.source is Source.CARD))
            for encoder, one in zip(self._encoders, known, strict=True)
        ]
        self._fresh = True
        self._last = dict.fromkeys(self._channels, nan)  # makes the next frame contain the whole state

    def hold(self, values: Mapping[str, float]) -> None:
        """Holds these channels by hand and releases all others, which ends the demo.

        Each state lasts for at least one frame, so that no tap is lost.
        """
        self.by_hand = {
            channel: max(-_FURTHEST, min(value, _FURTHEST))
            for channel, value in values.items()
            if channel in self._untouched
        }
        if len(self._hands) == MAX_HANDS:
            self._hands.pop()
        self._hands.append(self.by_hand)

    def resume_demo(self) -> None:
        """Continues the demo."""
        self.by_hand = None
        self._hands.clear()

    @property
    def is_automatic(self) -> bool:
        """Whether the demo is playing."""
        return self.by_hand is None

    @property
    def away(self) -> tuple[str, ...]:
        """Controls that may rest elsewhere than the codes suggest."""
        return tuple(control for _, decoder in self._ways for control in decoder.away)

    @property
    def gyro_bias(self) -> Bias | None:
        """Bias of the gyro by the card."""
        return self._gyro_bias

    def keep_gyro_bias(self, bias: Bias) -> None:
        """Does nothing: a simulated pad always behaves the same, and its card is left alone."""

    def filenos(self) -> tuple[int, ...]:
        """Returns no descriptors: the pad is time-driven."""
        return ()

    def due_us(self) -> int:
        """Returns when the next frame is due."""
        return self._due_us

    def positions(self) -> dict[int, int]:
        """Returns the positions of the axes of the device with the buttons."""
        return self._encoders[0].positions()

    def packets(self, now_us: int) -> Iterator[tuple[int, list[list[Event]]]]:
        """Yields the events up to now, frame by frame with their time, as a list for each device."""
        for done in self._make_frames(now_us):
            yield done.t_us, [encoder.encode(done) for encoder in self._encoders]

    def read(self, now_us: int, fd: int | None = None) -> list[Frame]:  # noqa: ARG002 - it has none
        """Returns the frames up to now.

        Raises:
            PadGone: unplugged, or at the end of a demo played once.
        """
        if not self.plugged:
            raise PadGone(Code.UNPLUGGED, pad=self.name)
        if self._once and self._due_us - self._start_us > self._length_us:
            raise PadGone(Code.PERFORMANCE_OVER)
        frames = []
        for done in self._make_frames(now_us):
            if self.tap is not None:
                self.tap(self._encoders[0].encode(done))
            values: dict[str, float] = {}
            for encoder, decoder in self._ways:
                changes = encoder.changes(done.values)
                if self._fresh:
                    decoder.begin({code: value for kind, code, value in changes if kind == EV_ABS})
                decoder.read(values, changes, done.t_us)
            self._fresh = False
            if values:
                frames.append(Frame(done.t_us, values))
        return frames

    def set_grabbed(self, grabbed: bool) -> None:
        """Does nothing: no other program can read the pad."""

    def show_player(self, number: int) -> None:
        """Does nothing: the pad has no lights."""

    def rumble(self, pattern: Sequence[int]) -> None:
        """Does nothing: the pad has no motors."""

    def has_grown(self) -> bool:
        """Returns False: all devices exist from the beginning."""
        return False

    def close(self) -> None:
        """Does nothing: no device is open."""

    def _make_frames(self, now_us: int) -> Iterator[Frame]:
        """Yields the frames up to now in the controls' own channels."""
        last = self._last
        while self._due_us <= now_us:
            values = self._values((self._due_us - self._start_us) % self._length_us / US_PER_SECOND)
            changed = {channel: value for channel, value in values.items() if value != last[channel]}
            if changed:
                last.update(changed)
                yield Frame(self._due_us, changed)
            self._count += 1
            grid_us = self._start_us + self._count * US_PER_SECOND // self.traits.rate_hz
            jitter_us = self._random.randint(-self.traits.jitter_us, self.traits.jitter_us)
            self._due_us = max(self._due_us + 1, grid_us + jitter_us)

    def _values(self, t_s: float) -> dict[str, float]:
        values = self._untouched.copy()
        if self.by_hand is not None:
            values.update(self._hands.popleft() if self._hands else self.by_hand)
        else:
            for gesture in self._in_second.get(int(t_s), ()):
                if gesture.start_s <= t_s <= gesture.end_s:
                    for channel, value in gesture.at(t_s).items():
                        if channel in values:
                            values[channel] += value
        for stick in self._worn:
            self._apply_wear(values, *stick)
        steps, table, at = self.traits.axis_steps, self._noise, self._noise_at
        for channel, noise, limit in self._noisy:
            at += 1
            value = round((values[channel] + noise * table[at % NOISE_LENGTH]) * steps) / steps
            values[channel] = limit if value > limit else -limit if value < -limit else value
        self._noise_at = at
        return values

    def _apply_wear(self, values: dict[str, float], across: str, down: str) -> None:
        """Shortens a push from the stick's rest, as a worn stick does."""
        rest_x, rest_y = self._untouched[across], self._untouched[down]
        x, y = values[across] - rest_x, values[down] - rest_y
        radius = min(hypot(x, y), 1.0)
        if radius > 0.0:
            left = self.traits.reach * radius**self.traits.bend / radius
            values[across], values[down] = rest_x + x * left, rest_y + y * left

    def _noise_of(self, channel: str) -> float:
        """Returns the standard deviation of a channel; gyros have about a tenth of a degree a second."""
        control = next(
            CONTROL_BY_NAME[name] for name in self.traits.controls if channel in CONTROL_BY_NAME[name].channels
        )
        if control.kind is Kind.MOTION:
            return 0.1 if "gyro" in channel else 0.003
        return self.traits.noise if control.kind is Kind.STICK and not channel.endswith("click") else 0.0

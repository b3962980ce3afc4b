"""Several pads played as one: a pair of half pads, a stick and a board of buttons."""

from __future__ import annotations

from collections.abc import Sequence

from nub_shift.engine.values import Frame
from nub_shift.model.controls import CONTROLS, MOTION_CHANNELS
from nub_shift.model.pad.trim import PadTrim
from nub_shift.pads.known.cards import Bias
from nub_shift.pads.pad import Pad


class JoinedPad:
    """Plays its parts as one pad.

    The motion sensors of one part count, those of the others are ignored. An unplugged part unplugs the whole pad:
    otherwise held controls of the other parts would stay down for a hand that has lost half of its pad.
    """

    def __init__(self, key: str, name: str, parts: Sequence[Pad], moving: int, trim: PadTrim | None = None) -> None:
        """`trim` is the correction measured for the combination; it has priority over those of the parts."""
        self.key = key
        self.name = name
        self.parts = tuple(parts)
        self.printed = {control: text for part in parts for control, text in part.printed.items()}
        self.fingers = {control: finger for part in parts for control, finger in part.fingers.items()}
        self.is_guessed = any(part.is_guessed for part in parts)
        self.menu = next((part.menu for part in parts if part.menu), "")
        self._moving = moving
        self._own_trim = trim if trim is not None else PadTrim()
        named = {control for part in parts for control in part.controls if control != "motion"}
        named |= {"motion"} & {*parts[moving].controls}
        self.controls = tuple(control.name for control in CONTROLS if control.name in named)
        self._index_of = {fd: index for index, part in enumerate(parts) for fd in part.filenos()}

    @property
    def away(self) -> tuple[str, ...]:
        """Controls of all parts that are not at rest."""
        return tuple(control for part in self.parts for control in part.away)

    @property
    def is_automatic(self) -> bool:
        """Whether any part plays a demo or a recording."""
        return any(part.is_automatic for part in self.parts)

    @property
    def gyro_bias(self) -> Bias | None:
        """Bias of the part whose motion sensors count."""
        return self.parts[self._moving].gyro_bias

    @property
    def trim(self) -> PadTrim:
        """The combination's own correction, else that of each part for its sticks; the gate of the part whose motion
        sensors count.
        """
        sticks = {name: trim for part in self.parts for name, trim in part.trim.sticks.items() if name in part.controls}
        return PadTrim(
            sticks | self._own_trim.sticks, self._own_trim.gate_dps or self.parts[self._moving].trim.gate_dps
        )

    def keep_gyro_bias(self, bias: Bias) -> None:
        """Stores the bias with the part whose motion sensors count."""
        self.parts[self._moving].keep_gyro_bias(bias)

    def filenos(self) -> tuple[int, ...]:
        """Returns the descriptors of all parts."""
        return tuple(self._index_of)

    def due_us(self) -> int | None:
        """Returns when the next frame of a time-driven part is due."""
        times = [due for part in self.parts if (due := part.due_us()) is not None]
        return min(times) if times else None

    def read(self, now_us: int, fd: int | None = None) -> list[Frame]:
        """Returns the frames up to now, of one descriptor or of all, sorted by time.

        Raises:
            PadGone: a part was unplugged.
        """
        if fd is not None:
            index = self._index_of[fd]
            return self._frames(index, now_us, fd)
        frames = [frame for index in range(len(self.parts)) for frame in self._frames(index, now_us, None)]
        return sorted(frames, key=lambda frame: frame.t_us)

    def set_grabbed(self, grabbed: bool) -> None:
        """Grabs or ungrabs all parts.

        Raises:
            PadError: a part cannot be grabbed.
        """
        for part in self.parts:
            part.set_grabbed(grabbed)

    def show_player(self, number: int) -> None:
        """Lights the player lights of all parts."""
        for part in self.parts:
            part.show_player(number)

    def rumble(self, pattern: Sequence[int]) -> None:
        """Rumbles all parts."""
        for part in self.parts:
            part.rumble(pattern)

    def has_grown(self) -> bool:
        """Returns whether any part has further devices."""
        return any(part.has_grown() for part in self.parts)

    def close(self) -> None:
        """Closes all parts."""
        for part in self.parts:
            part.close()

    def _frames(self, index: int, now_us: int, fd: int | None) -> list[Frame]:
        frames = self.parts[index].read(now_us, fd)
        if index == self._moving:
            return frames
        kept = []
        for frame in frames:
            values = {channel: value for channel, value in frame.values.items() if channel not in MOTION_CHANNELS}
            if values:
                kept.append(Frame(frame.t_us, values))
        return kept

"""A pad that plays a recording at the speed at which it was made."""

from __future__ import annotations

from collections.abc import Sequence

from nub_shift.engine.values import Frame
from nub_shift.model.messages import Code
from nub_shift.model.pad.trim import PadTrim
from nub_shift.pads.kernel.decoder import replayed
from nub_shift.pads.known.cards import known_as
from nub_shift.pads.pad import PadGone
from nub_shift.pads.recorded.recording import Recording


class RecordedPad:
    """Plays a recording once, from `start_us` on."""

    def __init__(self, recording: Recording, start_us: int) -> None:
        known = known_as(recording.description)
        self.key = f"recorded:{id(recording)}"
        self.name = known.name
        self.printed = known.printed
        self.fingers = known.fingers
        self.menu = known.menu
        self.is_guessed = known.is_guessed
        self.controls = known.wiring.controls
        first_us = recording.events[0].t_us if recording.events else 0
        self._frames = [
            Frame(frame.t_us - first_us + start_us, frame.values) for frame in replayed(known.wiring, recording.events)
        ]
        self._next = 0

    @property
    def away(self) -> tuple[str, ...]:
        """None: a recording does not tell how it began."""
        return ()

    @property
    def performs(self) -> bool:
        """Yes: nobody's hand is on it now."""
        return True

    @property
    def gyro_bias(self) -> None:
        """Not known."""

    @property
    def trim(self) -> PadTrim:
        """Nothing: whose pad it was is not known."""
        return PadTrim()

    def keep_gyro_bias(self, bias: tuple[float, float, float]) -> None:
        """It is no pad that comes back."""

    def filenos(self) -> tuple[int, ...]:
        """None: it goes by time."""
        return ()

    def due_us(self) -> int | None:
        """When the next frame is there."""
        return self._frames[self._next].t_us if self._next < len(self._frames) else 0

    def read(self, now_us: int, fd: int | None = None) -> list[Frame]:  # noqa: ARG002 - it has none
        """The frames up to now; raises PadGone after the last."""
        if self._next >= len(self._frames):
            raise PadGone(Code.RECORDING_OVER)
        first = self._next
        while self._next < len(self._frames) and self._frames[self._next].t_us <= now_us:
            self._next += 1
        return self._frames[first : self._next]

    def set_grabbed(self, grabbed: bool) -> None:
        """There is nobody to keep it from."""

    def show_player(self, number: int) -> None:
        """It has no lights."""

    def rumble(self, pattern: Sequence[int]) -> None:
        """It has no motors."""

    def has_grown(self) -> bool:
        """All its devices are there from the beginning."""
        return False

    def close(self) -> None:
        """There is nothing to let go."""

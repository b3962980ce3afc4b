"""A pad that plays a recording at its original speed."""

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
        """Empty: the state at the beginning is not recorded."""
        return ()

    @property
    def is_automatic(self) -> bool:
        """True: no hand is on the pad now."""
        return True

    @property
    def gyro_bias(self) -> None:
        """None: unknown."""

    @property
    def trim(self) -> PadTrim:
        """No correction: the recorded pad is unknown."""
        return PadTrim()

    def keep_gyro_bias(self, bias: tuple[float, float, float]) -> None:
        """Does nothing: the recording has no card."""

    def filenos(self) -> tuple[int, ...]:
        """Returns no descriptors: the pad is time-driven."""
        return ()

    def due_us(self) -> int | None:
        """Returns when the next frame is due."""
        return self._frames[self._next].t_us if self._next < len(self._frames) else 0

    def read(self, now_us: int, fd: int | None = None) -> list[Frame]:  # noqa: ARG002 - it has none
        """Returns the frames up to now.

        Raises:
            PadGone: after the last frame.
        """
        if self._next >= len(self._frames):
            raise PadGone(Code.RECORDING_OVER)
        first = self._next
        while self._next < len(self._frames) and self._frames[self._next].t_us <= now_us:
            self._next += 1
        return self._frames[first : self._next]

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

"""One pad with one profile in play, and the switch between rehearsal and live."""

from __future__ import annotations

from collections.abc import Callable
from contextlib import suppress

from nub_shift import __version__
from nub_shift.engine.engine import Engine
from nub_shift.engine.program import Program
from nub_shift.engine.values import Frame, ProfileRequest
from nub_shift.engine.values import Output as EngineOutput
from nub_shift.outputs.output import Output, OutputError
from nub_shift.pads.pad import Pad, PadError, PadGone
from nub_shift.runner.codec import PROTOCOL
from nub_shift.runner.messages import PadState, State
from nub_shift.runner.telemetry import TelemetryFeed

RETRY_US = 1_000_000


class Seat:
    """Moves frames from a pad through an engine to an output.

    Attributes:
        feeds: telemetry subscribers.
        over: set when the pad has nothing more to give and none will come back (a recording's end).
    """

    def __init__(
        self,
        program: Program,
        open_pad: Callable[[], Pad],
        open_output: Callable[[], Output],
        output_name: str,
        pad_returns: bool,
        tell: Callable[[str], None],
    ) -> None:
        self.feeds: list[TelemetryFeed] = []
        self.over = False
        self.values: dict[str, float] = {}
        self.live = False
        self._program = program
        self._engine = Engine(program)
        self._open_pad = open_pad
        self._open_output = open_output
        self._output_name = output_name
        self._output: Output | None = None
        self._pad: Pad | None = None
        self._pad_returns = pad_returns
        self._retry_us = 0
        self._missing = "no pad yet"
        self._message = ""
        self._tell = tell

    @property
    def pad(self) -> Pad | None:
        """The pad, while one is connected."""
        return self._pad

    def due_us(self) -> int | None:
        """When `work` wants to be called, though nothing may be readable."""
        if self._pad is None:
            return self._retry_us
        times = [time for time in (self._pad.due_us(), self._engine.deadline()) if time is not None]
        return min(times) if times else None

    def work(self, now_us: int, readable: bool) -> None:
        """Takes what the pad has and lets time pass."""
        if self._pad is None:
            self._look_for_pad(now_us)
            return
        due = self._pad.due_us()
        if readable or (due is not None and due <= now_us):
            try:
                for frame in self._pad.read(now_us):
                    self._take(frame)
            except PadGone as gone:
                self._lose_pad(now_us, str(gone))
                return
        self._send(self._engine.advance(now_us))

    def go(self, live: bool, now_us: int) -> None:
        """Goes live or back to rehearsal; whatever is down is released first.

        Raises:
            OutputError: the output cannot be opened; the seat stays in rehearsal.
        """
        if live is self.live:
            return
        if live and self._output is None:
            self._output = self._open_output()
        self._send(self._engine.stop(now_us))
        self.live = live
        self._grab()
        self._send(self._engine.resume(now_us))
        self._note_change()

    def load(self, program: Program, now_us: int) -> None:
        """Goes on with another profile. The pad's frames wait in the kernel meanwhile."""
        self._program = program
        self._send(self._engine.replace(program, now_us))
        self._note_change()

    def close(self, now_us: int) -> None:
        """Releases everything and lets pad and output go, whatever fails on the way."""
        try:
            self._send(self._engine.stop(now_us))
        finally:
            try:
                if self._output is not None:
                    self._output.close()
            finally:
                if self._pad is not None:
                    self._pad.close()
                    self._pad = None

    def state(self) -> State:
        """A look at everything."""
        engine = self._engine.state()
        name, controls = (self._pad.name, self._pad.controls) if self._pad is not None else ("", ())
        pad = PadState(name, controls, "" if self._pad is not None else self._missing)
        return State(
            PROTOCOL,
            __version__,
            self._program.profile.title,
            self.live,
            self._output_name,
            pad,
            engine.layers,
            engine.slots,
            engine.down,
            engine.toggles,
            engine.carousels,
            self._message,
        )

    def _take(self, frame: Frame) -> None:
        self.values.update(frame.values)
        for feed in self.feeds:
            feed.note_frame(frame)
        self._send(self._engine.feed(frame))

    def _send(self, outputs: list[EngineOutput]) -> None:
        if not outputs:
            return
        if self.live and self._output is not None:
            try:
                self._output.send(outputs)
            except OutputError as error:
                self._give_up_output(str(error))
        for feed in self.feeds:
            feed.note_outputs(outputs)
        for output in outputs:
            if isinstance(output, ProfileRequest):
                self._say(f"the profile {output.title!r} is asked for")

    def _give_up_output(self, why: str) -> None:
        """The output has failed for good: back to rehearsal, where nothing can be stuck."""
        self.live = False
        output, self._output = self._output, None
        self._say(f"back to rehearsal: {why}")
        if output is not None:
            with suppress(OutputError):  # it has just been said that it is gone
                output.close()
        self._grab()
        self._note_change()

    def _look_for_pad(self, now_us: int) -> None:
        if now_us < self._retry_us:
            return
        try:
            self._pad = self._open_pad()
        except PadError as error:
            if str(error) != self._missing:
                self._missing = str(error)
                self._say(f"waiting for a pad: {error}")
                self._note_change()
            self._retry_us = now_us + RETRY_US
            return
        self._grab()
        self._note_change()
        self.work(now_us, readable=True)

    def _lose_pad(self, now_us: int, why: str) -> None:
        pad, self._pad = self._pad, None
        self._send(self._engine.forget_pad(now_us))
        self.values.clear()
        if pad is not None:
            pad.close()
        self._missing = why
        self.over = not self._pad_returns
        self._retry_us = now_us + RETRY_US
        self._say(why)
        self._note_change()

    def _grab(self) -> None:
        if self._pad is None:
            return
        try:
            self._pad.set_grabbed(self.live)
        except PadError as error:
            self._say(str(error))

    def _say(self, message: str) -> None:
        self._message = message
        self._tell(message)

    def _note_change(self) -> None:
        for feed in self.feeds:
            feed.note_change()

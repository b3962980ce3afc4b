"""Composes a runner from its options and plays."""

from __future__ import annotations

import selectors
import sys
from collections.abc import Callable
from dataclasses import dataclass
from pathlib import Path

from nub_shift.engine.program import Program
from nub_shift.engine.values import US_PER_SECOND
from nub_shift.model.profile import Profile
from nub_shift.model.session_layout import session_layout
from nub_shift.outputs.output import Output, OutputError
from nub_shift.pads.pad import Pad, PadError
from nub_shift.runner.clock import monotonic_us
from nub_shift.runner.errors import CannotPlay
from nub_shift.runner.loop import StopSignals, run_loop
from nub_shift.runner.seat import Seat
from nub_shift.runner.server import Server


@dataclass(frozen=True)
class Options:
    """How to play.

    Attributes:
        pad: simulated[:NAME], evdev[:MATCH] or recorded:FILE.
        output: uinput, x11 or print.
        seconds: when to end; None is never.
        until_hangup: end when the last client has hung up, as a window's own runner does.
    """

    profile: Profile
    pad: str
    output: str
    rehearse: bool
    seconds: float | None
    socket: Path
    until_hangup: bool = False


def play(options: Options, tell: Callable[[str], None]) -> None:
    """Plays until told to stop. `tell` gets the lines meant for the person.

    Raises:
        CannotPlay: the pad that is asked for cannot exist, the output cannot be opened, or the socket not be made.
    """
    try:
        _play(options, tell)
    except (OutputError, PadError) as error:
        raise CannotPlay(str(error)) from None


def _play(options: Options, tell: Callable[[str], None]) -> None:
    start_us = monotonic_us()
    end_us = None if options.seconds is None else start_us + round(options.seconds * US_PER_SECOND)
    opener = pad_opener(options.pad)
    with selectors.SelectSelector() as selector:
        stop = StopSignals(selector)
        seat = Seat(
            Program(options.profile, session_layout),
            opener,
            output_opener(options.output, start_us),
            options.output,
            pad_returns=not options.pad.startswith("recorded"),
            tell=tell,
        )
        try:
            server = _serve(options, seat, selector)
            try:
                seat.work(start_us, readable=False)
                seat.go(not options.rehearse, monotonic_us())
                pad = seat.pad.name if seat.pad is not None else "no pad yet"
                mode = "live" if seat.live else "rehearsal"
                tell(f"ready: {options.profile.title} | {pad} | {options.output}, {mode} | {options.socket}")
                run_loop(seat, server, stop, selector, end_us)
            finally:
                server.close()
        finally:
            try:
                seat.close(monotonic_us())
            finally:
                stop.close()


def _serve(options: Options, seat: Seat, selector: selectors.BaseSelector) -> Server:
    try:
        return Server(options.socket, seat, selector, monotonic_us, options.until_hangup)
    except OSError as error:
        raise CannotPlay(f"{error.filename or options.socket}: {(error.strerror or str(error)).lower()}") from None


def pad_opener(spec: str) -> Callable[[], Pad]:
    """What opens the pad of `spec`. Device libraries are imported only when they are needed.

    Raises:
        PadError: there is no such kind of pad, simulated pad, or recording.
    """
    kind, _, rest = spec.partition(":")
    match kind:
        case "simulated":
            from nub_shift.demo.pads import simulated_pad

            return lambda: simulated_pad(rest, monotonic_us())
        case "evdev":
            from nub_shift.pads.evdev_pad import open_pad

            return lambda: open_pad(rest)
        case "recorded":
            from nub_shift.pads.recorded import RecordedPad
            from nub_shift.pads.recording import RecordingError, read_recording

            try:
                recording = read_recording(Path(rest))
            except RecordingError as error:
                raise PadError(str(error)) from None
            return lambda: RecordedPad(recording, monotonic_us())
        case _:
            raise PadError(f"--pad: there is no kind {kind!r}, expected simulated, evdev or recorded:FILE")


def output_opener(name: str, start_us: int) -> Callable[[], Output]:
    """What opens the output of that name: uinput, x11 or print.

    Raises:
        OutputError: there is no such output.
    """

    def open_output() -> Output:
        match name:
            case "uinput":
                from nub_shift.outputs.uinput import UInputOutput

                return UInputOutput()
            case "x11":
                from nub_shift.outputs.x11 import X11Output

                return X11Output()
            case _:
                from nub_shift.outputs.printing import PrintOutput

                return PrintOutput(sys.stdout.buffer, start_us)

    if name not in ("uinput", "x11", "print"):
        raise OutputError(f"there is no output {name!r}, expected uinput, x11 or print")
    return open_output

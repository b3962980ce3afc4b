"""A recording through the engine in virtual time."""

from __future__ import annotations

import gc
from collections.abc import Iterator
from pathlib import Path

from nub_shift.engine.engine import Engine
from nub_shift.engine.program import Program
from nub_shift.engine.values import Output, output_line
from nub_shift.model.profile import Profile
from nub_shift.model.session_layout import session_layout
from nub_shift.pads.decoder import replayed
from nub_shift.pads.gamepad import wiring_of
from nub_shift.pads.recording import Recording, RecordingError, read_recording
from nub_shift.runner.errors import CannotPlay


def replay_file(path: Path, profile: Profile) -> Iterator[bytes]:
    """`replay_lines` of a recording file.

    Raises:
        CannotPlay: the file is no recording.
    """
    try:
        recording = read_recording(path)
        gc.freeze()  # a recording is large, lives to the end, and need not be searched for garbage again and again
        return replay_lines(recording, profile)
    except RecordingError as error:
        raise CannotPlay(str(error)) from None


def replay_lines(recording: Recording, profile: Profile) -> Iterator[bytes]:
    """The outputs as JSON lines, times from the recording's first event; at its end everything is released."""
    start_us = recording.events[0].t_us if recording.events else 0
    return (output_line(output, start_us) for output in replay_outputs(recording, profile))


def replay_outputs(recording: Recording, profile: Profile) -> Iterator[Output]:
    """The outputs one by one: before each frame time passes from deadline to deadline."""
    engine = Engine(Program(profile, session_layout))
    for frame in replayed(wiring_of(recording.description), recording.events):
        while (deadline := engine.deadline()) is not None and deadline <= frame.t_us:
            yield from engine.advance(deadline)
        yield from engine.feed(frame)
    if recording.events:
        end_us = recording.events[-1].t_us
        while (deadline := engine.deadline()) is not None and deadline <= end_us:
            yield from engine.advance(deadline)
        yield from engine.stop(end_us)

"""Replay of a recording through the engine in virtual time."""

from __future__ import annotations

import gc
from collections.abc import Iterator, Sequence
from heapq import merge
from pathlib import Path

from nub_shift.engine.engine import Engine
from nub_shift.engine.program import Program
from nub_shift.engine.values import Frame, Output, output_line
from nub_shift.keyboard.layout import LayoutSource, us_layout
from nub_shift.model.messages import Code
from nub_shift.model.profile.profile import Profile
from nub_shift.pads.kernel.decoder import replayed
from nub_shift.pads.known.cards import known_as
from nub_shift.pads.recorded.recording import Recording, RecordingError, read_recording
from nub_shift.runner.errors import CannotPlay


def replay_files(paths: Sequence[Path], profile: Profile, layout: LayoutSource = us_layout) -> Iterator[bytes]:
    """Replays the recordings of one pad's devices (motion sensors are a separate device) through a profile.

    Yields the outputs as JSON lines with times from the first event; ends with the release of everything.

    Raises:
        CannotPlay: a file is no recording.
    """
    try:
        recordings = [read_recording(path) for path in paths]
    except RecordingError as error:
        raise CannotPlay(Code.FILE_FAULTY, why=str(error)) from None
    gc.freeze()  # recordings are large and long-lived: not worth repeated garbage collection
    start_us = min((recording.events[0].t_us for recording in recordings if recording.events), default=0)
    return (output_line(output, start_us) for output in replay_outputs(recordings, profile, layout))


def replay_outputs(
    recordings: Sequence[Recording], profile: Profile, layout: LayoutSource = us_layout
) -> Iterator[Output]:
    """Yields the outputs: time passes from deadline to deadline between frames."""
    engine = Engine(Program(profile, layout))
    streams = [replayed(known_as(recording.description).wiring, recording.events) for recording in recordings]
    for frame in merge(*streams, key=_time) if len(streams) > 1 else streams[0]:
        while (deadline := engine.deadline()) is not None and deadline <= frame.t_us:
            yield from engine.advance(deadline)
        yield from engine.feed(frame)
    end_us = max((recording.events[-1].t_us for recording in recordings if recording.events), default=None)
    if end_us is not None:
        while (deadline := engine.deadline()) is not None and deadline <= end_us:
            yield from engine.advance(deadline)
        yield from engine.stop(end_us)


def _time(frame: Frame) -> int:
    return frame.t_us

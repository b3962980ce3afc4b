"""Recordings as pads."""

from __future__ import annotations

from collections.abc import Callable
from pathlib import Path

from nub_shift.model.messages import Code
from nub_shift.model.problems import ProfileError
from nub_shift.pads.known.cards import known_as
from nub_shift.pads.pad import PadError
from nub_shift.pads.recorded.recorded_pad import RecordedPad
from nub_shift.pads.recorded.recording import Recording, RecordingError, read_recording


def read(path: Path) -> Recording:
    """Reads a recording.

    Raises:
        PadError: the recording has faults.
    """
    try:
        return read_recording(path)
    except RecordingError as error:
        raise PadError(Code.FILE_FAULTY, why=str(error)) from None


def open_recording(path: Path) -> Callable[[int], RecordedPad]:
    """Returns a function that builds a pad which plays a recording from a given time on.

    Raises:
        PadError: the recording, or the card of its pad, has faults.
    """
    recording = read(path)
    try:
        known_as(recording.description)
    except ProfileError as error:
        raise PadError(Code.FILE_FAULTY, why=str(error)) from None
    return lambda start_us: RecordedPad(recording, start_us)

"""What a pad does in some seconds, collected for measuring."""

from __future__ import annotations

from pathlib import Path

from nub_shift.engine.values import US_PER_SECOND, Frame
from nub_shift.model.problems import ProfileError
from nub_shift.pads.pad import PadError, PadGone
from nub_shift.runner.clock import monotonic_us
from nub_shift.runner.errors import CannotPlay
from nub_shift.runner.watch import Watch


def collect(spec: str, seconds: float, rim: bool = False) -> list[Frame]:
    """The frames of a pad for so many seconds; of a simulated or recorded one without waiting for them.

    A simulated pad does what a person is asked for: it lies still, or goes round its rim.

    Raises:
        CannotPlay: there is no such pad, or it was unplugged.
    """
    kind, _, rest = spec.partition(":")
    try:
        match kind:
            case "simulated":
                from nub_shift.demo.pads import Doing, simulated_pad

                doing = Doing.RIM if rim else Doing.REST
                return simulated_pad(rest, 0, doing=doing).read(round(seconds * US_PER_SECOND))
            case "recorded":
                return _recorded(Path(rest), seconds)
            case "evdev":
                return _live(rest, seconds)
    except (PadError, PadGone, ProfileError) as error:
        raise CannotPlay(str(error)) from None
    raise CannotPlay(f"--pad: there is no kind {kind!r}, expected simulated, evdev or recorded:FILE")


def _recorded(path: Path, seconds: float) -> list[Frame]:
    from nub_shift.pads.recorded import RecordedPad
    from nub_shift.pads.recording import RecordingError, read_recording

    try:
        recording = read_recording(path)
    except RecordingError as error:
        raise PadError(str(error)) from None
    return RecordedPad(recording, 0).read(round(seconds * US_PER_SECOND)) if recording.events else []


def _live(match: str, seconds: float) -> list[Frame]:
    from nub_shift.pads.evdev_pad import open_pad

    pad = open_pad(match)
    watch = Watch()
    for fd in pad.filenos():
        watch.read(fd, lambda: None)
    end_us = monotonic_us() + round(seconds * US_PER_SECOND)
    frames: list[Frame] = []
    try:
        while (now_us := monotonic_us()) < end_us:
            frames += pad.read(now_us)
            watch.wait((end_us - now_us) / US_PER_SECOND)
    finally:
        pad.close()
    return frames

"""Frames of a pad over some seconds, for measuring."""

from __future__ import annotations

from typing import assert_never

from nub_shift.engine.values import US_PER_SECOND, Frame
from nub_shift.model.kinds import PadKind
from nub_shift.model.messages import Code
from nub_shift.model.problems import ProfileError
from nub_shift.pads.made_up.shapes import Doing, simulated_pad
from nub_shift.pads.pad import PadError, PadGone
from nub_shift.pads.spec import PadSpec, parse_spec
from nub_shift.protocol.clock import monotonic_us
from nub_shift.runner.errors import CannotPlay
from nub_shift.runner.pads.pad_registry import PadRegistry
from nub_shift.runner.pads.pad_search import PadSearch
from nub_shift.runner.watch import Watch


def capture(text: str, seconds: float, rim: bool = False) -> list[Frame]:
    """Returns the frames of a pad over some seconds; for a simulated or recorded pad without waiting.

    A simulated pad does what a person would be told to do: rest, or follow its rim.

    Raises:
        CannotPlay: there is no such pad, or it was unplugged.
    """
    try:
        spec = parse_spec(text)
        match spec.kind:
            case PadKind.EVDEV:
                return _live(spec, seconds)
            case PadKind.SIMULATED:
                doing = Doing.RIM if rim else Doing.REST
                return simulated_pad(spec.match, 0, doing=doing).read(round(seconds * US_PER_SECOND))
            case PadKind.RECORDED:
                from nub_shift.pads.recorded.recordings import open_recording

                recorded = open_recording(spec.file)(0)
                return recorded.read(round(seconds * US_PER_SECOND)) if recorded.due_us() is not None else []
            case _:
                assert_never(spec.kind)
    except (PadError, PadGone) as error:
        raise CannotPlay.of(error.message) from None
    except ProfileError as error:
        raise CannotPlay(Code.FILE_FAULTY, why=str(error)) from None


def _live(spec: PadSpec, seconds: float) -> list[Frame]:
    pad = PadSearch(PadRegistry(), spec).open()
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

"""Records a pad into a file."""

from __future__ import annotations

from collections.abc import Callable
from pathlib import Path

from nub_shift.engine.values import US_PER_SECOND
from nub_shift.model.kinds import PadKind
from nub_shift.pads.made_up.shapes import simulated_pad
from nub_shift.pads.pad import PadError
from nub_shift.pads.recording import write_events, write_header
from nub_shift.pads.spec import PadSpec, parse_spec
from nub_shift.protocol.clock import monotonic_us
from nub_shift.runner.errors import CannotPlay
from nub_shift.runner.loop import StopSignals
from nub_shift.runner.pad_registry import PadRegistry
from nub_shift.runner.pad_search import PadSearch
from nub_shift.runner.watch import Watch
from nub_shift.translation import tr


def record_pad(path: Path, text: str, seconds: float | None, tell: Callable[[str], None]) -> str:
    """Records until the time is up, the pad is gone, or a signal asks to stop; returns a line that says how much.

    Raises:
        CannotPlay: there is no such pad.
        OSError: the file cannot be written.
    """
    try:
        spec = parse_spec(text, (PadKind.SIMULATED, PadKind.EVDEV))
        if spec.kind is PadKind.SIMULATED:
            return _record_simulated(path, spec.match, seconds if seconds is not None else 60.0)
        return _record_evdev(path, spec, seconds, tell)
    except PadError as error:
        raise CannotPlay.of(error.message) from None


def _record_simulated(path: Path, name: str, seconds: float) -> str:
    """In virtual time: what the made-up pad would do in that many seconds. Every device has a file."""
    pad = simulated_pad(name, 0)
    packets = [packet for _, packet in pad.packets(round(seconds * US_PER_SECOND))]
    parts = [description.name.rpartition(" ")[2] for description in pad.descriptions[1:]]
    files = [path, *(path.with_stem(f"{path.stem}-{part}") for part in parts)]
    count = 0
    for number, (file, description) in enumerate(zip(files, pad.descriptions, strict=True)):
        events = [event for packet in packets for event in packet[number]]
        with file.open("w", encoding="utf-8") as stream:
            write_header(stream, description)
            write_events(stream, events, 0)
        count += len(events)
    return tr(
        "recorded {count} events of {pad} into {files}",
        count=count,
        pad=pad.name,
        files=tr(" and ").join(str(file) for file in files),
    )


def _record_evdev(path: Path, spec: PadSpec, seconds: float | None, tell: Callable[[str], None]) -> str:
    from nub_shift.pads.evdev_pad import EvdevPad

    pad = PadSearch(PadRegistry(), spec).look().singles[0].open()
    assert isinstance(pad, EvdevPad), "the kernel's pads are such"
    count = 0
    start_us: int | None = None
    end_us = None if seconds is None else monotonic_us() + round(seconds * US_PER_SECOND)
    with path.open("w", encoding="utf-8") as stream:
        watch = Watch()
        stop = StopSignals(watch)
        try:
            write_header(stream, pad.main.description)
            watch.read(pad.main.fd, lambda: None)
            tell(tr("recording {pad} into {path}; Ctrl+C ends it", pad=pad.name, path=path))
            over = False
            while not over:
                # What has happened by the time of the signal belongs to the recording: look once more before ending.
                over = stop.caught or (end_us is not None and monotonic_us() >= end_us)
                left_us = None if end_us is None else max(0, end_us - monotonic_us())
                timeout = 0.0 if over else None if left_us is None else left_us / US_PER_SECOND
                watch.wait(timeout)
                try:
                    events = pad.main.events()
                except OSError:
                    break
                if events:
                    start_us = events[0].t_us if start_us is None else start_us
                    write_events(stream, events, start_us)
                    count += len(events)
        finally:
            stop.close()
            pad.close()
    return tr("recorded {count} events of {pad} into {path}", count=count, pad=pad.name, path=path)

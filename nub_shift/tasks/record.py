"""Recording of a pad into a file."""

from __future__ import annotations

from collections.abc import Callable, Sequence
from contextlib import ExitStack
from pathlib import Path

from nub_shift.engine.values import US_PER_SECOND
from nub_shift.model.kinds import PadKind
from nub_shift.pads.description import Description
from nub_shift.pads.known.gamepad import is_motion, is_surface
from nub_shift.pads.made_up.shapes import simulated_pad
from nub_shift.pads.pad import PadError
from nub_shift.pads.recorded.recording import write_events, write_header
from nub_shift.pads.spec import PadSpec, parse_spec
from nub_shift.protocol.clock import monotonic_us
from nub_shift.runner.errors import CannotPlay
from nub_shift.runner.loop import StopSignals
from nub_shift.runner.pads.pad_registry import PadRegistry
from nub_shift.runner.pads.pad_search import PadSearch
from nub_shift.runner.watch import Watch
from nub_shift.store.atomic import require_regular
from nub_shift.translation import tr


def record_pad(path: Path, text: str, seconds: float | None, notify: Callable[[str], None]) -> str:
    """Records until the time limit, the unplug of the pad, or a signal; returns a summary line.

    Raises:
        CannotPlay: there is no such pad.
        OSError: the file cannot be written.
    """
    try:
        spec = parse_spec(text, (PadKind.SIMULATED, PadKind.EVDEV))
        if spec.kind is PadKind.SIMULATED:
            return _record_simulated(path, spec.match, seconds if seconds is not None else 60.0)
        return _record_evdev(path, spec, seconds, notify)
    except PadError as error:
        raise CannotPlay.of(error.message) from None


def _record_simulated(path: Path, name: str, seconds: float) -> str:
    """Records a simulated pad in virtual time, one file for each device; returns a summary line."""
    pad = simulated_pad(name, 0)
    packets = [packet for _, packet in pad.packets(round(seconds * US_PER_SECOND))]
    files = _files(path, pad.descriptions)
    count = 0
    for number, (file, description) in enumerate(zip(files, pad.descriptions, strict=True)):
        events = [event for packet in packets for event in packet[number]]
        with file.open("w", encoding="utf-8") as stream:
            write_header(stream, description)
            write_events(stream, events, 0)
        count += len(events)
    return _recorded(count, pad.name, files)


def _record_evdev(path: Path, spec: PadSpec, seconds: float | None, notify: Callable[[str], None]) -> str:
    from nub_shift.pads.kernel.evdev_pad import EvdevPad

    pad = PadSearch(PadRegistry(), spec).look().singles[0].open()
    assert isinstance(pad, EvdevPad), "the kernel's pads are such"
    files = _files(path, pad.descriptions)
    count = 0
    start_us: int | None = None
    end_us = None if seconds is None else monotonic_us() + round(seconds * US_PER_SECOND)
    watch = Watch()
    stop = StopSignals(watch)
    with ExitStack() as opened:
        opened.callback(pad.close)
        opened.callback(stop.close)
        streams = [opened.enter_context(file.open("w", encoding="utf-8")) for file in files]
        for stream, device in zip(streams, pad.devices, strict=True):
            write_header(stream, device.description)
            watch.read(device.fd, lambda: None)
        notify(tr("recording {pad} into {path}; Ctrl+C ends it", pad=pad.name, path=_listed(files)))
        over = False
        while not over:
            # Events before the signal belong to the recording, so one more read follows.
            over = stop.caught or (end_us is not None and monotonic_us() >= end_us)
            left_us = None if end_us is None else max(0, end_us - monotonic_us())
            watch.wait(0.0 if over else None if left_us is None else left_us / US_PER_SECOND)
            try:
                came = [device.events() for device in pad.devices]
            except OSError:
                break
            first = min((events[0].t_us for events in came if events), default=None)
            start_us = first if start_us is None else start_us
            for stream, events in zip(streams, came, strict=True):
                if start_us is not None:
                    write_events(stream, events, start_us)
                count += len(events)
    return _recorded(count, pad.name, files)


def _files(path: Path, descriptions: Sequence[Description]) -> list[Path]:
    """Returns the file of each device of a pad: the first has the given name, the others add their kind."""
    files = [path]
    for number, description in enumerate(descriptions[1:], start=2):
        part = "motion" if is_motion(description) else "surface" if is_surface(description) else str(number)
        files.append(path.with_stem(f"{path.stem}-{part}"))
    for file in files:
        require_regular(file)
    return files


def _listed(files: Sequence[Path]) -> str:
    return tr(" and ").join(str(file) for file in files)


def _recorded(count: int, pad: str, files: Sequence[Path]) -> str:
    return tr("recorded {count} events of {pad} into {files}", count=count, pad=pad, files=_listed(files))

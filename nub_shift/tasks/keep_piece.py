"""Storage of recorded movements as an ordinary recording."""

from __future__ import annotations

from collections.abc import Iterable, Mapping
from io import StringIO
from pathlib import Path

from nub_shift.engine.values import Frame
from nub_shift.model.controls import CONTROLS, Kind
from nub_shift.pads.known.gamepad import wiring_of
from nub_shift.pads.made_up.encoder import Encoder, describe_canonical
from nub_shift.pads.recorded.recording import write_events, write_header
from nub_shift.store.atomic import write_text

_KINDS = {Kind.STICK, Kind.TRIGGER, Kind.SLIDER}


def keep_piece(path: Path, name: str, rows: Iterable[tuple[int, Mapping[str, float]]]) -> None:
    """Writes rows (time in microseconds, value by channel) as the events of a device by the kernel's gamepad document.

    Contains sticks, triggers and sliders; a surface would be a separate device.

    Raises:
        OSError: the file cannot be written.
    """
    controls = [control.name for control in CONTROLS if control.kind in _KINDS]
    device = describe_canonical(name, controls)
    encoder = Encoder(wiring_of(device))
    stream = StringIO()
    write_header(stream, device)
    start_us: int | None = None
    last: dict[str, float] = {}
    for t_us, values in rows:
        start_us = t_us if start_us is None else start_us
        changed = {channel: value for channel, value in values.items() if last.get(channel) != value}
        last.update(changed)
        write_events(stream, encoder.encode(Frame(t_us, changed)), start_us)
    write_text(path, stream.getvalue())

"""Recordings of pads in the text event format of the Linux input tools, version 1.3.

A device description (N: name, I: ids, P: properties, B: bits of one event type, A: an axis) precedes the events (E:
seconds.microseconds type code value). Numbers are hexadecimal except for axes, times and values.
"""

from __future__ import annotations

import re
from collections.abc import Iterable
from dataclasses import dataclass
from pathlib import Path
from typing import TextIO

from nub_shift.engine.values import US_PER_SECOND
from nub_shift.pads.description import Description
from nub_shift.pads.input_codes import EV_ABS, EV_FF, EV_KEY, EV_SYN, Axis, Event
from nub_shift.store.reading import read_plain
from nub_shift.translation import tr

_EVENT = re.compile(r"E: (\d{1,11})\.(\d{6}) ([0-9a-fA-F]{1,4}) ([0-9a-fA-F]{1,4}) (-?\d{1,10})", re.ASCII)
# About the size of a day of a pad with motion sensors.
MAX_BYTES = 400_000_000
# Bound on the length, so that turning adds up to a finite amount.
MAX_LENGTH_S = 86_400
_MAX_INT = 2**31
# Bytes of the bit fields of a type's codes (input-event-codes.h), in rows of eight.
_BYTES = {EV_KEY: 96, EV_FF: 16}
_OTHER_BYTES = 8


class RecordingError(Exception):
    """A recording cannot be read; the text names the line and what would be right."""


@dataclass(frozen=True)
class Recording:
    """A device and its events. Event times are as recorded, never falling."""

    description: Description
    events: list[Event]


def read_recording(path: Path) -> Recording:
    """Reads a recording.

    Raises:
        RecordingError: the file is unreadable or has a malformed line.
    """
    try:
        data = read_plain(path, MAX_BYTES)
        text = data.decode() if data is not None and len(data) <= MAX_BYTES else None
    except (OSError, UnicodeDecodeError) as error:
        why = error.strerror if isinstance(error, OSError) else tr("not a text")
        raise RecordingError(
            tr("{path}: file: cannot be read ({why}), expected a recording", path=path, why=why)
        ) from None
    if text is None:
        raise RecordingError(tr("{path}: file: is no plain file, or too large, expected a recording", path=path))
    return parse_recording(text, str(path))


def parse_recording(text: str, source: str = "recording") -> Recording:
    """Parses the text of a recording, named `source` in errors.

    Raises:
        RecordingError: as for `read_recording`.
    """
    header = _Header()
    events: list[Event] = []
    for number, line in enumerate(text.splitlines(), 1):
        line = line.split("#", 1)[0].rstrip()
        if not line:
            continue
        try:
            if line.startswith("E:"):
                events.append(_event(line, events))
            else:
                header.take(line)
        except (ValueError, IndexError) as error:
            wrong = str(error) if isinstance(error, _LineError) else tr('"{line}" does not fit', line=line[:60])
            raise RecordingError(
                tr(
                    "{source}: line {number}: {wrong}, expected {expected}",
                    source=source,
                    number=number,
                    wrong=wrong,
                    expected=_expected(line),
                )
            ) from None
    if not header.name:
        raise RecordingError(
            tr('{source}: file: has no device description, expected a line "N: name" before the events', source=source)
        )
    return Recording(header.description(), events)


def write_header(stream: TextIO, device: Description) -> None:
    """Writes the device description that precedes the events."""
    stream.write("# EVEMU 1.3\n")
    stream.write(f"N: {device.name}\n")
    stream.write(f"I: {device.bus:04x} {device.vendor:04x} {device.product:04x} {device.version:04x}\n")
    for row in _byte_rows(device.props, _OTHER_BYTES):
        stream.write(f"P: {row}\n")
    types = {EV_SYN: frozenset({0}), **device.other}
    if device.keys:
        types[EV_KEY] = device.keys
    if device.axes:
        types[EV_ABS] = frozenset(device.axes)
    for kind, codes in sorted(types.items()):
        for row in _byte_rows(codes, _BYTES.get(kind, _OTHER_BYTES)):
            stream.write(f"B: {kind:02x} {row}\n")
    for code, axis in sorted(device.axes.items()):
        stream.write(f"A: {code:02x} {' '.join(str(number) for number in axis)}\n")


def write_events(stream: TextIO, events: Iterable[Event], start_us: int) -> None:
    """Writes events with times relative to `start_us`."""
    for event in events:
        seconds, micros = divmod(max(0, event.t_us - start_us), US_PER_SECOND)
        stream.write(f"E: {seconds}.{micros:06d} {event.type:04x} {event.code:04x} {event.value:04d}\n")


class _LineError(ValueError):
    pass


class _Header:
    """Collects the lines of a device description."""

    def __init__(self) -> None:
        self.name = ""
        self._ids = [0, 0, 0, 0]
        self._props: list[int] = []
        self._bits: dict[int, list[int]] = {}
        self._axes: dict[int, Axis] = {}

    def take(self, line: str) -> None:
        mark, _, rest = line.partition(":")
        words = rest.split()
        match mark:
            case "N":
                self.name = rest.strip()
            case "I":
                self._ids = [_hex(word, 0x10000) for word in words[:4]]
                if len(self._ids) < 4:
                    raise ValueError
            case "P":
                self._props = _more(self._props, words, _OTHER_BYTES)
            case "B":
                kind = _hex(words[0], 0x20)
                self._bits[kind] = _more(self._bits.get(kind, []), words[1:], _BYTES.get(kind, _OTHER_BYTES))
            case "A":
                low, high, *rest_of_axis = (_int(word) for word in words[1:])
                self._axes[_hex(words[0], 8 * _OTHER_BYTES)] = Axis(low, high, *rest_of_axis[:3])
            case "L" | "S":
                pass  # states of lights and switches are not used
            case _:
                raise _LineError(tr('"{line}" is no line of this format', line=line[:60]))

    def description(self) -> Description:
        codes = {kind: _codes(rows) for kind, rows in self._bits.items()}
        keys = codes.pop(EV_KEY, frozenset())
        codes.pop(EV_ABS, None)
        codes.pop(EV_SYN, None)
        other = {kind: found for kind, found in codes.items() if found}
        bus, vendor, product, version = self._ids
        return Description(
            self.name, bus, vendor, product, version, "", "", keys, self._axes, _codes(self._props), other
        )


def _event(line: str, before: list[Event]) -> Event:
    found = _EVENT.fullmatch(line)
    if found is None:
        raise ValueError
    seconds, micros, kind, code, value = found.groups()
    event = Event(int(seconds), int(micros), int(kind, 16), int(code, 16), _int(value))
    if before and event[:2] < before[-1][:2]:
        raise _LineError(tr("the time goes back"))
    if before and event.seconds - before[0].seconds > MAX_LENGTH_S:
        raise _LineError(tr("this is more than a day after the first event"))
    return event


def _hex(word: str, end: int) -> int:
    """Parses a hexadecimal number below `end`.

    Raises:
        ValueError: malformed.
    """
    number = int(word, 16)
    if not 0 <= number < end:
        raise ValueError
    return number


def _int(word: str) -> int:
    """Parses a number of the kernel.

    Raises:
        ValueError: malformed.
    """
    number = int(word)
    if not -_MAX_INT <= number < _MAX_INT:
        raise ValueError
    return number


def _more(row: list[int], words: list[str], size: int) -> list[int]:
    """Returns the bytes so far with those of a line appended.

    Raises:
        ValueError: more bytes than the kernel has bits for.
    """
    row = row + [_hex(word, 0x100) for word in words]
    if len(row) > size:
        raise ValueError
    return row


def _expected(line: str) -> str:
    forms = {
        "E": tr('"E: seconds.microseconds type code value" with times that do not fall'),
        "I": tr('"I: bus vendor product version"'),
        "A": tr('"A: code minimum maximum fuzz flat resolution"'),
        "B": tr('"B: type" and bytes'),
        "P": tr('"P:" and bytes'),
    }
    return forms.get(line[:1], tr("one of the marks N, I, P, B, A, E before a colon"))


def _codes(rows: list[int]) -> frozenset[int]:
    return frozenset(8 * index + bit for index, byte in enumerate(rows) for bit in range(8) if byte >> bit & 1)


def _byte_rows(codes: Iterable[int], size: int) -> list[str]:
    data = bytearray(size)
    for code in codes:
        data[code // 8] |= 1 << code % 8
    return [data[start : start + 8].hex(" ") for start in range(0, size, 8)]

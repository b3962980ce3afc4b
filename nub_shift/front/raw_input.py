"""Raw motion of mice, before any acceleration, and raw keys, as an X server tells them whatever window is in front.

Two requests and one event of its input extension, which the library does not take apart. The protocol's text is
XI2proc.txt: XIQueryVersion, XISelectEvents, RawEvent. From version 2.1 on raw events are told also while another
program, a game for one, has grabbed mouse and keyboard.
"""

from __future__ import annotations

import struct
from typing import Any, Final

from Xlib.display import Display
from Xlib.ext import ge
from Xlib.protocol import rq

_EXTENSION: Final = "X" + "Input" + "Extension"  # as the server calls it
_VERSION: Final = (2, 1)
_ALL_MASTERS: Final = 1
RAW_KEY_PRESS: Final = 13
RAW_MOTION: Final = 17
# Of the event's data: device, time, detail, source, words of the mask, flags; then the mask, values, and raw values.
_HEAD: Final = struct.Struct("=HIIHHI4x")
_FIXED: Final = struct.Struct("=iI")  # 32.32 fixed point


class _QueryVersion(rq.ReplyRequest):  # type: ignore[misc] # the library has no types there
    _request = rq.Struct(
        rq.Card8("opcode"), rq.Opcode(47), rq.RequestLength(), rq.Card16("major_version"), rq.Card16("minor_version")
    )
    _reply = rq.Struct(
        rq.ReplyCode(),
        rq.Pad(1),
        rq.Card16("sequence_number"),
        rq.ReplyLength(),
        rq.Card16("major_version"),
        rq.Card16("minor_version"),
        rq.Pad(20),
    )


class _SelectEvents(rq.Request):  # type: ignore[misc] # likewise
    _request = rq.Struct(
        rq.Card8("opcode"),
        rq.Opcode(46),
        rq.RequestLength(),
        rq.Window("window"),
        rq.Card16("masks"),
        rq.Pad(2),
        rq.Card16("device"),
        rq.Card16("words"),
        rq.Card32("mask"),
    )


def listen(connection: Display, kind: int) -> bool:
    """Has the server tell of that kind of event, of all devices; returns whether it can."""
    found = connection.query_extension(_EXTENSION)
    if found is None or not found.present:
        return False
    inner, opcode = connection.display, found.major_opcode
    major, minor = _VERSION
    told = _QueryVersion(display=inner, opcode=opcode, major_version=major, minor_version=minor)
    if (told.major_version, told.minor_version) < _VERSION:
        return False
    root = connection.screen().root
    _SelectEvents(display=inner, opcode=opcode, window=root, masks=1, device=_ALL_MASTERS, words=1, mask=1 << kind)
    connection.flush()
    return True


def counts_across(event: Any) -> float:
    """How far an event tells that a mouse has moved to the right; 0 for any other event."""
    if event.type != ge.GenericEventCode or event.evtype != RAW_MOTION:
        return 0.0
    data = bytes(event.data)
    *_, words, _flags = _HEAD.unpack_from(data)
    mask = int.from_bytes(data[_HEAD.size : _HEAD.size + 4 * words], "little")
    if not mask & 1:  # it has moved down or up alone
        return 0.0
    whole, part = _FIXED.unpack_from(data, _HEAD.size + 4 * words + _FIXED.size * mask.bit_count())
    return float(whole + part / 2**32)


def key_pressed(event: Any) -> int:
    """The number of the key that an event tells is pressed, by the server's counting; 0 for any other event."""
    if event.type != ge.GenericEventCode or event.evtype != RAW_KEY_PRESS:
        return 0
    return int(_HEAD.unpack_from(bytes(event.data))[2])

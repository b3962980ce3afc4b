"""Raw motion of mice, before acceleration, and raw keys, reported by an X server whatever window is in front.

Encodes two requests and one event of the server's input extension, which the X library lacks. The protocol's text is
XI2proc.txt: XIQueryVersion, XISelectEvents, RawEvent. From version 2.1 on, raw events are also sent while another
program, such as a game, has grabbed mouse and keyboard.
"""

from __future__ import annotations

import struct
from typing import Any, Final

from Xlib.display import Display
from Xlib.ext import ge
from Xlib.protocol import rq

_EXTENSION: Final = "X" + "Input" + "Extension"  # the server's name of the extension
_VERSION: Final = (2, 1)
_ALL_MASTERS: Final = 1
RAW_KEY_PRESS: Final = 13
RAW_MOTION: Final = 17
# Head of the event's data: device, time, detail, source, words of the mask, flags; followed by the mask, values, and
# raw values.
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
    """Selects one kind of event of all devices; returns whether the server supports that."""
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
    """Returns the motion of a mouse to the right in an event; 0 for any other event."""
    if event.type != ge.GenericEventCode or event.evtype != RAW_MOTION:
        return 0.0
    data = bytes(event.data)
    *_, words, _flags = _HEAD.unpack_from(data)
    mask = int.from_bytes(data[_HEAD.size : _HEAD.size + 4 * words], "little")
    if not mask & 1:  # vertical motion only
        return 0.0
    whole, part = _FIXED.unpack_from(data, _HEAD.size + 4 * words + _FIXED.size * mask.bit_count())
    return float(whole + part / 2**32)


def key_pressed(event: Any) -> int:
    """Returns the keycode of a key press; 0 for any other event."""
    if event.type != ge.GenericEventCode or event.evtype != RAW_KEY_PRESS:
        return 0
    return int(_HEAD.unpack_from(bytes(event.data))[2])

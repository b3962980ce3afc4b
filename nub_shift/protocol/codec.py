"""JSON-RPC 2.0 over lines of UTF-8: bytes in, messages out. No I/O; both ends use it.

One message a line; batches are refused.
"""

from __future__ import annotations

from collections.abc import Sequence
from typing import Any

import msgspec

from nub_shift.model.messages import Message

PROTOCOL = 3
MAX_LINE_BYTES = 4_000_000

PARSE_ERROR = -32700
INVALID_REQUEST = -32600
METHOD_NOT_FOUND = -32601
INVALID_PARAMS = -32602
REFUSED = -32000  # the call was understood and cannot be done; the message says why


class Request(msgspec.Struct, frozen=True):
    """A call, or a notification if it has no id."""

    method: str
    params: dict[str, Any] = {}
    id: int | str | None = None


class Refused(msgspec.Struct, frozen=True, omit_defaults=True):
    """Why a call that was understood cannot be done: what there is to say, and the faults of a profile."""

    why: Message
    problems: list[str] = []


class Error(msgspec.Struct, frozen=True, omit_defaults=True):
    """Why a call failed. `message` is for whoever writes a client; a refusal has in `data` what people are told."""

    code: int
    message: str
    data: Refused | None = None


class Response(msgspec.Struct, frozen=True):
    """The answer to the call of that id: a result, or an error."""

    id: int | str | None
    result: Any = None
    error: Error | None = None


class Fault(msgspec.Struct, frozen=True):
    """Bytes that are no message, with the answer that they deserve."""

    error: Error
    id: int | str | None = None


Incoming = Request | Response | Fault


class _Raw(msgspec.Struct):
    jsonrpc: str
    method: str | msgspec.UnsetType = msgspec.UNSET
    params: dict[str, Any] | msgspec.UnsetType = msgspec.UNSET
    id: int | str | msgspec.UnsetType | None = msgspec.UNSET
    result: Any = None
    error: Error | None = None


_decoder = msgspec.json.Decoder(_Raw)


class LineReader:
    """Cuts a stream of bytes into messages, however the bytes arrive.

    A line over the size limit is answered with one fault and skipped to its end.
    """

    def __init__(self) -> None:
        self._rest = bytearray()
        self._skipping = False

    def feed(self, data: bytes) -> list[Incoming]:
        """Takes bytes; returns the messages that they complete."""
        self._rest += data
        messages: list[Incoming] = []
        while (end := self._rest.find(b"\n")) >= 0:
            line = bytes(self._rest[:end])
            del self._rest[: end + 1]
            if self._skipping:
                self._skipping = False
            elif line.strip():
                messages.append(_parse(line))
        if len(self._rest) > MAX_LINE_BYTES:
            self._rest.clear()
            if not self._skipping:
                messages.append(Fault(Error(INVALID_REQUEST, f"a line is longer than {MAX_LINE_BYTES} bytes")))
            self._skipping = True
        return messages


def _parse(line: bytes) -> Incoming:
    try:
        raw = _decoder.decode(line)
    except msgspec.ValidationError as error:
        return Fault(Error(INVALID_REQUEST, f"not a JSON-RPC 2.0 message: {error}"))
    except (msgspec.DecodeError, UnicodeDecodeError):
        return Fault(Error(PARSE_ERROR, "not JSON"))
    if raw.jsonrpc != "2.0":
        return Fault(Error(INVALID_REQUEST, 'expected "jsonrpc": "2.0"'))
    identity = None if raw.id is msgspec.UNSET else raw.id
    if raw.method is not msgspec.UNSET:
        return Request(raw.method, {} if raw.params is msgspec.UNSET else raw.params, identity)
    if raw.id is msgspec.UNSET:
        return Fault(Error(INVALID_REQUEST, "neither a method nor an answer"))
    return Response(identity, raw.result, raw.error)


def refused(why: Message, problems: Sequence[str] = ()) -> Error:
    """The error of a call that cannot be done."""
    return Error(REFUSED, str(why), Refused(why, list(problems)))


def encode_request(method: str, params: object, identity: int | str | None = None) -> bytes:
    """A call as a line; a notification if `identity` is None."""
    message: dict[str, object] = {"jsonrpc": "2.0", "method": method, "params": params}
    if identity is not None:
        message["id"] = identity
    return msgspec.json.encode(message) + b"\n"


def encode_result(identity: int | str, result: object) -> bytes:
    """The answer to a call as a line."""
    return msgspec.json.encode({"jsonrpc": "2.0", "id": identity, "result": result}) + b"\n"


def encode_error(identity: int | str | None, error: Error) -> bytes:
    """A failure as a line."""
    return msgspec.json.encode({"jsonrpc": "2.0", "id": identity, "error": error}) + b"\n"

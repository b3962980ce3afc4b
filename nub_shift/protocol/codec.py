"""JSON-RPC 2.0 over lines of UTF-8: bytes in, messages out. No I/O; both ends use it.

One message a line; batches are refused.
"""

from __future__ import annotations

from collections.abc import Sequence

import msgspec

from nub_shift.model.messages import Message

PROTOCOL = 6
# The text of the largest profile, as JSON writes it.
MAX_LINE_BYTES = 600_000
MAX_ID_LENGTH = 200

PARSE_ERROR = -32700
INVALID_REQUEST = -32600
METHOD_NOT_FOUND = -32601
INVALID_PARAMS = -32602
REFUSED = -32000  # the call was understood and cannot be done; the message says why


class Request(msgspec.Struct, frozen=True):
    """A call, or a notification if it has no id. Its parameters are JSON that whoever knows the method reads."""

    method: str
    params: msgspec.Raw = msgspec.Raw(b"{}")
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
    """The answer to the call of that id: a result, which is JSON, or an error."""

    id: int | str | None
    result: msgspec.Raw | None = None
    error: Error | None = None


class Fault(msgspec.Struct, frozen=True):
    """Bytes that are no message, with the answer that they deserve."""

    error: Error
    id: int | str | None = None


Incoming = Request | Response | Fault


class _Raw(msgspec.Struct):
    jsonrpc: str
    method: str | msgspec.UnsetType = msgspec.UNSET
    params: msgspec.Raw = msgspec.Raw(b"{}")
    id: int | str | msgspec.UnsetType | None = msgspec.UNSET
    result: msgspec.Raw | msgspec.UnsetType = msgspec.UNSET
    error: Error | None = None


_decoder = msgspec.json.Decoder(_Raw)


class LineReader:
    """Cuts a stream of bytes into messages, however the bytes arrive.

    A line over the size limit is answered with one fault and skipped to its end.
    """

    def __init__(self) -> None:
        self._rest = bytearray()
        self._searched = 0  # there is no line end before
        self._skipping = False

    def feed(self, data: bytes) -> list[Incoming]:
        """Takes bytes; returns the messages that they complete."""
        self.add(data)
        messages: list[Incoming] = []
        while (message := self.next()) is not None:
            messages.append(message)
        return messages

    def add(self, data: bytes) -> None:
        """Takes bytes; `next` gives the messages that they complete, one by one."""
        self._rest += data

    def next(self) -> Incoming | None:
        """The next message, if all of it is there."""
        rest = self._rest
        while (end := rest.find(b"\n", self._searched)) >= 0:
            line = bytes(rest[:end])
            del rest[: end + 1]
            self._searched = 0
            if self._skipping:
                self._skipping = False
            elif end > MAX_LINE_BYTES:
                return Fault(Error(INVALID_REQUEST, _TOO_LONG))
            elif line.strip():
                return _parse(line)
            else:  # so are those after it that have nothing in them: however many, they take no time
                blank = len(rest) - len(rest.lstrip())
                del rest[: rest.rfind(b"\n", 0, blank) + 1]
        self._searched = len(rest)
        if len(rest) > MAX_LINE_BYTES:
            rest.clear()
            self._searched = 0
            if not self._skipping:
                self._skipping = True
                return Fault(Error(INVALID_REQUEST, _TOO_LONG))
        return None


_TOO_LONG = f"a line is longer than {MAX_LINE_BYTES} bytes"


def _parse(line: bytes) -> Incoming:
    try:
        line.decode()  # what is kept undecoded is looked at by nobody else
        raw = _decoder.decode(line)
    except msgspec.ValidationError as error:
        return Fault(Error(INVALID_REQUEST, f"not a JSON-RPC 2.0 message: {error}"))
    except (msgspec.DecodeError, UnicodeDecodeError):
        return Fault(Error(PARSE_ERROR, "not JSON"))
    except RecursionError:
        return Fault(Error(INVALID_REQUEST, "lists or objects are nested too deep"))
    if raw.jsonrpc != "2.0":
        return Fault(Error(INVALID_REQUEST, 'expected "jsonrpc": "2.0"'))
    identity = None if raw.id is msgspec.UNSET else raw.id
    if isinstance(identity, str) and len(identity) > MAX_ID_LENGTH:
        return Fault(Error(INVALID_REQUEST, f"an id is longer than {MAX_ID_LENGTH} characters"))
    # Parts that are kept must not keep the whole line alive.
    if raw.method is not msgspec.UNSET:
        return Request(raw.method, raw.params.copy(), identity)
    if raw.id is msgspec.UNSET:
        return Fault(Error(INVALID_REQUEST, "neither a method nor an answer"))
    return Response(identity, None if raw.result is msgspec.UNSET else raw.result.copy(), raw.error)


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

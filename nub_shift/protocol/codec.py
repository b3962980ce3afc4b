"""JSON-RPC 2.0 as lines of UTF-8, without I/O, used by both ends.

One message per line; batches are refused.
"""

from __future__ import annotations

from collections.abc import Sequence

import msgspec

from nub_shift.model.messages import Message

PROTOCOL = 6
# Size of the largest profile as a JSON string.
MAX_LINE_BYTES = 600_000
MAX_ID_LENGTH = 200

PARSE_ERROR = -32700
INVALID_REQUEST = -32600
METHOD_NOT_FOUND = -32601
INVALID_PARAMS = -32602
REFUSED = -32000  # the call was valid but cannot be done; the message gives the reason


class Request(msgspec.Struct, frozen=True):
    """A call, or a notification if it has no id. Parameters stay undecoded JSON until the method is known."""

    method: str
    params: msgspec.Raw = msgspec.Raw(b"{}")
    id: int | str | None = None


class Refused(msgspec.Struct, frozen=True, omit_defaults=True):
    """Reason why a valid call cannot be done: a message, and the faults of a profile."""

    why: Message
    problems: list[str] = []


class Error(msgspec.Struct, frozen=True, omit_defaults=True):
    """Reason of a failed call. `message` is for developers of clients; `data` has the message of a refusal for
    people.
    """

    code: int
    message: str
    data: Refused | None = None


class Response(msgspec.Struct, frozen=True):
    """Answer to the call of an id: a result as undecoded JSON, or an error."""

    id: int | str | None
    result: msgspec.Raw | None = None
    error: Error | None = None


class Fault(msgspec.Struct, frozen=True):
    """Bytes that are not a message, with the error to answer."""

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
    """Splits a stream of bytes into messages, however the bytes arrive.

    A line over the size limit gives one fault and is skipped to its end.
    """

    def __init__(self) -> None:
        self._rest = bytearray()
        self._searched = 0  # no line end before this position
        self._skipping = False

    def feed(self, data: bytes) -> list[Incoming]:
        """Adds bytes; returns the completed messages."""
        self.add(data)
        messages: list[Incoming] = []
        while (message := self.next()) is not None:
            messages.append(message)
        return messages

    def add(self, data: bytes) -> None:
        """Adds bytes; `next` returns the completed messages one by one."""
        self._rest += data

    def next(self) -> Incoming | None:
        """Returns the next complete message, or None."""
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
            else:  # with all empty lines after it, however many, in one step
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
        line.decode()  # checks the encoding of parts that stay undecoded
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
    # Copies, since slices would keep the whole line alive.
    if raw.method is not msgspec.UNSET:
        return Request(raw.method, raw.params.copy(), identity)
    if raw.id is msgspec.UNSET:
        return Fault(Error(INVALID_REQUEST, "neither a method nor an answer"))
    return Response(identity, None if raw.result is msgspec.UNSET else raw.result.copy(), raw.error)


def refused(why: Message, problems: Sequence[str] = ()) -> Error:
    """Returns the error of a call that cannot be done."""
    return Error(REFUSED, str(why), Refused(why, list(problems)))


def encode_request(method: str, params: object, identity: int | str | None = None) -> bytes:
    """Returns a call as a line; a notification if `identity` is None."""
    message: dict[str, object] = {"jsonrpc": "2.0", "method": method, "params": params}
    if identity is not None:
        message["id"] = identity
    return msgspec.json.encode(message) + b"\n"


def encode_result(identity: int | str, result: object) -> bytes:
    """Returns the answer to a call as a line."""
    return msgspec.json.encode({"jsonrpc": "2.0", "id": identity, "result": result}) + b"\n"


def encode_error(identity: int | str | None, error: Error) -> bytes:
    """Returns an error as a line."""
    return msgspec.json.encode({"jsonrpc": "2.0", "id": identity, "error": error}) + b"\n"

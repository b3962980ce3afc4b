"""JSON-RPC lines, whole, byte by byte, and as rubbish."""

from __future__ import annotations

import pytest
from msgspec import Raw

from nub_shift.model.messages import Code, Message
from nub_shift.protocol.codec import (
    INVALID_REQUEST,
    MAX_LINE_BYTES,
    PARSE_ERROR,
    Error,
    Fault,
    Incoming,
    LineReader,
    Request,
    Response,
    encode_error,
    encode_request,
    encode_result,
    refused,
)

WHY = Message(Code.NO_SUCH_PAD, {"pad": "x"})

TABLE: list[tuple[bytes, list[Incoming]]] = [
    (encode_request("state", {}, 1), [Request("state", Raw(b"{}"), 1)]),
    (encode_request("telemetry", {"a": [1]}), [Request("telemetry", Raw(b'{"a":[1]}'), None)]),
    (encode_result(1, {"x": 2}), [Response(1, Raw(b'{"x":2}'))]),
    (encode_error(None, refused(WHY, ["x"])), [Response(None, None, refused(WHY, ["x"]))]),
    (b"\n  \n", []),
    (
        encode_request("a", {}, "one") + b"{broken\n" + encode_request("b", {}, 2),
        [Request("a", Raw(b"{}"), "one"), Fault(Error(PARSE_ERROR, "not JSON")), Request("b", Raw(b"{}"), 2)],
    ),
]


@pytest.mark.parametrize(("data", "expected"), TABLE)
def test_messages_come_out_however_the_bytes_arrive(data: bytes, expected: list[Incoming]) -> None:
    assert LineReader().feed(data) == expected
    reader = LineReader()
    assert [message for byte in data for message in reader.feed(bytes([byte]))] == expected


@pytest.mark.parametrize(
    "line",
    [b"[]", b"7", b'{"jsonrpc": "1.0", "method": "a"}', b'{"jsonrpc": "2.0"}', b'{"jsonrpc": "2.0", "method": 3}'],
)
def test_what_is_json_but_no_message_is_an_invalid_request(line: bytes) -> None:
    (fault,) = LineReader().feed(line + b"\n")
    assert isinstance(fault, Fault) and fault.error.code == INVALID_REQUEST


def test_bytes_that_are_no_text_are_a_parse_error() -> None:
    (fault,) = LineReader().feed(b'{"jsonrpc": "\xff"}\n')
    assert isinstance(fault, Fault) and fault.error.code == PARSE_ERROR


def test_an_endless_line_is_one_fault_and_the_next_line_is_read() -> None:
    reader = LineReader()
    faults = [message for _ in range(3) for message in reader.feed(b"x" * MAX_LINE_BYTES)]
    assert len(faults) == 1
    assert reader.feed(b"tail\n" + encode_request("state", {}, 1)) == [Request("state", Raw(b"{}"), 1)]

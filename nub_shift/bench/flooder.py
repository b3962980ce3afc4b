"""One client, or a hundred, of bad behaviour. For `nub-shift bench` only, with the arguments PATTERN SOCKET."""

from __future__ import annotations

import os
import socket
import sys
import time
from collections.abc import Callable
from itertools import repeat

from nub_shift.demo.games import demo_profile_text
from nub_shift.protocol.calls import Call, GetState, LoadProfile, Subscribe, WatchPads, method_of, params_of
from nub_shift.protocol.codec import encode_request


def _connected(path: str) -> socket.socket:
    connection = socket.socket(socket.AF_UNIX)
    connection.connect(path)
    return connection


def _call(call: Call, identity: int | None = 1) -> bytes:
    return encode_request(method_of(call), params_of(call), identity)


def _says(data: bytes, pause_s: float = 0.0, reads: bool = True) -> Callable[[str], None]:
    """Returns a client that sends the same data as fast as possible, with or without reading answers.

    Reconnects at once after a disconnection.
    """

    def flood(path: str) -> None:
        while True:
            try:
                _say(_connected(path), data, pause_s, reads)
            except OSError:
                time.sleep(0.001)

    return flood


def _say(connection: socket.socket, data: bytes, pause_s: float, reads: bool) -> None:
    with connection:
        connection.setblocking(False)
        while True:
            try:
                connection.sendall(data)
            except BlockingIOError:
                time.sleep(0.001)
            if reads:
                while _read(connection):
                    pass
            time.sleep(pause_s)


def _read(connection: socket.socket) -> bytes:
    try:
        return connection.recv(1 << 20)
    except BlockingIOError:
        return b""


def _idle(path: str) -> None:  # noqa: ARG001
    time.sleep(3600)


def _slow_reader(path: str) -> None:
    connection = _connected(path)
    connection.sendall(_call(Subscribe(hz=250)) + _call(WatchPads(hz=250)))
    while connection.recv(64):
        time.sleep(0.01)


def _never_read(path: str) -> None:
    connections = [_connected(path) for _ in range(100)]
    for connection in connections:
        try:
            connection.sendall(_call(Subscribe(hz=250)))
        except OSError:
            continue  # refused
    time.sleep(3600)


def _storm(path: str) -> None:
    for _ in repeat(None):
        try:
            _connected(path).close()
        except OSError:
            time.sleep(0.001)


def _states(path: str) -> None:
    connection = _connected(path)
    for _ in repeat(None):
        connection.sendall(_call(GetState()))
        connection.recv(1 << 20)


def _loads(path: str) -> None:
    call = _call(LoadProfile(demo_profile_text("saltglass")))
    connection = _connected(path)
    for _ in repeat(None):
        connection.sendall(call)
        connection.recv(1 << 20)
        time.sleep(0.2)


PATTERNS: dict[str, Callable[[str], None]] = {
    "idle": _idle,
    "a slow reader": _slow_reader,
    "100 readers who never read": _never_read,
    "no line end": _says(b"x" * 65536),
    "connecting again and again": _storm,
    "notifications without end": _says(_call(GetState(), None) * 500),
    "state as fast as it is answered": _states,
    "unknown methods": _says(b'{"jsonrpc": "2.0", "id": 1, "method": "dance"}\n' * 500),
    "lines that are no JSON": _says(b"junk\n" * 5000),
    "lines of 3.9 MB": _says(b'{"jsonrpc": "2.0", "id": 1, "method": "' + b"x" * 3_900_000 + b'"}\n'),
    "answers that are not read": _says(_call(GetState()) * 500, reads=False),
    "loading five times a second": _loads,
}


def main() -> None:
    """Floods until killed."""
    os.nice(10)  # counts the runner's own work, not the system's work for both
    PATTERNS[sys.argv[1]](sys.argv[2])


if __name__ == "__main__":
    main()

"""Client's end of the runner's socket, for the window, the commands and tests. Uses no devices."""

from __future__ import annotations

import socket
from collections.abc import Callable
from dataclasses import dataclass
from pathlib import Path
from typing import TypeVar

import msgspec

from nub_shift.model.messages import Message
from nub_shift.protocol.calls import Call, method_of, params_of
from nub_shift.protocol.codec import PROTOCOL, Error, LineReader, Request, Response, encode_request
from nub_shift.protocol.messages import LayoutNews, Notice, PadsNews, Ping, Ready, SignsNews, State, Telemetry
from nub_shift.protocol.sockets import check_private
from nub_shift.translation import tr

News = Ready | Ping | LayoutNews | Notice | Telemetry | PadsNews | SignsNews
N = TypeVar("N", Telemetry, PadsNews, Notice, SignsNews)
_NEWS: dict[str, type[News]] = {
    "ready": Ready,
    "said": Notice,
    "ping": Ping,
    "layout": LayoutNews,
    "telemetry": Telemetry,
    "pads": PadsNews,
    "signs": SignsNews,
}


class RunnerError(Exception):
    """The runner has refused a call, does not understand it, or has gone.

    Attributes:
        why: message of a refusal for people.
        problems: faults of a refused profile.
    """

    def __init__(self, text: str, why: Message | None = None, problems: list[str] | None = None) -> None:
        super().__init__(text)
        self.why = why
        self.problems = problems or []


@dataclass(frozen=True)
class Reply:
    """Answer to one call: a state, or an error."""

    state: State | None
    error: Error | None


Answered = Callable[[Reply], None]


class ClientProtocol:
    """Client's side of the protocol, without I/O.

    `call` returns bytes to send; `feed` takes received bytes, passes replies to the callbacks of their calls, and
    returns the notifications among them.
    """

    def __init__(self) -> None:
        self._reader = LineReader()
        self._waiting: dict[int, Answered] = {}
        self._next_id = 1

    def call(self, call: Call, answered: Answered | None = None) -> bytes:
        """Returns the bytes of a call."""
        identity = self._next_id
        self._next_id += 1
        if answered is not None:
            self._waiting[identity] = answered
        return encode_request(method_of(call), params_of(call), identity)

    def notify(self, call: Call) -> bytes:
        """Returns the bytes of a call without an answer."""
        return encode_request(method_of(call), params_of(call))

    def feed(self, data: bytes) -> list[News]:
        """Processes received bytes."""
        packets: list[News] = []
        for message in self._reader.feed(data):
            match message:
                case Request(method=method, params=params) if method in _NEWS:
                    packets.append(msgspec.json.decode(params, type=_NEWS[method]))
                case Response(id=int(identity)) if identity in self._waiting:
                    state = None if message.result is None else msgspec.json.decode(message.result, type=State)
                    self._waiting.pop(identity)(Reply(state, message.error))
        return packets


class RunnerClient:
    """A blocking client, which waits for the runner to be ready.

    Raises:
        OSError: no process listens at `path`, or other users could.
        RunnerError: the runner has another protocol version, or has gone.
    """

    def __init__(self, path: Path, timeout_s: float = 5.0) -> None:
        check_private(path)
        self._socket = socket.socket(socket.AF_UNIX, socket.SOCK_STREAM)
        self._socket.settimeout(timeout_s)
        self._protocol = ClientProtocol()
        self._packets: list[News] = []
        try:
            self._socket.connect(str(path))
            self._await_ready()
        except BaseException:
            self._socket.close()
            raise

    def call(self, call: Call) -> State:
        """Calls a method and waits for its answer.

        Raises:
            RunnerError: the runner refused or has gone.
            TimeoutError: no answer in time.
        """
        replies: list[Reply] = []
        self._socket.sendall(self._protocol.call(call, replies.append))
        while not replies:
            self._receive()
        reply = replies[0]
        if reply.error is not None:
            data = reply.error.data
            raise RunnerError(reply.error.message, data.why if data else None, data.problems if data else None)
        assert reply.state is not None
        return reply.state

    def telemetry(self) -> Telemetry:
        """Waits for the next packet of a seat."""
        return self._next(Telemetry)

    def pads_news(self) -> PadsNews:
        """Waits for the next packet about all pads."""
        return self._next(PadsNews)

    def signs(self) -> SignsNews:
        """Waits for the next packet with the content of signs."""
        return self._next(SignsNews)

    def said(self) -> Notice:
        """Waits for the next message."""
        return self._next(Notice)

    def close(self) -> None:
        """Closes the connection."""
        self._socket.close()

    def _await_ready(self) -> None:
        while not self._packets:
            self._receive()
        first = self._packets.pop(0)
        if not isinstance(first, Ready) or first.protocol != PROTOCOL:
            raise RunnerError(
                tr("the runner speaks another protocol than {protocol}: {first}", protocol=PROTOCOL, first=first)
            )

    def _next(self, kind: type[N]) -> N:
        while True:
            for index, packet in enumerate(self._packets):
                if isinstance(packet, kind):
                    del self._packets[index]
                    return packet
            self._receive()

    def _receive(self) -> None:
        data = self._socket.recv(65536)
        if not data:
            raise RunnerError(tr("the runner has gone"))
        self._packets += self._protocol.feed(data)


def runner_words(profile: Path, pad: str, output: str, path: Path, folder: Path | None = None) -> list[str]:
    """Returns the command line of a runner that starts in rehearsal and ends with its last client.

    Profiles of `folder` are activated automatically, and can be requested from the pad.
    """
    return [
        *("run", str(profile.absolute())),
        *(("--profiles", str(folder)) if folder is not None else ()),
        *("--pad", pad, "--output", output, "--rehearse", "--until-hangup", "--socket", str(path)),
    ]

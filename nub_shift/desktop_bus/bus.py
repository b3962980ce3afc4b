"""One connection to a bus: calls to others, signals of others, and objects of ours.

It belongs to no event loop: whoever has one calls `take` when the descriptor is readable, and `give` when it is
writable while `on_writing` asked for that. Nothing here waits for another program but `answer_of`, which has a limit.
"""

from __future__ import annotations

import logging
import select
import time
from collections.abc import Callable, Mapping
from dataclasses import dataclass, field
from itertools import chain, count
from socket import socket
from typing import Any, Final

from jeepney import (
    DBusAddress,
    HeaderFields,
    MatchRule,
    Message,
    MessageFlag,
    MessageType,
    Parser,
    message_bus,
    new_error,
    new_method_call,
    new_method_return,
    new_signal,
)
from jeepney.bus import get_bus
from jeepney.io.blocking import prep_socket

log = logging.getLogger("nub_shift.desktop_bus")

_PROPERTIES: Final = "org.freedesktop.DBus.Properties"
_INTROSPECTABLE: Final = "org.freedesktop.DBus.Introspectable"
_UNKNOWN: Final = "org.freedesktop.DBus.Error.UnknownMethod"
_WRONG: Final = "org.freedesktop.DBus.Error.InvalidArgs"
_FAILED: Final = "org.freedesktop.DBus.Error.Failed"
_DENIED: Final = "org.freedesktop.DBus.Error.AccessDenied"
# How long a bus may take to let us in. A bus that is stopped takes connections and says nothing.
_LIMIT_S: Final = 2.0
_READ_BYTES: Final = 65_536
# A bus that takes nothing of what we send is as good as gone.
_MOST_UNSENT: Final = 1_000_000

# A signature of D-Bus, and the values by it.
Body = tuple[str, tuple[Any, ...]]
NOTHING: Final[Body] = ("", ())
# None when nobody answered, or with an error.
Answered = Callable[[tuple[Any, ...] | None], None]
Heard = Callable[[tuple[Any, ...]], None]
Method = Callable[..., Body]


@dataclass(frozen=True)
class Served:
    """An interface of an object of ours.

    Attributes:
        methods: each takes the values of a call and returns those of its answer; a ValueError, LookupError or TypeError
            is answered as a wrong call.
        properties: their signatures and values as they are now.
        caller: the well-known name of the only program that may call; empty for any.
    """

    name: str
    methods: Mapping[str, Method]
    properties: Callable[[], Mapping[str, tuple[str, Any]]] = field(default=dict)
    caller: str = ""


class Bus:
    """A connection.

    Attributes:
        name: ours on the bus; empty until the bus has said it.
        on_writing: is called with whether `give` is to be called once the descriptor is writable.
        on_gone: is called when the bus has gone.
    """

    def __init__(self, connection: socket) -> None:
        self.name = ""
        self.on_writing: Callable[[bool], None] = lambda _: None
        self.on_gone: Callable[[], None] = lambda: None
        self._socket: socket | None = connection
        self._socket.setblocking(False)
        self._parser = Parser()
        self._serials = count(1)
        self._outgoing = bytearray()
        self._objects: dict[str, dict[str, Served]] = {}
        self._answers: dict[int, Answered] = {}
        self._heard: list[tuple[MatchRule, str, Heard]] = []
        self._owners: dict[str, str] = {}  # by well-known name; empty while nobody has it
        self._when_ready: list[Callable[[], None]] = []
        self._send(message_bus.Hello(), self._on_hello)

    @classmethod
    def open(cls, which: str = "SESSION") -> Bus | None:
        """Connects to the session's bus, the `SYSTEM`'s, or the one at an address.

        Returns None where there is none, or it does not answer.
        """
        try:
            return cls(prep_socket(get_bus(which), timeout=_LIMIT_S))
        except (OSError, KeyError, ValueError, RuntimeError) as error:  # no address, nobody there, not let in
            log.info("no %s bus: %s", which.lower(), error)
            return None

    def fileno(self) -> int:
        """The descriptor; -1 once the bus has gone."""
        return self._socket.fileno() if self._socket is not None else -1

    def close(self) -> None:
        """Hangs up; what was asked is answered by None."""
        if self._socket is None:
            return
        self.on_writing(False)
        self.on_gone()
        self._socket.close()
        self._socket = None
        answers, self._answers = self._answers, {}
        for answered in answers.values():
            answered(None)

    def when_ready(self, call: Callable[[], None]) -> None:
        """Has `call` called once the bus has said our name, at once if it has."""
        if self.name:
            call()
        else:
            self._when_ready.append(call)

    def take(self) -> None:
        """Takes what has come: to be called when the descriptor is readable."""
        while self._socket is not None:
            try:
                data = self._socket.recv(_READ_BYTES)
            except BlockingIOError:
                return
            except OSError:
                data = b""
            if not data:
                self.close()
                return
            self._parser.add_data(data)
            while (message := self._parser.get_next_message()) is not None:
                self._take(message)

    def give(self) -> None:
        """Sends what waits: to be called when the descriptor is writable."""
        if self._socket is None:
            return
        try:
            del self._outgoing[: self._socket.send(self._outgoing)]
        except BlockingIOError:
            pass
        except OSError:
            self.close()
            return
        self.on_writing(bool(self._outgoing))

    def ask(self, address: DBusAddress, member: str, body: Body, answered: Answered | None = None) -> None:
        """Calls a method; `answered` gets the values that it returns."""
        message = new_method_call(address, member, *_signed(body))
        if answered is None:
            message.header.flags |= MessageFlag.no_reply_expected
        self._send(message, answered)

    def answer_of(
        self, address: DBusAddress, member: str, body: Body, limit_s: float = _LIMIT_S
    ) -> tuple[Any, ...] | None:
        """Calls a method and waits for what it returns; None for an error, or if nobody answers in time."""
        answers: list[tuple[Any, ...] | None] = []
        self.when_ready(lambda: self.ask(address, member, body, answers.append))
        end = time.monotonic() + limit_s
        while not answers and self._socket is not None and (left := end - time.monotonic()) > 0:
            writing = [self._socket] if self._outgoing else []
            readable, writable, _ = select.select([self._socket], writing, [], left)
            if readable:
                self.take()
            if writable:
                self.give()
        return answers[0] if answers else None

    def hear(self, rule: MatchRule, heard: Heard, owner: str = "") -> None:
        """Has signals of that kind told, by their values; with `owner` only those of who has that well-known name."""
        if owner:
            self._follow_owner(owner)
        self._heard.append((rule, owner, heard))
        self._send(message_bus.AddMatch(rule))

    def serve(self, path: str, *interfaces: Served) -> None:
        """Has an object there for others."""
        for interface in interfaces:
            if interface.caller:
                self._follow_owner(interface.caller)
        self._objects[path] = {interface.name: interface for interface in interfaces}

    def say(self, path: str, interface: str, signal: str, body: Body = NOTHING) -> None:
        """Sends a signal of an object of ours."""
        self._send(new_signal(DBusAddress(path, interface=interface), signal, *_signed(body)))

    def _on_hello(self, values: tuple[Any, ...] | None) -> None:
        if values is None:
            return
        self.name = str(values[0])
        waiting, self._when_ready = self._when_ready, []
        for call in waiting:
            call()

    def _follow_owner(self, name: str) -> None:
        """Keeps up who has a well-known name."""
        if name in self._owners:
            return
        self._owners[name] = ""

        def on_owner(values: tuple[Any, ...] | None) -> None:
            self._owners[name] = str(values[0]) if values else ""

        changed = MatchRule(type="signal", sender=message_bus.bus_name, member="NameOwnerChanged")
        changed.add_arg_condition(0, name)
        self._heard.append((changed, message_bus.bus_name, lambda values: on_owner(values[2:3])))
        self._owners[message_bus.bus_name] = message_bus.bus_name
        self._send(message_bus.AddMatch(changed))
        self.ask(message_bus, "GetNameOwner", ("s", (name,)), on_owner)

    def _send(self, message: Message, answered: Answered | None = None) -> None:
        if self._socket is None:
            if answered is not None:
                answered(None)
            return
        serial = next(self._serials)
        if answered is not None:
            self._answers[serial] = answered
        self._outgoing += message.serialise(serial=serial)
        if len(self._outgoing) > _MOST_UNSENT:
            log.warning("the bus takes nothing")
            self.close()
        else:
            self.give()

    def _take(self, message: Message) -> None:
        sender = message.header.fields.get(HeaderFields.sender, "")
        match message.header.message_type:
            case MessageType.method_call:
                reply = self._reply(message, sender)
                if not message.header.flags & MessageFlag.no_reply_expected:
                    self._send(reply)
            case MessageType.signal:
                for rule, owner, heard in list(self._heard):
                    if rule.matches(message) and (not owner or self._owners.get(owner) == sender):
                        self._deliver(heard, message)
            case kind:
                answered = self._answers.pop(message.header.fields.get(HeaderFields.reply_serial, 0), None)
                if answered is not None:
                    answered(message.body if kind is MessageType.method_return else None)

    def _deliver(self, heard: Heard, message: Message) -> None:
        """Whoever sends a signal may send any values with it."""
        try:
            heard(message.body)
        except Exception:
            log.exception("%s", message.header.fields.get(HeaderFields.member))

    def _reply(self, message: Message, sender: str) -> Message:
        fields = message.header.fields
        interfaces = self._objects.get(fields[HeaderFields.path], {})
        name, member = fields.get(HeaderFields.interface), fields[HeaderFields.member]
        inner = self._common(interfaces)
        # The interface may be left out of a call.
        asked = [interface for interface in chain(interfaces.values(), inner) if name in {None, interface.name}]
        served = next((found for found in asked if member in found.methods), None)
        if served is None or not interfaces:
            return new_error(message, _UNKNOWN, "s", (f"there is no {member} here",))
        if served.caller and self._owners.get(served.caller) != sender:
            return new_error(message, _DENIED, "s", (f"only {served.caller} may call this",))
        try:
            return new_method_return(message, *_signed(served.methods[member](*message.body)))
        except (ValueError, LookupError, TypeError) as error:
            return new_error(message, _WRONG, "s", (str(error),))
        except Exception:  # a fault of ours in one call costs this call
            log.exception("%s", member)
            return new_error(message, _FAILED, "s", ("it failed",))

    def _common(self, interfaces: Mapping[str, Served]) -> tuple[Served, ...]:
        """Methods of every object."""

        def get(name: str, prop: str) -> Body:
            return "v", (interfaces[name].properties()[prop],)

        def get_all(name: str) -> Body:
            return "a{sv}", (dict(interfaces[name].properties()),)

        def introspect() -> Body:
            return "s", (_described(interfaces),)

        return (
            Served(_PROPERTIES, {"Get": get, "GetAll": get_all}),
            Served(_INTROSPECTABLE, {"Introspect": introspect}),
        )


def _signed(body: Body) -> tuple[str | None, tuple[Any, ...]]:
    signature, values = body
    return signature or None, values


def _described(interfaces: Mapping[str, Served]) -> str:
    """Introspection as in the standard; methods by name only, which is enough for panels."""
    lines = ["<node>"]
    for interface in interfaces.values():
        lines.append(f'<interface name="{interface.name}">')
        lines += [f'<method name="{name}"/>' for name in interface.methods]
        properties = interface.properties().items()
        lines += [f'<property name="{name}" type="{kind}" access="read"/>' for name, (kind, _) in properties]
        lines.append("</interface>")
    return "".join([*lines, "</node>"])

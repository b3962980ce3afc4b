"""A connection to a bus: calls, received signals, and exported objects.

Independent of an event loop: the owner calls `take` when the descriptor is readable, and `give` when it is writable
while `on_writing` requests that. Only `call_blocking` waits for another program, with a time limit.
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
# Timeout of a connection: a stopped bus accepts connections and stays silent.
_LIMIT_S: Final = 2.0
_READ_BYTES: Final = 65_536
# Bound on unsent data; a bus that reads nothing counts as gone.
_MOST_UNSENT: Final = 1_000_000

# A D-Bus signature, and values of that signature.
Body = tuple[str, tuple[Any, ...]]
NOTHING: Final[Body] = ("", ())
# Callback of an answer; None for an error or no answer.
Answered = Callable[[tuple[Any, ...] | None], None]
WaitEvent = Callable[[tuple[Any, ...]], None]
Method = Callable[..., Body]


@dataclass(frozen=True)
class Served:
    """An interface of an exported object.

    Attributes:
        methods: functions from the values of a call to those of its answer; a ValueError, LookupError or TypeError is
            answered as an invalid call.
        properties: signatures and present values.
        caller: well-known name of the only permitted caller; empty for any.
    """

    name: str
    methods: Mapping[str, Method]
    properties: Callable[[], Mapping[str, tuple[str, Any]]] = field(default=dict)
    caller: str = ""


class Bus:
    """A connection.

    Attributes:
        name: our unique name on the bus; empty until assigned.
        on_writing: called with whether `give` is to be called once the descriptor is writable.
        on_gone: called when the bus has gone.
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
        self._heard: list[tuple[MatchRule, str, WaitEvent]] = []
        self._owners: dict[str, str] = {}  # by well-known name; empty without an owner
        self._when_ready: list[Callable[[], None]] = []
        self._send(message_bus.Hello(), self._on_hello)

    @classmethod
    def open(cls, which: str = "SESSION") -> Bus | None:
        """Connects to the session's bus, the `SYSTEM`'s, or the one at an address.

        Returns None if there is none, or no answer.
        """
        try:
            return cls(prep_socket(get_bus(which), timeout=_LIMIT_S))
        except (OSError, KeyError, ValueError, RuntimeError) as error:  # no address, no bus, or no permission
            log.info("no %s bus: %s", which.lower(), error)
            return None

    def fileno(self) -> int:
        """Returns the descriptor; -1 once the bus has gone."""
        return self._socket.fileno() if self._socket is not None else -1

    def close(self) -> None:
        """Closes the connection; pending calls are answered by None."""
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
        """Calls `call` once the bus has assigned our name."""
        if self.name:
            call()
        else:
            self._when_ready.append(call)

    def take(self) -> None:
        """Reads and dispatches messages; called when the descriptor is readable."""
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
        """Sends pending messages; called when the descriptor is writable."""
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

    def call(self, address: DBusAddress, member: str, body: Body, answered: Answered | None = None) -> None:
        """Calls a method; `answered` receives the returned values."""
        message = new_method_call(address, member, *_signed(body))
        if answered is None:
            message.header.flags |= MessageFlag.no_reply_expected
        self._send(message, answered)

    def call_blocking(
        self, address: DBusAddress, member: str, body: Body, limit_s: float = _LIMIT_S
    ) -> tuple[Any, ...] | None:
        """Calls a method and waits for its values; None for an error or a timeout."""
        answers: list[tuple[Any, ...] | None] = []
        self.when_ready(lambda: self.call(address, member, body, answers.append))
        end = time.monotonic() + limit_s
        while not answers and self._socket is not None and (left := end - time.monotonic()) > 0:
            writing = [self._socket] if self._outgoing else []
            readable, writable, _ = select.select([self._socket], writing, [], left)
            if readable:
                self.take()
            if writable:
                self.give()
        return answers[0] if answers else None

    def subscribe(self, rule: MatchRule, on_signal: WaitEvent, owner: str = "") -> None:
        """Subscribes to signals by a rule; with `owner` only to those of the owner of that well-known name."""
        if owner:
            self._follow_owner(owner)
        self._heard.append((rule, owner, on_signal))
        self._send(message_bus.AddMatch(rule))

    def serve(self, path: str, *interfaces: Served) -> None:
        """Exports an object."""
        for interface in interfaces:
            if interface.caller:
                self._follow_owner(interface.caller)
        self._objects[path] = {interface.name: interface for interface in interfaces}

    def say(self, path: str, interface: str, signal: str, body: Body = NOTHING) -> None:
        """Emits a signal of an exported object."""
        self._send(new_signal(DBusAddress(path, interface=interface), signal, *_signed(body)))

    def _on_hello(self, values: tuple[Any, ...] | None) -> None:
        if values is None:
            return
        self.name = str(values[0])
        waiting, self._when_ready = self._when_ready, []
        for call in waiting:
            call()

    def _follow_owner(self, name: str) -> None:
        """Tracks the owner of a well-known name."""
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
        self.call(message_bus, "GetNameOwner", ("s", (name,)), on_owner)

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
                for rule, owner, on_signal in list(self._heard):
                    if rule.matches(message) and (not owner or self._owners.get(owner) == sender):
                        self._deliver(on_signal, message)
            case kind:
                answered = self._answers.pop(message.header.fields.get(HeaderFields.reply_serial, 0), None)
                if answered is not None:
                    answered(message.body if kind is MessageType.method_return else None)

    def _deliver(self, on_signal: WaitEvent, message: Message) -> None:
        """Passes a signal to its subscriber. A sender may put any values into it."""
        try:
            on_signal(message.body)
        except Exception:
            log.exception("%s", message.header.fields.get(HeaderFields.member))

    def _reply(self, message: Message, sender: str) -> Message:
        fields = message.header.fields
        interfaces = self._objects.get(fields[HeaderFields.path], {})
        name, member = fields.get(HeaderFields.interface), fields[HeaderFields.member]
        inner = self._common(interfaces)
        # The interface is optional in a call.
        requested = [interface for interface in chain(interfaces.values(), inner) if name in {None, interface.name}]
        served = next((found for found in requested if member in found.methods), None)
        if served is None or not interfaces:
            return new_error(message, _UNKNOWN, "s", (f"there is no {member} here",))
        if served.caller and self._owners.get(served.caller) != sender:
            return new_error(message, _DENIED, "s", (f"only {served.caller} may call this",))
        try:
            return new_method_return(message, *_signed(served.methods[member](*message.body)))
        except (ValueError, LookupError, TypeError) as error:
            return new_error(message, _WRONG, "s", (str(error),))
        except Exception:  # an unexpected fault in one call costs this call
            log.exception("%s", member)
            return new_error(message, _FAILED, "s", ("it failed",))

    def _common(self, interfaces: Mapping[str, Served]) -> tuple[Served, ...]:
        """Returns the interfaces common to every object."""

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
    """Returns introspection data by the standard, with methods by name alone, which suffices for panels."""
    lines = ["<node>"]
    for interface in interfaces.values():
        lines.append(f'<interface name="{interface.name}">')
        lines += [f'<method name="{name}"/>' for name in interface.methods]
        properties = interface.properties().items()
        lines += [f'<property name="{name}" type="{kind}" access="read"/>' for name, (kind, _) in properties]
        lines.append("</interface>")
    return "".join([*lines, "</node>"])

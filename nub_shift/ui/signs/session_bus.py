"""The session's D-Bus for this process: what is asked of others, what is heard of them, and what we serve.

Qt's own binding of it cannot build what a panel's menu or a portal's shortcuts are made of.
"""

from __future__ import annotations

import logging
import time
from collections.abc import Callable, Mapping
from dataclasses import dataclass, field
from itertools import chain
from typing import Any, Final

from jeepney import (
    DBusAddress,
    HeaderFields,
    MatchRule,
    Message,
    MessageFlag,
    MessageType,
    message_bus,
    new_error,
    new_method_call,
    new_method_return,
    new_signal,
)
from jeepney.io.blocking import DBusConnection, open_dbus_connection
from PyQt6.QtCore import QObject

from nub_shift.ui.listening import Listening

log = logging.getLogger("nub_shift.ui")

_PROPERTIES: Final = "org.freedesktop.DBus.Properties"
_INTROSPECTABLE: Final = "org.freedesktop.DBus.Introspectable"
_UNKNOWN: Final = "org.freedesktop.DBus.Error.UnknownMethod"
_WRONG: Final = "org.freedesktop.DBus.Error.InvalidArgs"
_LIMIT_S: Final = 5.0

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
    """

    name: str
    methods: Mapping[str, Method]
    properties: Callable[[], Mapping[str, tuple[str, Any]]] = field(default=dict)


class SessionBus(QObject):
    """One connection. Nothing waits for the answer of another program but `call`."""

    def __init__(self, connection: DBusConnection) -> None:
        super().__init__()
        self.name = str(connection.unique_name)
        self._connection = connection
        self._objects: dict[str, dict[str, Served]] = {}
        self._answers: dict[int, Answered] = {}
        self._heard: list[tuple[MatchRule, Heard]] = []
        self._listening: Listening[_Readable] = Listening(self)
        self._listening.news.connect(self._on_news)
        self._listening.begin(_Readable(connection))

    @classmethod
    def open(cls) -> SessionBus | None:
        """Connects; None where this session has no bus."""
        try:
            return cls(open_dbus_connection("SESSION"))
        except (OSError, KeyError, ValueError, RuntimeError) as error:  # no address, nobody there, not let in
            log.info("no session bus: %s", error)
            return None

    def close(self) -> None:
        """Hangs up."""
        self._listening.end()

    def ask(self, address: DBusAddress, member: str, body: Body, answered: Answered | None = None) -> None:
        """Calls a method; `answered` gets the values that it returns."""
        message = new_method_call(address, member, *_signed(body))
        if answered is None:
            message.header.flags |= MessageFlag.no_reply_expected
        self._send(message, answered)

    def call(self, address: DBusAddress, member: str, body: Body) -> tuple[Any, ...] | None:
        """Calls a method and waits for what it returns; None for an error, or if nobody answers in time."""
        answers: list[tuple[Any, ...] | None] = []
        self.ask(address, member, body, answers.append)
        deadline = time.monotonic() + _LIMIT_S
        while not answers and self._listening.connection is not None:
            self._read_one(max(deadline - time.monotonic(), 0.0))
            if time.monotonic() > deadline:
                break
        self._on_news()  # what came with it wakes nobody any more
        return answers[0] if answers else None

    def hear(self, rule: MatchRule, heard: Heard) -> None:
        """Has signals of that kind told, by their values."""
        self._heard.append((rule, heard))
        self._send(message_bus.AddMatch(rule))

    def serve(self, path: str, *interfaces: Served) -> None:
        """Has an object there for others."""
        self._objects[path] = {interface.name: interface for interface in interfaces}

    def say(self, path: str, interface: str, signal: str, body: Body = NOTHING) -> None:
        """Sends a signal of an object of ours."""
        self._send(new_signal(DBusAddress(path, interface=interface), signal, *_signed(body)))

    def _send(self, message: Message, answered: Answered | None = None) -> None:
        serial = next(self._connection.outgoing_serial)
        if answered is not None:
            self._answers[serial] = answered
        try:
            self._connection.send(message, serial=serial)
        except OSError:
            self._on_gone()

    def _on_news(self) -> None:
        while self._listening.connection is not None and self._read_one(0.0):
            pass

    def _read_one(self, limit_s: float) -> bool:
        """Takes the next message; whether there was one in that time."""
        try:
            message = self._connection.receive(timeout=limit_s)
        except TimeoutError:
            return False
        except OSError:
            self._on_gone()
            return False
        self._take(message)
        return True

    def _on_gone(self) -> None:
        self.close()
        answers, self._answers = self._answers, {}
        for answered in answers.values():
            answered(None)

    def _take(self, message: Message) -> None:
        match message.header.message_type:
            case MessageType.method_call:
                reply = self._reply(message)
                if not message.header.flags & MessageFlag.no_reply_expected:
                    self._send(reply)
            case MessageType.signal:
                for rule, heard in self._heard:
                    if rule.matches(message):
                        heard(message.body)
            case kind:
                answered = self._answers.pop(message.header.fields.get(HeaderFields.reply_serial, 0), None)
                if answered is not None:
                    answered(message.body if kind is MessageType.method_return else None)

    def _reply(self, message: Message) -> Message:
        fields = message.header.fields
        interfaces = self._objects.get(fields[HeaderFields.path], {})
        name, member = fields.get(HeaderFields.interface), fields[HeaderFields.member]
        inner = self._common(interfaces)
        # The interface may be left out of a call.
        asked = [interface for interface in chain(interfaces.values(), inner) if name in {None, interface.name}]
        method = next((found.methods[member] for found in asked if member in found.methods), None)
        if method is None or not interfaces:
            return new_error(message, _UNKNOWN, "s", (f"there is no {member} here",))
        try:
            return new_method_return(message, *_signed(method(*message.body)))
        except (ValueError, LookupError, TypeError) as error:
            return new_error(message, _WRONG, "s", (str(error),))

    def _common(self, interfaces: Mapping[str, Served]) -> tuple[Served, ...]:
        """What every object has."""

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


class _Readable:
    """A connection to D-Bus, that is waited for like any other."""

    def __init__(self, connection: DBusConnection) -> None:
        self._connection = connection

    def fileno(self) -> int:
        return int(self._connection.sock.fileno())

    def close(self) -> None:
        self._connection.close()


def _signed(body: Body) -> tuple[str | None, tuple[Any, ...]]:
    signature, values = body
    return signature or None, values


def _described(interfaces: Mapping[str, Served]) -> str:
    """As the standard has it; of the methods only their names, which is what panels look for."""
    lines = ["<node>"]
    for interface in interfaces.values():
        lines.append(f'<interface name="{interface.name}">')
        lines += [f'<method name="{name}"/>' for name in interface.methods]
        properties = interface.properties().items()
        lines += [f'<property name="{name}" type="{kind}" access="read"/>' for name, (kind, _) in properties]
        lines.append("</interface>")
    return "".join([*lines, "</node>"])

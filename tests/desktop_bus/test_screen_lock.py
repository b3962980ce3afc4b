"""The lock of the screen, as a login service and a screen saver tell it over a real bus; and who else may say so."""

from __future__ import annotations

import asyncio
import select
import subprocess
import sys
import time
from collections.abc import Callable

from dbus_fast import Message, MessageType, Variant
from dbus_fast.aio import MessageBus

from nub_shift.desktop_bus.bus import Bus
from nub_shift.desktop_bus.screen_lock import ScreenLock

LIMIT_S = 20
SAVER = "org.gnome.ScreenSaver"
LOGIN = "org.freedesktop.login1"
SESSION = "/org/freedesktop/login1/session/_31"
COMMAND = """\
"$1" -m tests.desktop_bus.test_screen_lock services & services=$!
"$1" -m tests.desktop_bus.test_screen_lock person
status=$?
kill $services
exit $status
"""


async def play_services() -> None:
    """A login service and a screen saver; what they are to do next is asked of them by the name of a method."""
    bus, stranger = await MessageBus().connect(), await MessageBus().connect()

    def say_lock(on: bool) -> None:
        body = [f"{LOGIN}.Session", {"LockedHint": Variant("b", on)}, []]
        bus.send(Message.new_signal(SESSION, "org.freedesktop.DBus.Properties", "PropertiesChanged", "sa{sv}as", body))

    def say_active(sender: MessageBus, on: bool) -> None:
        sender.send(Message.new_signal("/saver", SAVER, "ActiveChanged", "b", [on]))

    acts: dict[str, Callable[[], None]] = {
        "Lock": lambda: say_lock(True),
        "Unlock": lambda: say_lock(False),
        "Save": lambda: say_active(bus, True),
        "Wake": lambda: say_active(bus, False),
        "Lie": lambda: say_active(stranger, True),
    }

    def take(call: Message) -> Message | None:
        if call.message_type is not MessageType.METHOD_CALL:
            return None
        if call.member == "GetUser":
            return Message.new_method_return(call, "o", ["/org/freedesktop/login1/user/_0"])
        if call.member == "Get":
            return Message.new_method_return(call, "v", [Variant("(so)", ["1", SESSION])])
        if call.member == "GetAll":
            values = {"LockedHint": Variant("b", False), "Active": Variant("b", True)}
            return Message.new_method_return(call, "a{sv}", [values])
        if call.member in acts:
            acts[call.member]()
            return Message.new_method_return(call)
        return None

    bus.add_message_handler(take)
    await bus.request_name(SAVER)
    await bus.request_name(LOGIN)
    await asyncio.sleep(LIMIT_S)


def watch() -> None:
    """What comes of it, step by step."""
    from jeepney import DBusAddress, message_bus

    bus = Bus.open()
    assert bus is not None
    while not (bus.call_blocking(message_bus, "NameHasOwner", ("s", (LOGIN,))) or (False,))[0]:
        pass  # it is not there yet
    lock = ScreenLock(lambda: None)
    lock.follow_savers(bus)
    lock.follow_login(bus)
    service = DBusAddress("/", bus_name=LOGIN, interface="org.example.Play")

    def until(act: str, locked: bool) -> None:
        """Has it done again and again: what is said before it is listened to is lost."""
        end = time.monotonic() + LIMIT_S
        while lock.locked is not locked:
            assert time.monotonic() < end, "never so"
            bus.call_blocking(service, act, ("", ()))
            select.select([bus], [], [], 0.1)
            bus.take()

    for act, locked in (("Lock", True), ("Unlock", False), ("Save", True), ("Wake", False)):
        until(act, locked)
        bus.call_blocking(service, "Lie", ("", ()))
        bus.take()
        assert lock.locked is locked, "only the saver itself says that it is there"
    until("Lock", True)
    lock.forget()  # as where the bus has gone
    assert not lock.locked


def test_a_locked_screen_is_told_by_whom_it_concerns_alone() -> None:
    command = ["dbus-run-session", "--", "sh", "-c", COMMAND, "sh", sys.executable]
    done = subprocess.run(command, capture_output=True, text=True, timeout=3 * LIMIT_S, check=False)
    assert done.returncode == 0, done.stderr


if __name__ == "__main__":
    if sys.argv[1] == "services":
        asyncio.run(play_services())
    else:
        watch()

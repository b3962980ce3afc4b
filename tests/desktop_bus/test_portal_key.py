"""The key that stops everything, from a desktop that hands keys out: its portal is played over a real session bus."""

from __future__ import annotations

import asyncio
import select
import subprocess
import sys
import time
from typing import Any

import pytest
from dbus_fast import Message, MessageType, Variant
from dbus_fast.aio import MessageBus

from nub_shift.desktop_bus.bus import Bus
from nub_shift.desktop_bus.portal_key import PortalKey
from nub_shift.desktop_bus.shortcuts import SHORTCUTS, has_shortcut_portal

LIMIT_S = 20
SESSION = """\
"$1" -m tests.desktop_bus.test_portal_key portal "$2" & portal=$!
"$1" -m tests.desktop_bus.test_portal_key person
status=$?
kill $portal
exit $status
"""


async def play_portal(lets: bool) -> None:
    """Hands the key out if the person lets it, and has it pressed at once, with another one that is not ours."""
    bus = await MessageBus().connect()

    def say(path: str, interface: str, member: str, signature: str, *body: Any) -> None:
        bus.send(Message.new_signal(path, interface, member, signature, list(body)))

    def take(call: Message) -> Message | None:
        if call.message_type is not MessageType.METHOD_CALL or call.path != SHORTCUTS.object_path:
            return None
        if call.member == "Get":
            return Message.new_method_return(call, "v", [Variant("u", 1)])
        if call.member == "Register":
            return Message.new_error(call, "org.freedesktop.DBus.Error.UnknownMethod", "an older portal")
        options = call.body[-1]
        sender = str(call.sender).removeprefix(":").replace(".", "_")
        request = f"{call.path}/request/{sender}/{options['handle_token'].value}"
        session = f"{call.path}/session/{sender}"
        results = {"session_handle": Variant("s", session)}
        if call.member == "BindShortcuts":
            (ours,) = call.body[1]
            assert ours[1]["preferred_trigger"].value == "Pause"
            bound = [[ours[0], {"trigger_description": Variant("s", "Ctrl+Pause")}]]
            results = {"shortcuts": Variant("a(sa{sv})", bound)}
        refused = call.member == "BindShortcuts" and not lets
        # Before the call returns, as a quick portal may.
        say(request, "org.freedesktop.portal.Request", "Response", "ua{sv}", int(refused), results)
        if call.member == "BindShortcuts" and lets:
            for pressed in ("another", ours[0]):
                say(SHORTCUTS.object_path, SHORTCUTS.interface, "Activated", "osta{sv}", session, pressed, 0, {})
        return Message.new_method_return(call, "o", [request])

    bus.add_message_handler(take)
    await bus.request_name(SHORTCUTS.bus_name)
    await asyncio.sleep(LIMIT_S)


def wait() -> None:
    """What comes of it, a word for each thing."""
    end = time.monotonic() + LIMIT_S
    while not has_shortcut_portal() and time.monotonic() < end:
        pass  # the portal is not there yet
    bus = Bus.open()
    assert bus is not None
    came: list[str] = []
    key = PortalKey(bus, "Stop", "org.example.Stop", lambda: came.append("pressed"), came.append)
    key.begin(lambda: came.append("refused"))
    while not {"pressed", "refused"} & set(came) and time.monotonic() < end:
        select.select([bus], [], [], LIMIT_S)
        bus.take()
    print(*came)


@pytest.mark.parametrize(("lets", "came"), [("lets", "Ctrl+Pause pressed"), ("refuses", "refused")])
def test_a_desktop_hands_out_the_key_that_stops_everything(lets: str, came: str) -> None:
    command = ["dbus-run-session", "--", "sh", "-c", SESSION, "sh", sys.executable, lets]
    done = subprocess.run(command, capture_output=True, text=True, timeout=2 * LIMIT_S, check=False)
    assert done.stdout.strip() == came, done.stderr


if __name__ == "__main__":
    if sys.argv[1] == "portal":
        asyncio.run(play_portal(sys.argv[2] == "lets"))
    else:
        wait()

"""What assistive tools are told of the real window, over a session's own accessibility bus."""

from __future__ import annotations

import asyncio
import os
import subprocess
import sys
from collections.abc import AsyncIterator
from contextlib import suppress
from dataclasses import dataclass
from pathlib import Path

import pytest
from dbus_fast import Message, MessageType
from dbus_fast.aio import MessageBus

from tests.xserver import x_process

LIMIT_S = 40
LAUNCHER = Path("/usr/libexec/at-spi-bus-launcher")
SESSION = """\
"$1" --launch-immediately & launcher=$!
"$2" -m nub_shift demo --seconds 60 & window=$!
"$2" -m tests.ui.test_roles
status=$?
kill $window $launcher
exit $status
"""
_ACCESSIBLE = "org.a11y.atspi.Accessible"
# Whoever has one of these can be worked, and must have a name.
WORKED = {"push button", "check box", "radio button", "text", "spin button", "page tab", "list item", "table"}


@dataclass(frozen=True)
class Node:
    """One thing in the tree."""

    role: str
    name: str
    owner: str
    path: str


async def call(bus: MessageBus, owner: str, path: str, interface: str, member: str, *arguments: object) -> object:
    """Calls a method whose arguments are strings and numbers; returns what it gives."""
    kinds = "".join("s" if isinstance(argument, str) else "i" for argument in arguments)
    requested = Message(
        destination=owner, path=path, interface=interface, member=member, signature=kinds, body=list(arguments)
    )
    reply = await bus.call(requested)
    assert reply is not None and reply.message_type is not MessageType.ERROR, (member, reply and reply.body)
    return reply.body[0] if reply.body else None


async def named(bus: MessageBus, owner: str, path: str) -> str:
    found = await call(bus, owner, path, "org.freedesktop.DBus.Properties", "Get", _ACCESSIBLE, "Name")
    return str(getattr(found, "value", ""))


async def walk(bus: MessageBus, owner: str, path: str) -> AsyncIterator[Node]:
    role = await call(bus, owner, path, _ACCESSIBLE, "GetRoleName")
    yield Node(str(role), await named(bus, owner, path), owner, path)
    children = await call(bus, owner, path, _ACCESSIBLE, "GetChildren")
    assert isinstance(children, list)
    for child_owner, child in children:
        async for node in walk(bus, child_owner, child):
            yield node


async def press(bus: MessageBus, node: Node) -> None:
    await call(bus, node.owner, node.path, "org.a11y.atspi.Action", "DoAction", 0)


async def look() -> None:
    """Within the session: the window's tree, and what is told after an act."""
    session = await MessageBus().connect()
    address = await call(session, "org.a11y.Bus", "/org/a11y/bus", "org.a11y.Bus", "GetAddress")
    bus = await MessageBus(bus_address=str(address)).connect()
    root = ("org.a11y.atspi.Registry", "/org/a11y/atspi/accessible/root")
    nodes: list[Node] = []
    while not any(node.name.startswith("Pad: Tern") for node in nodes):
        await asyncio.sleep(0.3)
        with suppress(AssertionError):  # what was there has gone meanwhile
            nodes = [node async for node in walk(bus, *root)]
    found: dict[str, list[str]] = {}
    for node in nodes:
        found.setdefault(node.role, []).append(node.name)
    assert found["frame"] == ["Saltglass Keeper – Nub Shift"]
    assert found["page tab"] == ["Pads", "Map", "Feel", "Try", "Play", "Library"]
    assert found["radio button"][:2] == ["Layer Base", "Layer Lamp"]
    assert "Walk forward, Left stick up; layer A" in found["list item"]
    assert {"Left trigger", "Left stick, across", "Left stick, down"} <= set(found["progress bar"])
    assert any(name.startswith("Pad: Tern") for name in found["label"])
    assert any(name.startswith("Tape of the last seconds. Pad:") for name in found["label"])
    assert any(name.startswith("Left stick. Left stick up: Walk forward") for name in found["push button"])
    assert not [node for node in nodes if node.role in WORKED and not node.name]
    (status,) = (node for node in nodes if node.role == "status bar")
    await press(bus, next(node for node in nodes if node.name == "New layer"))
    while not (said := await named(bus, status.owner, status.path)).startswith("Saved: New layer"):
        await asyncio.sleep(0.2)
    assert said
    values: set[float] = set()
    stick = next(node for node in nodes if node.name == "Left stick, across")
    while len(values) < 2:  # the simulated pad moves it
        got = await call(
            bus,
            stick.owner,
            stick.path,
            "org.freedesktop.DBus.Properties",
            "Get",
            "org.a11y.atspi.Value",
            "CurrentValue",
        )
        values.add(getattr(got, "value", 0.0))
        await asyncio.sleep(0.1)


@pytest.mark.skipif(not LAUNCHER.exists(), reason="this system has no accessibility bus of that kind")
def test_stations_layers_controls_and_messages_have_their_real_roles(tmp_path: Path) -> None:
    with x_process() as (name, _):
        environment = {key: value for key, value in os.environ.items() if key != "QT_QPA_PLATFORM"}
        homes = {f"XDG_{kind}_HOME": str(tmp_path / kind) for kind in ("DATA", "CONFIG", "STATE", "CACHE")}
        runtime = tmp_path / "run"
        runtime.mkdir(mode=0o700)
        always = {"QT_LINUX_ACCESSIBILITY_ALWAYS_ON": "1", "XDG_RUNTIME_DIR": str(runtime), "DISPLAY": name}
        command = ["dbus-run-session", "--", "sh", "-c", SESSION, "sh", str(LAUNCHER), sys.executable]
        done = subprocess.run(
            command, env=environment | homes | always, capture_output=True, text=True, check=False, timeout=2 * LIMIT_S
        )
        assert done.returncode == 0, done.stderr[-3000:]


if __name__ == "__main__":
    asyncio.run(asyncio.wait_for(look(), LIMIT_S))

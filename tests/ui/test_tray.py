"""The icon in the tray, over a real session bus, with a host that the test plays."""

from __future__ import annotations

import asyncio
import os
import subprocess
import sys
from pathlib import Path
from typing import Any

from dbus_fast import Message, MessageType, PropertyAccess, Variant
from dbus_fast.aio import MessageBus
from dbus_fast.service import ServiceInterface, dbus_method, dbus_property

from nub_shift.demo.games import demo_profile_text
from nub_shift.protocol.messages import State
from tests.ui.test_signs import Playing

LIMIT_S = 60
WATCHER = "org.kde.StatusNotifierWatcher"
ITEM = "org.kde.StatusNotifierItem"
MENU = "com.canonical.dbusmenu"


class Watcher(ServiceInterface):
    """Hears of icons."""

    def __init__(self) -> None:
        super().__init__(WATCHER)
        self.items: asyncio.Queue[str] = asyncio.Queue()

    @dbus_method()
    def RegisterStatusNotifierItem(self, service: "s"):  # type: ignore[name-defined,no-untyped-def]  # noqa: N802, F821, UP037
        self.items.put_nowait(service)

    @dbus_method()
    def RegisterStatusNotifierHost(self, service: "s"):  # type: ignore[name-defined,no-untyped-def]  # noqa: N802, F821, UP037
        """There is one."""

    @dbus_property(access=PropertyAccess.READ)
    def IsStatusNotifierHostRegistered(self) -> "b":  # type: ignore[name-defined]  # noqa: N802, F821, UP037
        return True

    @dbus_property(access=PropertyAccess.READ)
    def ProtocolVersion(self) -> "i":  # type: ignore[name-defined]  # noqa: N802, F821, UP037
        return 0


class Icon:
    """One icon, as a desktop's panel sees it."""

    def __init__(self, bus: MessageBus, service: str) -> None:
        self._bus = bus
        self._service = service

    async def call(self, path: str, interface: str, member: str, signature: str, *body: Any) -> list[Any]:
        """What a method answers."""
        requested = Message(self._service, path, interface, member, signature=signature, body=list(body))
        answer = await self._bus.call(requested)
        assert answer is not None and answer.message_type is MessageType.METHOD_RETURN, answer and answer.body
        return answer.body

    async def tip(self) -> str:
        """What is told of it."""
        (found,) = await self.call(
            "/StatusNotifierItem", "org.freedesktop.DBus.Properties", "Get", "ss", ITEM, "ToolTip"
        )
        return str(found.value[3])

    async def entries(self) -> dict[str, int]:
        """The entries of its menu, with those of its submenus, by what they are called."""
        await self.call("/MenuBar", MENU, "AboutToShow", "i", 0)
        _, (_, _, rows) = await self.call("/MenuBar", MENU, "GetLayout", "iias", 0, -1, [])
        found = {}
        while rows:
            number, properties, inner = rows.pop(0).value
            if "label" in properties:
                found[str(properties["label"].value).replace("_", "")] = int(number)
            rows += inner
        return found

    async def choose(self, entry: str) -> None:
        """As if it were clicked."""
        number = (await self.entries())[entry]
        await self.call("/MenuBar", MENU, "Event", "isvu", number, "clicked", Variant("i", 0), 0)


async def host(folder: Path) -> None:
    """Plays the panel, and a person at it."""
    bus = await MessageBus().connect()
    watcher = Watcher()
    bus.export("/StatusNotifierWatcher", watcher)
    await bus.request_name(WATCHER)
    games = {game: demo_profile_text(game) for game in ("saltglass", "tidefold")}
    playing = await asyncio.to_thread(Playing, folder, games, DISPLAY=os.environ["DISPLAY"])
    home = playing.home

    async def state(wanted: Any) -> State:
        return await asyncio.to_thread(home.await_state, wanted)

    icon = Icon(bus, await asyncio.wait_for(watcher.items.get(), LIMIT_S))

    async def told(words: str) -> None:
        while words not in await icon.tip():
            await asyncio.sleep(0.02)

    await told("Live")
    assert "Saltglass Keeper · Tern two-stick pad" in await icon.tip()
    await icon.choose("Live")
    await state(lambda now: not now.live)
    await told("Rehearsal")
    await icon.choose("Live")
    await state(lambda now: now.live)
    await told("Live")
    await icon.choose("Tidefold")
    await state(lambda now: now.seats[0].title == "Tidefold")
    await told("Tidefold")
    await icon.choose("Stop everything")
    await state(lambda now: now.halted)
    while "Play on" not in await icon.entries():
        await asyncio.sleep(0.02)
    await icon.choose("Quit")
    await asyncio.to_thread(home.ended)


def test_the_tray_says_what_plays_and_does_what_is_chosen_there(tmp_path: Path, x_server: str) -> None:
    environment = {**os.environ, "DISPLAY": x_server}
    command = ["dbus-run-session", "--", sys.executable, "-m", "tests.ui.test_tray", str(tmp_path)]
    done = subprocess.run(command, env=environment, capture_output=True, text=True, timeout=2 * LIMIT_S, check=False)
    assert done.returncode == 0, done.stderr


if __name__ == "__main__":
    asyncio.run(host(Path(sys.argv[1])))

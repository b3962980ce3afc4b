"""The window in front where no protocol for it is at hand: as KWin tells over D-Bus, and by which game runs."""

from __future__ import annotations

import asyncio
import os
import subprocess
import sys
from pathlib import Path

import pytest
from dbus_fast import Message, MessageType
from dbus_fast.aio import MessageBus
from dbus_fast.service import ServiceInterface, dbus_method
from PyQt6.QtCore import QCoreApplication, QTimer
from pytestqt.qtbot import QtBot

from nub_shift.model.comes_on import Front
from nub_shift.store.atomic import write_text
from nub_shift.store.library import library_folder
from nub_shift.ui.signs.front_watch import FrontWatch
from nub_shift.ui.signs.session_bus import SessionBus

LIMIT_MS = 20_000
SESSION = """\
"$1" -m tests.ui.test_front_watch kwin & kwin=$!
"$1" -m tests.ui.test_front_watch watch
status=$?
kill $kwin
exit $status
"""


class KWin(ServiceInterface):
    """Takes a script, and does what that would."""

    def __init__(self) -> None:
        super().__init__("org.kde.kwin.Scripting")
        self.loaded: asyncio.Queue[str] = asyncio.Queue()
        self._service = ""

    @dbus_method()
    def unloadScript(self, name: "s") -> "b":  # type: ignore[name-defined]  # noqa: ARG002, N802, F821, UP037
        return True

    @dbus_method()
    def loadScript(self, path: "s", name: "s") -> "i":  # type: ignore[name-defined]  # noqa: ARG002, N802, F821, UP037
        self._service = Path(path).read_text().split('callDBus("')[1].split('"')[0]
        return 0

    @dbus_method()
    def start(self):  # type: ignore[no-untyped-def]
        self.loaded.put_nowait(self._service)


async def play_kwin() -> None:
    bus = await MessageBus().connect()
    kwin = KWin()
    bus.export("/Scripting", kwin)
    await bus.request_name("org.kde.KWin")
    service = await kwin.loaded.get()
    for window in (("{1}", "org.salt.Glass", "Saltglass", str(os.getpid())), ("", "", "", "0")):
        asked = Message(service, "/front", "org.nubshift.Front", "told", signature="ssss", body=list(window))
        answer = await bus.call(asked)
        assert answer is not None and answer.message_type is MessageType.METHOD_RETURN, answer and answer.body
    await asyncio.sleep(60)


def watch() -> None:
    """What is told of it."""
    application = QCoreApplication([])
    told: list[Front] = []

    def tell(front: Front) -> None:
        told.append(front)
        if len(told) == 2:
            application.quit()

    watching = FrontWatch(SessionBus.open(), tell)
    QTimer.singleShot(1000, watching.begin)  # KWin is there by then
    QTimer.singleShot(LIMIT_MS, application.quit)
    application.exec()
    watching.end()
    first, last = told
    assert (first.names, first.title) == (("org.salt.Glass", "Glass"), "Saltglass")
    assert "tests.ui.test_front_watch" in first.arguments and last == Front()


def test_kwin_tells_of_windows_and_their_programs() -> None:
    environment = {name: value for name, value in os.environ.items() if name != "DISPLAY"}
    environment["WAYLAND_DISPLAY"] = "none-that-answers"
    command = ["dbus-run-session", "--", "sh", "-c", SESSION, "sh", sys.executable]
    done = subprocess.run(command, env=environment, capture_output=True, text=True, timeout=60, check=False)
    assert done.returncode == 0, done.stderr


def test_where_no_window_is_told_a_game_that_runs_is(qtbot: QtBot, monkeypatch: pytest.MonkeyPatch) -> None:
    for name in ("DISPLAY", "WAYLAND_DISPLAY"):
        monkeypatch.delenv(name, raising=False)
    mark = f"made-up-game-{os.getpid()}"
    text = f'schema = 3\ntitle = "Game"\n[[comes_on.rules]]\nargument = "{mark}"\n'
    write_text(library_folder() / "game.toml", text)
    game = subprocess.Popen([sys.executable, "-c", "import sys; sys.stdin.read()", mark], stdin=subprocess.PIPE)
    told: list[Front] = []
    watching = FrontWatch(None, told.append)
    try:
        watching.begin()
        qtbot.waitUntil(lambda: bool(told) and mark in told[-1].arguments, timeout=LIMIT_MS)
    finally:
        game.communicate()
    qtbot.waitUntil(lambda: told[-1] == Front(), timeout=LIMIT_MS)
    watching.end()


if __name__ == "__main__":
    if sys.argv[1] == "kwin":
        asyncio.run(play_kwin())
    else:
        watch()

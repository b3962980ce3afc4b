"""The window in front, and who has the keyboard: as an X server and KWin tell, and by which game runs."""

from __future__ import annotations

import asyncio
import gc
import os
import subprocess
import sys
from collections.abc import Callable, Iterator
from pathlib import Path
from typing import Any

import pytest
from dbus_fast import Message, MessageType
from dbus_fast.aio import MessageBus
from dbus_fast.service import ServiceInterface, dbus_method
from jeepney import message_bus
from Xlib import X, Xatom, display

from nub_shift.desktop_bus.bus import Bus
from nub_shift.model.profile.activation import Front
from nub_shift.session_watch.front_watch import FrontWatch
from nub_shift.store.atomic import write_text
from nub_shift.store.library import library_folder
from tests.xserver import x_process

LIMIT_S = 20
SESSION = """\
"$1" -m tests.session_watch.test_front_watch kwin & kwin=$!
"$1" -m tests.session_watch.test_front_watch watch
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
        requested = Message(service, "/front", "org.nubshift.Front", "told", signature="ssss", body=list(window))
        answer = await bus.call(requested)
        assert answer is not None and answer.message_type is MessageType.METHOD_RETURN, answer and answer.body
    await asyncio.sleep(60)


class Watched:
    """What is told of a session."""

    def __init__(self, bus: Bus | None = None) -> None:
        self.loop = asyncio.new_event_loop()
        self.fronts: list[Front] = []
        self.taken: list[bool] = []
        self.gone: list[bool] = []
        if bus is not None:
            self.loop.add_reader(bus.fileno(), bus.take)
        self.watch = FrontWatch(self.loop, bus, self.fronts.append, self.taken.append, self.gone.append)

    def until(self, wanted: Callable[[], object]) -> None:
        """Goes on until something is so."""

        async def wait() -> None:
            while not wanted():
                await asyncio.sleep(0.01)

        self.loop.run_until_complete(asyncio.wait_for(wait(), LIMIT_S))

    def until_titled(self, title: str) -> None:
        """Goes on until the window in front has that title."""
        self.until(lambda: self.fronts and self.fronts[-1].title == title)

    def end(self) -> None:
        self.watch.end()
        self.until(lambda: True)
        self.loop.run_until_complete(self.loop.shutdown_default_executor())
        self.loop.close()


def watch() -> None:
    """What KWin tells."""
    bus = Bus.open()
    assert bus is not None
    watched = Watched(bus)
    while not bus.call_blocking(message_bus, "NameHasOwner", ("s", ("org.kde.KWin",)))[0]:  # type: ignore[index]
        pass
    watched.watch.begin()
    watched.until(lambda: len(watched.fronts) == 2)
    first, last = watched.fronts
    assert (first.names, first.title) == (("org.salt.Glass", "Glass"), "Saltglass")
    assert "tests.session_watch.test_front_watch" in first.arguments and last == Front()
    watched.end()


def test_kwin_tells_of_windows_and_their_programs() -> None:
    environment = {name: value for name, value in os.environ.items() if name != "DISPLAY"}
    environment["WAYLAND_DISPLAY"] = "none-that-answers"
    command = ["dbus-run-session", "--", "sh", "-c", SESSION, "sh", sys.executable]
    done = subprocess.run(command, env=environment, capture_output=True, text=True, timeout=60, check=False)
    assert done.returncode == 0, done.stderr


def test_where_no_window_is_told_a_game_that_runs_is() -> None:
    mark = f"made-up-game-{os.getpid()}"
    text = f'schema = 4\ntitle = "Game"\n[[comes_on.rules]]\nargument = "{mark}"\n'
    write_text(library_folder() / "game.toml", text)
    game = subprocess.Popen([sys.executable, "-c", "import sys; sys.stdin.read()", mark], stdin=subprocess.PIPE)
    watched = Watched()
    try:
        watched.watch.begin()
        watched.until(lambda: watched.fronts and mark in watched.fronts[-1].arguments)
    finally:
        game.communicate()
    watched.until(lambda: watched.fronts[-1] == Front())
    watched.end()


@pytest.fixture
def watched(x_server: str, monkeypatch: pytest.MonkeyPatch) -> Iterator[Watched]:
    monkeypatch.setenv("DISPLAY", x_server)
    made = Watched()
    made.watch.begin()
    yield made
    made.end()


class Session:
    """What a window manager and programs do on an X server."""

    def __init__(self, name: str) -> None:
        self.display = display.Display(name)
        self.root = self.display.screen().root

    def window(self, title: str, **more: object) -> Any:
        """A window of that title, of which the server says when it is there."""
        made = self.root.create_window(0, 0, 300, 200, 0, X.CopyFromParent, event_mask=X.StructureNotifyMask, **more)
        made.set_wm_class(title.lower(), title)
        made.set_wm_name(title)
        made.map()
        while self.display.next_event().type != X.MapNotify:
            pass
        return made

    def bring_to_front(self, window: Any) -> None:
        """As a window manager does."""
        active = self.display.intern_atom("_NET_ACTIVE_WINDOW")
        self.root.change_property(active, Xatom.WINDOW, 32, [window.id], X.PropModeReplace)
        window.set_input_focus(X.RevertToParent, X.CurrentTime)
        self.display.sync()


def test_a_window_with_the_number_of_another_is_another(watched: Watched, x_server: str) -> None:
    told = []
    numbers = set()
    for title in ("First", "Second"):
        session = Session(x_server)
        window = session.window(title)
        numbers.add(window.id)
        session.bring_to_front(window)
        watched.until_titled(title)
        told.append(watched.fronts[-1].window)
        window.set_wm_name(f"{title} 2")
        session.display.sync()
        watched.until_titled(f"{title} 2")
        assert watched.fronts[-1].window == told[-1], "another title is the same window"
        session.display.close()
    assert len(numbers) == 1, "the server has used its number again"
    assert len(set(told)) == 2


def test_a_program_that_takes_the_keyboard_is_told_until_it_gives_it_back(watched: Watched, x_server: str) -> None:
    session, locker = Session(x_server), Session(x_server)
    game = session.window("Game")
    session.bring_to_front(game)
    watched.until_titled("Game")
    over = locker.window("Locker", override_redirect=True)
    for grabbed in (over, locker.root):
        assert grabbed.grab_keyboard(True, X.GrabModeAsync, X.GrabModeAsync, X.CurrentTime) == X.GrabSuccess
        watched.until(lambda: watched.taken[-1])
        locker.display.ungrab_keyboard(X.CurrentTime)
        locker.display.sync()
        watched.until(lambda: not watched.taken[-1])
    over.set_input_focus(X.RevertToParent, X.CurrentTime)
    locker.display.sync()
    watched.until(lambda: watched.taken[-1])
    session.bring_to_front(game)
    watched.until(lambda: not watched.taken[-1])
    before = len(watched.taken)
    assert game.grab_keyboard(True, X.GrabModeAsync, X.GrabModeAsync, X.CurrentTime) == X.GrabSuccess
    game.set_wm_name("Still the game")
    session.display.sync()
    watched.until_titled("Still the game")
    assert True not in watched.taken[before:], "the game itself may grab it"
    locker.display.close()
    session.display.close()


# The X library leaves the sockets it tried to the garbage collector.
@pytest.mark.filterwarnings("ignore::pytest.PytestUnraisableExceptionWarning", "ignore::ResourceWarning")
def test_a_server_that_ends_is_told_and_the_one_in_its_place_is_watched(monkeypatch: pytest.MonkeyPatch) -> None:
    with x_process() as (name, server):
        monkeypatch.setenv("DISPLAY", name)
        watched = Watched()
        watched.watch.begin()
        watched.until(lambda: watched.gone == [False])
        session = Session(name)
        session.bring_to_front(session.window("Game"))
        watched.until_titled("Game")
        server.kill()
        watched.until(lambda: watched.gone[-1])
        assert watched.fronts[-1] == Front()
    with x_process(name) as (name, server):
        watched.until(lambda: not watched.gone[-1])
        session = Session(name)
        session.bring_to_front(session.window("Game"))
        watched.until_titled("Game")
        watched.end()
        session.display.close()
    gc.collect()


if __name__ == "__main__":
    if sys.argv[1] == "kwin":
        asyncio.run(play_kwin())
    else:
        watch()

"""Watch of the window in front and of the keyboard, by the session's display server."""

from __future__ import annotations

import asyncio
import logging
from collections.abc import Callable
from dataclasses import replace
from pathlib import Path
from typing import Final

import nub_shift.front
from nub_shift.desktop_bus.bus import Bus
from nub_shift.desktop_bus.kwin_watch import KWinWatch, KWinWindow
from nub_shift.front.connecting import connect
from nub_shift.front.processes import program_of, started_at
from nub_shift.front.windows import Windows, has_display, is_wayland
from nub_shift.model.profile.activation import Front
from nub_shift.protocol.sockets import runtime_folder
from nub_shift.session_watch.numbers import WindowNumbers
from nub_shift.session_watch.retry import Retry
from nub_shift.store.atomic import write_text

log = logging.getLogger("nub_shift.session_watch")

# Interval of looking at running programs, without reports of windows.
EVERY_S: Final = 2.0
# Shortest pause-worthy time of a grab, which may be a shortcut of the desktop, or of a focus about to move.
SETTLE_S: Final = 0.15
_SCRIPT: Final = Path(nub_shift.front.__path__[0]) / "kwin_script.js"


class FrontWatch:
    """Watches the display server, or KWin; after its end, the next one.

    Where no source reports all windows, running programs are checked periodically: a running game counts as in front
    while no known window is.
    """

    def __init__(
        self,
        loop: asyncio.AbstractEventLoop,
        bus: Bus | None,
        notify: Callable[[Front], None],
        report_taken: Callable[[bool], None],
        report_gone: Callable[[bool], None],
        uses_compositor: bool = True,
    ) -> None:
        """`report_taken` receives whether another program has the keyboard, `report_gone` whether the display has gone.

        `uses_compositor` is whether the Wayland compositor reports windows.
        """
        self._loop = loop
        self._bus = bus
        self._asks_compositor = uses_compositor
        self._notify = notify
        self._report_taken = report_taken
        self._report_gone = report_gone
        self._numbers = WindowNumbers()
        self._told: Front | None = None
        self._window = Front()
        self._running = Front()
        self._windows: Windows | None = None
        self._reported_all = False  # whether a source of all windows was present
        self._kwin: KWinWatch | None = None
        self._again = Retry(loop, self._connect)
        self._settling: asyncio.TimerHandle | None = None
        self._looking: asyncio.TimerHandle | None = None
        self._looks = False  # whether running programs are checked periodically

    def begin(self) -> None:
        """Begins to watch."""
        self._again.begin()

    def end(self) -> None:
        """Ends the watch."""
        self._again.end()
        if self._kwin is not None:
            self._kwin.end()
        for timer in (self._settling, self._looking):
            if timer is not None:
                timer.cancel()
        self._settling = self._looking = None
        self._hang_up()

    def _hang_up(self) -> None:
        windows, self._windows = self._windows, None
        if windows is not None:
            self._loop.remove_reader(windows.fileno())
            windows.close()

    def _connect(self) -> bool:
        """Connects; returns whether no retry is needed: connected, or a session without a display."""
        windows = connect(self._asks_compositor)
        reports_all = windows is not None and windows.reports_all
        if has_display() and not reports_all and (self._reported_all or not is_wayland()):
            if windows is not None:
                windows.close()  # the X server of a lost compositor may still be present
            self._report_gone(True)
            return False
        self._reported_all = reports_all
        self._report_gone(False)
        if not reports_all:
            self._ask_kwin()
        if windows is not None:
            self._windows = windows
            try:
                windows.follow()
                self._look()
            except OSError:
                self._on_gone()
                return True  # retried from the beginning
            self._loop.add_reader(windows.fileno(), self._on_news)
            self._on_news()  # events read during queries are queued in the library, and wake no poll
        return True

    def _on_gone(self) -> None:
        self._hang_up()
        self._numbers.forget(list(self._numbers.keys))
        self._window = Front()
        self._say()
        self._report_gone(self._reported_all)  # an X server inside a Wayland session comes and goes on demand
        self._again.begin(at_once=False)

    def _ask_kwin(self) -> None:
        """Uses KWin's reports of all windows if available; otherwise checks programs."""

        def began(tells: bool) -> None:
            if tells:
                self._hang_up()
            elif not self._looks:
                self._looks = True
                self._look_around()

        if self._bus is None or not is_wayland():
            began(False)
            return
        self._kwin = KWinWatch(self._bus, _write_script, self._on_kwin)
        self._kwin.begin(_SCRIPT.read_text("utf-8"), began)

    def _on_kwin(self, window: KWinWindow | None) -> None:
        self._window = Front()
        if window is not None:
            names = tuple(dict.fromkeys(name for name in (window.kind, window.kind.rpartition(".")[2]) if name))
            programs, path, arguments = program_of(window.pid) if window.pid else ((), "", ())
            number = self._number(window.key, window.pid)
            self._window = Front(number, names, window.title, programs, path, arguments, window.pid)
        self._say()

    def _on_news(self) -> None:
        windows = self._windows
        if windows is None:
            return
        try:
            while windows.came():  # events read during queries are queued in the library, and wake no poll
                self._look()
        except OSError:
            self._on_gone()

    def _look(self) -> None:
        assert self._windows is not None
        gone, self._windows.gone = self._windows.gone, set()
        self._numbers.forget(gone)
        front = self._windows.look(self._windows.in_front())
        if front.window:
            front = replace(front, window=self._number(front.window, front.process), shown_as=front.window)
        self._window = front
        self._say()
        self._judge_keyboard()

    def _number(self, key: object, pid: int) -> int:
        return self._numbers.number_of(key, (pid, started_at(pid) if pid else 0))

    def _judge_keyboard(self) -> None:
        """Reports whether another program has the keyboard: at once if certain, otherwise after a while."""
        assert self._windows is not None
        if self._settling is not None:
            self._settling.cancel()
            self._settling = None
        match self._windows.keyboard_taken():
            case None:
                self._settling = self._loop.call_later(SETTLE_S, self._on_settled)
            case taken:
                self._report_taken(taken)

    def _on_settled(self) -> None:
        self._settling = None
        if self._windows is not None:
            try:
                self._report_taken(self._windows.keyboard_taken() is not False)
            except OSError:
                self._on_gone()

    def _look_around(self) -> None:
        async def look() -> None:
            try:
                running = await self._loop.run_in_executor(None, _running)
            except Exception:  # a failed check costs only that check
                log.exception("what runs")
                running = self._running
            if running.window:
                running = replace(running, window=self._number(("process", running.process), running.process))
            self._running = running
            self._say()
            self._looking = self._loop.call_later(EVERY_S, self._look_around)

        self._looking_task = self._loop.create_task(look())

    def _say(self) -> None:
        front = self._window if self._window.window else self._running
        if front != self._told:
            self._told = front
            self._notify(front)


def _running() -> Front:
    """Returns the running game, by the rules of the library's profiles."""
    from nub_shift.front.running import newest_running
    from nub_shift.store.library import library_folder, rules_in

    return newest_running([rule for _, _, comes_on in rules_in([library_folder()]) for rule in comes_on.rules])


def _write_script(text: str) -> Path:
    path = runtime_folder() / "nub-shift-front.js"
    write_text(path, text)
    return path

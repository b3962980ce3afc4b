"""Tells the runner of the window in front, and of the keyboard layout: that takes libraries that it does without."""

from __future__ import annotations

from collections.abc import Callable
from threading import Thread
from typing import TYPE_CHECKING, Final

from PyQt6.QtCore import QObject, QTimer, pyqtSignal

from nub_shift.front.windows import Windows, connect, is_wayland
from nub_shift.keyboard.layout_watch import LayoutWatch
from nub_shift.model.comes_on import Front
from nub_shift.ui.listening import Listening

if TYPE_CHECKING:
    from nub_shift.ui.signs.kwin_watch import KWinWatch
    from nub_shift.ui.signs.session_bus import SessionBus

# How often the programs that run are looked at, where nothing tells.
EVERY_MS: Final = 2_000


class FrontWatch(QObject):
    """Listens to whatever tells of windows in this session.

    Where that does not know of all of them, the programs that run are looked at every now and then as well: a game that
    runs counts as in front while no window that is known is.
    """

    _ran = pyqtSignal(object)

    def __init__(self, bus: SessionBus | None, tell: Callable[[Front], None], asks_compositor: bool = True) -> None:
        super().__init__()
        self._bus = bus
        self._asks_compositor = asks_compositor
        self._tell = tell
        self._told: Front | None = None
        self._window = Front()
        self._running = Front()
        self._looking = False
        self._kwin: KWinWatch | None = None
        self._listening: Listening[Windows] = Listening(self)
        self._listening.news.connect(self._on_news)
        self._timer = QTimer(self)
        self._timer.setInterval(EVERY_MS)
        self._timer.timeout.connect(self._look_around)
        self._ran.connect(self._on_ran)

    def begin(self) -> None:
        """Tells from now on."""
        windows = connect(self._asks_compositor)
        if (windows is None or not windows.tells_all) and self._ask_kwin():
            return
        if windows is None or not windows.tells_all:
            self._timer.start()
            self._look_around()
        if windows is None:
            return
        try:
            windows.follow()
            self._look(windows)
        except OSError:
            return
        self._listening.begin(windows)
        self._on_news()  # what came while we asked waits in the library, and wakes nobody

    def end(self) -> None:
        """Tells no more."""
        if self._kwin is not None:
            self._kwin.end()
        self._timer.stop()
        self._listening.end()

    def _ask_kwin(self) -> bool:
        """Whether KWin is there and tells of all windows."""
        if self._bus is None or not is_wayland():
            return False
        from nub_shift.ui.signs.kwin_watch import KWinWatch

        self._kwin = KWinWatch(self._bus, self._on_window)
        return self._kwin.begin()

    def _on_window(self, front: Front) -> None:
        self._window = front
        self._say()

    def _on_news(self) -> None:
        windows = self._listening.connection
        if windows is None:
            return
        try:
            while windows.came():  # what comes while we ask waits in the library, and wakes nobody
                self._look(windows)
        except OSError:  # the session is over
            self.end()

    def _look(self, windows: Windows) -> None:
        self._window = windows.look(windows.in_front())
        self._say()

    def _look_around(self) -> None:
        if not self._looking:
            self._looking = True
            Thread(target=lambda: self._ran.emit(_running()), daemon=True).start()

    def _on_ran(self, running: Front) -> None:
        self._looking = False
        self._running = running
        self._say()

    def _say(self) -> None:
        front = self._window if self._window.window else self._running
        if front != self._told:
            self._told = front
            self._tell(front)


def _running() -> Front:
    """The game that runs, by the rules of the library's profiles."""
    from nub_shift.front.running import newest_running
    from nub_shift.store.library import library_folder, rules_in

    return newest_running([rule for _, _, comes_on in rules_in([library_folder()]) for rule in comes_on.rules])


class KeyboardWatch(QObject):
    """Hears of another keyboard layout."""

    def __init__(self, tell: Callable[[], None]) -> None:
        super().__init__()
        self._tell = tell
        self._listening: Listening[LayoutWatch] = Listening(self)
        self._listening.news.connect(self._on_news)

    def begin(self) -> None:
        """Tells from now on, where an X server does."""
        watch = LayoutWatch.connect()
        if watch is not None:
            self._listening.begin(watch)

    def end(self) -> None:
        """Tells no more."""
        self._listening.end()

    def _on_news(self) -> None:
        watch = self._listening.connection
        try:
            if watch is not None and watch.came():
                self._tell()
        except OSError:  # the session is over
            self.end()

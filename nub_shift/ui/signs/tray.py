"""Tray icon of the runner: the profile in play, and commands without the window."""

from __future__ import annotations

from collections.abc import Callable
from contextlib import suppress
from functools import partial
from pathlib import Path

from PyQt6.QtCore import Qt
from PyQt6.QtGui import QImage, QPainter

from nub_shift.desktop import small_icon_path
from nub_shift.desktop_bus.bus import Bus
from nub_shift.editing.words.players import player_words
from nub_shift.model.profile.profile import Profile
from nub_shift.own_process import start_program
from nub_shift.protocol.calls import Call, Halt, LoadProfile, SetLive, Stop
from nub_shift.protocol.messages import SignsNews
from nub_shift.protocol.window_call import end_window
from nub_shift.translation import inside, tr
from nub_shift.ui.look.theme import NIGHT, Theme
from nub_shift.ui.signs.tray_icon import Entry, TrayIcon

_NAME = "Nub Shift"
# Sizes for panels to choose from.
_SIDES = (22, 32, 64)


class Tray:
    """The icon and its menu. Without a tray nothing is shown; the window has the same functions.

    Attributes:
        news, profiles: shown state.
    """

    def __init__(self, bus: Bus, notify: Callable[[Call], None]) -> None:
        """`notify` sends a call to the runner."""
        self._notify = notify
        self.news: SignsNews | None = None
        self.profiles: dict[int, Profile] = {}
        self._words: tuple[str, ...] = ()
        self._pictures = {live: [_picture(side, live) for side in _SIDES] for live in (False, True)}
        self._icon = TrayIcon(bus, _NAME, self._open, self._entries)

    def take(self, news: SignsNews, profiles: dict[int, Profile]) -> None:
        """Shows a state, if changed."""
        self.news, self.profiles = news, dict(profiles)
        words = said(news, self.profiles)
        if words != self._words:
            self._words = words
            self._icon.show(self._pictures[news.live], "\n".join(words))

    def _entries(self) -> list[Entry]:
        """Returns the entries of the menu, read from the present library."""
        from nub_shift.store.library import library_folder, titled_profiles  # imported late: rarely opened

        news = self.news
        live = Entry(tr("Live"), self._switch_live, checked=news is not None and news.wanted)
        titles = titled_profiles([library_folder()])
        several = len(self.profiles) > 1
        profiles = [
            Entry(
                tr("Profile of {player}", player=inside(player_words(seat))) if several else tr("Profile"),
                inner=[
                    Entry(title, partial(self._play, seat, path), checked=title == self.profiles[seat].title)
                    for title, path in titles
                ],
            )
            for seat in sorted(self.profiles)
        ]
        halted = news is not None and news.halted
        return [
            *(Entry(line) for line in self._words),
            Entry(),
            live,
            *profiles,
            Entry(tr("Play on") if halted else tr("Stop everything"), lambda: self._notify(Halt())),
            Entry(),
            Entry(tr("Open the window"), self._open),
            Entry(tr("Quit"), self._quit),
        ]

    def _switch_live(self) -> None:
        self._notify(SetLive(not (self.news is not None and self.news.wanted)))

    def _play(self, seat: int, path: Path) -> None:
        with suppress(OSError, ValueError):  # deleted meanwhile; the next menu shows that
            self._notify(LoadProfile(path.read_text("utf-8"), seat, str(path)))

    def _open(self) -> None:
        """Starts the program, which brings an open window to the front."""
        start_program()

    def _quit(self) -> None:
        """Ends the window, then the runner: an open window would start another runner."""
        end_window()
        self._notify(Stop())


def said(news: SignsNews, profiles: dict[int, Profile]) -> tuple[str, ...]:
    """Returns a line for each player, and whether the game gets the outputs."""
    lines = []
    for seat, state in enumerate(news.seats):
        who = f"{player_words(seat)}: " if len(news.seats) > 1 else ""
        title = profiles[seat].title if seat in profiles else ""
        paused = tr(", paused") if state.paused else ""
        lines.append(f"{who}{title}{paused} · {state.pad or tr('no pad yet')}")
    if news.live:
        return (*lines, tr("Live"))
    if news.halted:
        return (*lines, tr("Stopped"))
    return (*lines, tr("Live once the window is left") if news.wanted else tr("Rehearsal"))


def _picture(side: int, live: bool) -> QImage:
    """Returns the program's icon, with a dot while live."""
    picture = QImage(side, side, QImage.Format.Format_ARGB32)
    picture.fill(Qt.GlobalColor.transparent)
    painter = QPainter(picture)
    painter.setRenderHint(QPainter.RenderHint.Antialiasing)
    painter.setRenderHint(QPainter.RenderHint.SmoothPixmapTransform)
    painter.drawImage(picture.rect(), QImage(str(small_icon_path())))
    if live:
        painter.setPen(Qt.PenStyle.NoPen)
        painter.setBrush(Theme(NIGHT).colour("game"))
        painter.drawEllipse(side * 5 // 8, side * 5 // 8, side * 3 // 8, side * 3 // 8)
    painter.end()
    return picture

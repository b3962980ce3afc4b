"""What plays, in the desktop's tray, and what can be done about it without the window."""

from __future__ import annotations

import subprocess
import sys
from collections.abc import Callable
from functools import partial
from pathlib import Path
from typing import Final

from PyQt6.QtCore import QObject, Qt
from PyQt6.QtGui import QAction, QIcon, QPainter, QPixmap
from PyQt6.QtWidgets import QMenu, QSystemTrayIcon

from nub_shift.desktop import icon_path
from nub_shift.editing.words.players import player_words
from nub_shift.model.profile import Profile
from nub_shift.protocol.calls import Call, Halt, LoadProfile, SetLive, Stop
from nub_shift.protocol.messages import SignsNews
from nub_shift.protocol.window_call import end_window
from nub_shift.ui.look.theme import NIGHT, Theme

SIDE: Final = 64


class Tray(QObject):
    """The icon and its menu. Where there is no tray nothing is shown, and all of it is in the window."""

    def __init__(self, tell: Callable[[Call], None]) -> None:
        """`tell` has the runner do something."""
        super().__init__()
        self._tell = tell
        self._news: SignsNews | None = None
        self._profiles: dict[int, Profile] = {}
        self._words: tuple[str, ...] = ()
        self._titles: list[tuple[str, Path]] = []
        self._menu = QMenu()
        self._menu.aboutToShow.connect(self._list)
        self._icons = {live: _icon(live) for live in (False, True)}
        self._tray = QSystemTrayIcon(self._icons[False])
        self._tray.setContextMenu(self._menu)
        self._tray.activated.connect(self._on_activated)
        self._fill()

    def take(self, news: SignsNews, profiles: dict[int, Profile]) -> None:
        """Shows how things are, if that is something else."""
        self._news, self._profiles = news, dict(profiles)
        words = said(news, self._profiles)
        if words != self._words:
            self._words = words
            self._tray.setIcon(self._icons[news.live])
            self._tray.setToolTip("\n".join(words))
            self._fill()
            self._tray.show()

    def end(self) -> None:
        """Takes it away."""
        self._tray.hide()

    def _list(self) -> None:
        """The menu is looked at: profiles may have come to the library since."""
        from nub_shift.store.library import library_folder, titled_profiles

        self._titles = titled_profiles([library_folder()])
        self._fill()

    def _fill(self) -> None:
        """What the menu has now."""
        menu = self._menu
        menu.clear()
        for line in self._words:
            self._add(line, None).setEnabled(False)
        menu.addSeparator()
        news = self._news
        live = self._add("Live", self._switch_live)
        live.setCheckable(True)
        live.setChecked(news is not None and news.wanted)
        for seat in range(len(self._profiles)):
            name = "Profile" if len(self._profiles) == 1 else f"Profile of {player_words(seat).lower()}"
            self._add_profiles(name, seat)
        halted = news is not None and news.halted
        self._add("Play on" if halted else "Stop everything", lambda: self._tell(Halt()))
        menu.addSeparator()
        self._add("Open the window", self._open)
        self._add("Quit", self._quit)

    def _switch_live(self) -> None:
        self._tell(SetLive(not (self._news is not None and self._news.wanted)))

    def _add(self, text: str, act: Callable[[], None] | None) -> QAction:
        action = QAction(text.replace("&", "&&"), self._menu)
        if act is not None:
            action.triggered.connect(lambda _checked: act())
        self._menu.addAction(action)
        return action

    def _add_profiles(self, name: str, seat: int) -> None:
        submenu = self._menu.addMenu(name)
        if submenu is None:
            return
        for title, path in self._titles:
            entry = QAction(title.replace("&", "&&"), submenu)
            entry.setCheckable(True)
            entry.setChecked(title == self._profiles[seat].title)
            entry.triggered.connect(partial(self._play, seat, path))
            submenu.addAction(entry)

    def _play(self, seat: int, path: Path, _checked: bool) -> None:
        try:
            self._tell(LoadProfile(path.read_text("utf-8"), seat, str(path)))
        except (OSError, ValueError):  # it has gone meanwhile, as the list will say
            self._list()

    def _on_activated(self, reason: QSystemTrayIcon.ActivationReason) -> None:
        if reason is QSystemTrayIcon.ActivationReason.Trigger:
            self._open()

    def _open(self) -> None:
        """A second start brings a window to the front that is open already."""
        subprocess.Popen(
            [sys.executable, "-m", "nub_shift"],
            stdin=subprocess.DEVNULL,
            stdout=subprocess.DEVNULL,
            stderr=subprocess.DEVNULL,
            start_new_session=True,
        )

    def _quit(self) -> None:
        """The window first: it would start a runner in place of one that has gone."""
        end_window()
        self._tell(Stop())


def said(news: SignsNews, profiles: dict[int, Profile]) -> tuple[str, ...]:
    """What plays, a line for each player, and whether the game gets it."""
    lines = []
    for seat, state in enumerate(news.seats):
        who = f"{player_words(seat)}: " if len(news.seats) > 1 else ""
        title = profiles[seat].title if seat in profiles else ""
        paused = ", paused" if state.paused else ""
        lines.append(f"{who}{title}{paused} · {state.pad or 'no pad yet'}")
    if news.live:
        return (*lines, "Live")
    if news.halted:
        return (*lines, "Stopped")
    return (*lines, "Live once the window is left" if news.wanted else "Rehearsal")


def _icon(live: bool) -> QIcon:
    """The program's icon, with a dot while the game gets what is pressed."""
    picture = QIcon(str(icon_path())).pixmap(SIDE, SIDE)
    if picture.isNull():
        picture = QPixmap(SIDE, SIDE)
        picture.fill(Qt.GlobalColor.transparent)
    if live:
        painter = QPainter(picture)
        painter.setRenderHint(QPainter.RenderHint.Antialiasing)
        painter.setPen(Qt.PenStyle.NoPen)
        painter.setBrush(Theme(NIGHT).colour("game"))
        painter.drawEllipse(picture.width() * 5 // 8, picture.height() * 5 // 8, SIDE * 3 // 8, SIDE * 3 // 8)
        painter.end()
    return QIcon(picture)

"""Windows reported by KWin, through a small script loaded over the session's D-Bus."""

from __future__ import annotations

import logging
from collections.abc import Callable
from dataclasses import dataclass
from pathlib import Path
from typing import Any, Final

from jeepney import DBusAddress, message_bus

from nub_shift.desktop_bus.bus import NOTHING, Body, Bus, Served
from nub_shift.model.profile.activation import MAX_TEXT

log = logging.getLogger("nub_shift.desktop_bus")

_SCRIPTS: Final = DBusAddress("/Scripting", bus_name="org.kde.KWin", interface="org.kde.kwin.Scripting")
_NAME: Final = "nub-shift-front"


@dataclass(frozen=True)
class KWinWindow:
    """Fields that KWin reports of the window in front: identity, class, title and process, as texts."""

    key: str
    kind: str
    title: str
    pid: int


class KWinWatch:
    """Subscribes to the window in front, with its process."""

    def __init__(self, bus: Bus, write: Callable[[str], Path], notify: Callable[[KWinWindow | None], None]) -> None:
        """`write` stores the script where KWin can read it; `notify` receives each window, None for no window."""
        self._bus = bus
        self._write = write
        self._notify = notify
        self._script = ""
        self._runs = False

    def begin(self, script: str, began: Callable[[bool], None]) -> None:
        """Loads the script; `began` receives whether KWin is present and has accepted it."""
        self._script = script

        def on_owned(owned: tuple[Any, ...] | None) -> None:
            if owned and owned[0]:
                self._load(began)
            else:
                began(False)

        self._bus.when_ready(lambda: self._bus.call(message_bus, "NameHasOwner", ("s", (_SCRIPTS.bus_name,)), on_owned))

    def end(self) -> None:
        """Unloads the script."""
        if self._runs:
            self._runs = False
            self._bus.call(_SCRIPTS, "unloadScript", ("s", (_NAME,)))

    def _load(self, began: Callable[[bool], None]) -> None:
        served = Served("org.nubshift.Front", {"told": self._report}, caller=str(_SCRIPTS.bus_name))
        self._bus.serve("/front", served)
        try:
            path = self._write(self._script.replace("@service@", self._bus.name))
        except OSError as error:
            log.warning("KWin's script cannot be written: %s", error)
            began(False)
            return

        def on_loaded(loaded: tuple[Any, ...] | None) -> None:
            if not loaded or loaded[0] < 0:
                log.warning("KWin does not take the script: %s", loaded)
                began(False)
                return
            self._bus.call(_SCRIPTS, "start", NOTHING)
            self._runs = True
            began(True)

        self._bus.call(_SCRIPTS, "unloadScript", ("s", (_NAME,)))  # left by a process of ours that died
        self._bus.call(_SCRIPTS, "loadScript", ("ss", (str(path), _NAME)), on_loaded)

    def _report(self, window: str, kind: str, title: str, pid: str) -> Body:
        """Handles the script's report of a window in front, or of its new title; empty texts for no window."""
        number = int(pid) if pid.isdecimal() else 0
        self._notify(KWinWindow(window, kind[:MAX_TEXT], title[:MAX_TEXT], number) if window else None)
        return NOTHING

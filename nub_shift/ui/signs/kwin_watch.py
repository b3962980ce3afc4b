"""Windows as KWin tells of them: by a small script of ours that it runs, over the session's D-Bus."""

from __future__ import annotations

import logging
from collections.abc import Callable
from itertools import count
from pathlib import Path
from typing import Any, Final

from jeepney import DBusAddress, message_bus

import nub_shift.front
from nub_shift.front.processes import program_of
from nub_shift.model.comes_on import Front
from nub_shift.protocol.sockets import runtime_folder
from nub_shift.store.atomic import write_text
from nub_shift.ui.signs.session_bus import NOTHING, Body, Served, SessionBus

log = logging.getLogger("nub_shift.ui")

_SCRIPTS: Final = DBusAddress("/Scripting", bus_name="org.kde.KWin", interface="org.kde.kwin.Scripting")
_NAME: Final = "nub-shift-front"
_SCRIPT: Final = Path(nub_shift.front.__path__[0]) / "kwin_script.js"


class KWinWatch:
    """Has KWin tell of each window that comes to the front, with its process."""

    def __init__(self, bus: SessionBus, tell: Callable[[Front], None]) -> None:
        self._bus = bus
        self._tell = tell
        self._numbers: dict[str, int] = {}
        self._next = count(1)
        self._runs = False

    def begin(self) -> bool:
        """Loads the script; returns whether KWin is there and took it."""
        owned = self._bus.call(message_bus, "NameHasOwner", ("s", (_SCRIPTS.bus_name,)))
        if not owned or not owned[0]:
            return False
        self._bus.serve("/front", Served("org.nubshift.Front", {"told": self._told}))
        path = runtime_folder() / f"{_NAME}.js"
        write_text(path, _SCRIPT.read_text("utf-8").replace("@service@", self._bus.name))
        self._call("unloadScript", _NAME)  # of a process of ours that died
        loaded = self._call("loadScript", str(path), _NAME)
        if not loaded or loaded[0] < 0:
            log.warning("KWin does not take the script: %s", loaded)
            return False
        self._call("start")
        self._runs = True
        return True

    def end(self) -> None:
        """Takes the script away."""
        if self._runs:
            self._runs = False
            self._call("unloadScript", _NAME)

    def _told(self, window: str, kind: str, title: str, pid: str) -> Body:
        """A window has come to the front, or its title is another; empty texts if there is none."""
        if not window:
            self._tell(Front())
            return NOTHING
        number = self._numbers.setdefault(window, next(self._next))
        names = tuple(dict.fromkeys(name for name in (kind, kind.rpartition(".")[2]) if name))
        programs, path, arguments = program_of(int(pid)) if pid.isdecimal() and int(pid) else ((), "", ())
        self._tell(Front(number, names, title, programs, path, arguments))
        return NOTHING

    def _call(self, method: str, *values: str) -> tuple[Any, ...] | None:
        return self._bus.call(_SCRIPTS, method, ("s" * len(values), values))

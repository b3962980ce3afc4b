"""Windows as KWin tells of them: by a small script of ours that it runs, over the session's D-Bus."""

from __future__ import annotations

import logging
from collections.abc import Callable
from itertools import count
from pathlib import Path
from typing import Final

from PyQt6.QtCore import QObject, pyqtClassInfo, pyqtSlot
from PyQt6.QtDBus import QDBusConnection, QDBusMessage

import nub_shift.front
from nub_shift.front.processes import program_of
from nub_shift.model.comes_on import Front
from nub_shift.protocol.sockets import runtime_folder
from nub_shift.store.atomic import write_text

log = logging.getLogger("nub_shift.ui")

KWIN: Final = "org.kde.KWin"
_NAME: Final = "nub-shift-front"
_SCRIPT: Final = Path(nub_shift.front.__path__[0]) / "kwin_script.js"


@pyqtClassInfo("D-Bus Interface", "org.nubshift.Front")  # type: ignore[func-returns-value]
class KWinWatch(QObject):  # type: ignore[misc]
    """Has KWin tell of each window that comes to the front, with its process."""

    def __init__(self, tell: Callable[[Front], None]) -> None:
        super().__init__()
        self._tell = tell
        self._bus = QDBusConnection.sessionBus()
        self._numbers: dict[str, int] = {}
        self._next = count(1)
        self._runs = False

    def begin(self) -> bool:
        """Loads the script; returns whether KWin is there and took it."""
        known = self._bus.interface()
        if known is None or not known.isServiceRegistered(KWIN).value():
            return False
        self._bus.registerObject("/front", self, QDBusConnection.RegisterOption.ExportAllSlots)
        path = runtime_folder() / f"{_NAME}.js"
        write_text(path, _SCRIPT.read_text("utf-8").replace("@service@", self._bus.baseService()))
        self._call("unloadScript", _NAME)  # of a process of ours that died
        loaded = self._call("loadScript", str(path), _NAME)
        if loaded.type() is not QDBusMessage.MessageType.ReplyMessage or not _number(loaded) >= 0:
            log.warning("KWin does not take the script: %s", loaded.errorMessage())
            return False
        self._call("start")
        self._runs = True
        return True

    def end(self) -> None:
        """Takes the script away."""
        if self._runs:
            self._runs = False
            self._call("unloadScript", _NAME)

    @pyqtSlot(str, str, str, str)
    def told(self, window: str, kind: str, title: str, pid: str) -> None:
        """A window has come to the front, or its title is another; empty texts if there is none."""
        if not window:
            self._tell(Front())
            return
        number = self._numbers.setdefault(window, next(self._next))
        names = tuple(dict.fromkeys(name for name in (kind, kind.rpartition(".")[2]) if name))
        programs, path, arguments = program_of(int(pid)) if pid.isdecimal() and int(pid) else ((), "", ())
        self._tell(Front(number, names, title, programs, path, arguments))

    def _call(self, method: str, *values: str) -> QDBusMessage:
        asked = QDBusMessage.createMethodCall(KWIN, "/Scripting", "org.kde.kwin.Scripting", method)
        asked.setArguments(list(values))
        return self._bus.call(asked)


def _number(reply: QDBusMessage) -> int:
    values = reply.arguments()
    return int(values[0]) if values else -1

"""Builds the watch of a session, which ends with its runner."""

from __future__ import annotations

import asyncio
import logging
import os
from functools import partial
from pathlib import Path
from typing import Any, Final

from nub_shift.desktop_bus.bus import Bus
from nub_shift.desktop_bus.portal_key import PortalKey
from nub_shift.desktop_bus.screen_lock import ScreenLock
from nub_shift.front.offers import WINDOWS, offers
from nub_shift.front.windows import is_wayland
from nub_shift.model.halting import HALT_KEY
from nub_shift.model.profile.activation import APP_ID, Away
from nub_shift.protocol.calls import (
    Alive,
    Call,
    Halt,
    ReportAway,
    ReportFront,
    ReportHaltKey,
    ReportLayout,
    WatchSession,
)
from nub_shift.protocol.client import News
from nub_shift.protocol.codec import PROTOCOL
from nub_shift.protocol.messages import Ping, Ready
from nub_shift.session_watch.front_watch import FrontWatch
from nub_shift.session_watch.halt_key import HaltKey
from nub_shift.session_watch.keyboard_watch import KeyboardWatch
from nub_shift.session_watch.retry import Retry
from nub_shift.session_watch.runner_line import RunnerLine
from nub_shift.translation import tr

log = logging.getLogger("nub_shift.session_watch")

# Text of the desktop's question about the key.
_HALTS: Final = tr("Stop everything, or play on")


def watch_session(path: Path) -> int:
    """Reports events of the session to the runner at a socket until the runner ends; returns the exit status."""
    if os.environ.get("DISPLAY"):  # also set in a Wayland session
        from nub_shift.front.x11 import leave_out_extensions

        leave_out_extensions()
    loop = asyncio.new_event_loop()
    loop.set_exception_handler(_note_fault)
    try:
        watch = SessionWatch(loop, path)
    except OSError as error:
        log.warning("no runner: %s", error)
        return 1
    loop.run_forever()
    watch.end()
    loop.close()
    return 0


def _note_fault(_loop: asyncio.AbstractEventLoop, context: dict[str, Any]) -> None:
    """Logs an unexpected fault, which costs only the task in which it occurred."""
    log.error("%s", context["message"], exc_info=context.get("exception"))


class SessionWatch:
    """Watches the session and notifies the runner.

    Raises:
        OSError: no process listens at the socket.
    """

    def __init__(self, loop: asyncio.AbstractEventLoop, path: Path) -> None:
        self._loop = loop
        self._line = RunnerLine(path, loop, self._on_news, loop.stop)
        self._away: dict[Away, bool] = {}
        self._reported_away: Away | None = None  # an earlier watch may have left another reason
        self._session_bus = Retry(loop, self._attach_session_bus, partial(self._open, "SESSION"))
        self._system_bus = Retry(loop, self._attach_system_bus, partial(self._open, "SYSTEM"))
        self._opened: dict[str, Bus | None] = {}  # buses that are not attached yet
        self._buses: dict[str, Bus] = {}
        self._lock = ScreenLock(self._on_lock)
        self._front: FrontWatch | None = None
        self._keyboard = KeyboardWatch(loop, lambda: self._notify(ReportLayout()))
        self._halt_key = HaltKey(loop, self._on_halt_key, lambda key: self._notify(ReportHaltKey(key)))

    def end(self) -> None:
        """Ends the watch."""
        for part in (self._front, self._keyboard, self._halt_key):
            if part is not None:
                part.end()
        for bus in list(self._buses.values()):
            bus.close()
        for again in (self._session_bus, self._system_bus):
            again.end()
        self._line.close()

    def _begin(self) -> None:
        self._notify(WatchSession())
        for which in ("SESSION", "SYSTEM"):
            self._open(which)
        self._session_bus.begin()
        self._system_bus.begin()
        self._front = FrontWatch(
            self._loop,
            self._buses.get("SESSION"),
            lambda front: self._notify(ReportFront(front)),
            partial(self._note_away, Away.TAKEN),
            partial(self._note_away, Away.NO_DISPLAY),
            is_wayland() and WINDOWS in offers(),
        )
        self._front.begin()
        self._keyboard.begin()
        if "SESSION" not in self._buses or not is_wayland():
            self._halt_key.begin()

    def _notify(self, call: Call) -> None:
        self._line.notify(call)

    def _on_news(self, news: News) -> None:
        match news:
            case Ready(protocol):
                if protocol != PROTOCOL:
                    log.warning("the runner speaks protocol %d, not %d", protocol, PROTOCOL)
                    self._loop.stop()
                else:
                    self._begin()
            case Ping():
                self._notify(Alive())
            case _:
                pass

    def _open(self, which: str) -> None:
        """Connects to a bus, with a time limit for one that hangs."""
        self._opened[which] = Bus.open(which)

    def _attach_session_bus(self) -> bool:
        """Attaches the session's bus; returns whether no retry is needed."""
        bus = self._attached("SESSION", self._session_bus)
        if bus is None:
            return not os.environ.get("DBUS_SESSION_BUS_ADDRESS")
        self._lock.follow_savers(bus)
        if is_wayland():  # an X server inside a Wayland session gets few keys
            portal = PortalKey(bus, _HALTS, APP_ID, self._on_halt_key, lambda key: self._notify(ReportHaltKey(key)))
            portal.begin(self._halt_key.begin)
        return True

    def _attach_system_bus(self) -> bool:
        bus = self._attached("SYSTEM", self._system_bus)
        if bus is not None:
            self._lock.follow_login(bus)
        return bus is not None

    def _attached(self, which: str, again: Retry) -> Bus | None:
        """Returns a bus polled by the loop, and searched for again once it has gone."""
        bus = self._opened.pop(which, None)
        if bus is None:
            return None
        descriptor = bus.fileno()
        self._loop.add_reader(descriptor, bus.take)

        def on_writing(on: bool) -> None:
            if on:
                self._loop.add_writer(descriptor, bus.give)
            else:
                self._loop.remove_writer(descriptor)

        def on_gone() -> None:
            self._loop.remove_reader(descriptor)
            del self._buses[which]
            self._lock.forget()
            again.begin(at_once=False)

        bus.on_writing, bus.on_gone = on_writing, on_gone
        bus.give()  # messages queued before the writer was set
        self._buses[which] = bus
        return bus

    def _on_halt_key(self) -> None:
        self._notify(Halt(HALT_KEY))

    def _on_lock(self) -> None:
        self._note_away(Away.LOCKED, self._lock.locked)

    def _note_away(self, why: Away, on: bool) -> None:
        """Reports the first reason for sending nothing, if changed."""
        self._away[why] = on
        first = next((reason for reason in Away if self._away.get(reason)), Away.NO)
        if first is not self._reported_away:
            self._reported_away = first
            self._notify(ReportAway(first))

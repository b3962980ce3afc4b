"""The halt key by the desktop's portal for global shortcuts."""

from __future__ import annotations

import os
from collections.abc import Callable
from itertools import count
from typing import Any, Final

from jeepney import MatchRule

from nub_shift.desktop_bus.bus import Body, Bus
from nub_shift.desktop_bus.shortcuts import SHORTCUTS

_REGISTRY: Final = SHORTCUTS.with_interface("org.freedesktop.host.portal.Registry")
_PATH: Final = SHORTCUTS.object_path
_REQUEST: Final = "org.freedesktop.portal.Request"
_ID: Final = "stop"
# Key names by the portal's specification: those of XKB keysyms.
_TRIGGER: Final = "Pause"


class PortalKey:
    """Requests the key once; the desktop may ask the person, and may assign another key."""

    def __init__(
        self, bus: Bus, text: str, app_id: str, pressed: Callable[[], None], on_key: Callable[[str], None]
    ) -> None:
        """`text` is the description shown by the desktop; `app_id` names the desktop entry of the program.

        `on_key` receives the assigned key in the desktop's words.
        """
        self._bus = bus
        self._heard = on_key
        self._text = text
        self._app_id = app_id
        self._pressed = pressed
        self._refused: Callable[[], None] = _nothing
        self._session = ""
        self._requests = count(1)

    def begin(self, refused: Callable[[], None]) -> None:
        """Requests the key; `refused` is called if there is no such portal, or the person declines."""
        self._refused = refused
        self._bus.when_ready(self._create_session)

    def _create_session(self) -> None:
        self._bus.call(_REGISTRY, "Register", ("sa{sv}", (self._app_id, {})))
        options = {"session_handle_token": ("s", f"nub_shift_{os.getpid()}")}
        self._request("CreateSession", lambda options: ("a{sv}", (options,)), options, self._on_session)

    def _on_session(self, results: dict[str, Any]) -> None:
        self._session = results["session_handle"][1]
        activated = MatchRule(type="signal", interface=SHORTCUTS.interface, member="Activated", path=_PATH)
        self._bus.subscribe(activated, self._on_activated, SHORTCUTS.bus_name)
        wanted = [(_ID, {"description": ("s", self._text), "preferred_trigger": ("s", _TRIGGER)})]
        self._request(
            "BindShortcuts",
            lambda options: ("oa(sa{sv})sa{sv}", (self._session, wanted, "", options)),
            {},
            self._on_bound,
        )

    def _on_bound(self, results: dict[str, Any]) -> None:
        _, bound = results.get("shortcuts", ("", []))
        about = next((about for name, about in bound if name == _ID), None)
        if about is None:
            self._refused()
        else:
            self._heard(about.get("trigger_description", ("s", ""))[1] or _TRIGGER)

    def _on_activated(self, values: tuple[Any, ...]) -> None:
        session, name, *_ = values
        if session == self._session and name == _ID:
            self._pressed()

    def _request(
        self,
        method: str,
        body: Callable[[dict[str, Any]], Body],
        options: dict[str, Any],
        done: Callable[[dict[str, Any]], None],
    ) -> None:
        """Calls a method with a later answer, a signal of an object whose path is known beforehand."""
        token = f"nub_shift_{os.getpid()}_{next(self._requests)}"
        sender = self._bus.name.removeprefix(":").replace(".", "_")
        path = f"{_PATH}/request/{sender}/{token}"

        def on_response(values: tuple[Any, ...]) -> None:
            status, results = values
            if status == 0:
                done(results)
            else:
                self._refused()

        def on_answer(values: tuple[Any, ...] | None) -> None:
            if values is None:
                self._refused()

        response = MatchRule(type="signal", interface=_REQUEST, member="Response", path=path)
        self._bus.subscribe(response, on_response, SHORTCUTS.bus_name)
        self._bus.call(SHORTCUTS, method, body({**options, "handle_token": ("s", token)}), on_answer)


def _nothing() -> None:
    pass

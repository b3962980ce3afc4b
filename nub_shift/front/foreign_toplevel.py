"""Interfaces of wlr-foreign-toplevel-management-unstable-v1, which the Wayland library lacks.

By the protocol's first version; later ones add to it. Requests and events are numbered in order and named after the
functions below. Requests after the last used one are left out.
"""

from __future__ import annotations

from pywayland.protocol.wayland import WlOutput
from pywayland.protocol_core import Argument, ArgumentType, Interface, Proxy

ACTIVATED = 2  # state of the window in front


class Toplevel(Interface):
    """A window of any program."""

    name = "zwlr_foreign_toplevel_handle_v1"
    version = 1


class ToplevelManager(Interface):
    """Manager that reports all windows."""

    name = "zwlr_foreign_toplevel_manager_v1"
    version = 1


def _title(title: str) -> None:
    """Event: title of the window."""


def _app_id(app_id: str) -> None:
    """Event: app id of the window."""


def _output_enter(output: object) -> None:
    """Event: the window is visible on an output."""


def _output_leave(output: object) -> None:
    """Event: the window is no longer visible on an output."""


def _state(state: object) -> None:
    """Event: array of the window's states, each a 32-bit number."""


def _done() -> None:
    """Event: the events since the last one of these take effect."""


def _closed() -> None:
    """Event: the window is closed."""


def _toplevel(toplevel: object) -> None:
    """Event: a new window."""


def _finished() -> None:
    """Event: the manager reports no more windows."""


for _event, *_arguments in (
    (_title, Argument(ArgumentType.String)),
    (_app_id, Argument(ArgumentType.String)),
    (_output_enter, Argument(ArgumentType.Object, interface=WlOutput)),
    (_output_leave, Argument(ArgumentType.Object, interface=WlOutput)),
    (_state, Argument(ArgumentType.Array)),
    (_done,),
    (_closed,),
):
    Toplevel.event(*_arguments)(_event)
ToplevelManager.event(Argument(ArgumentType.NewId, interface=Toplevel))(_toplevel)
ToplevelManager.event()(_finished)


class ToplevelProxy(Proxy[Toplevel]):
    """A window, used only for its events."""

    interface = Toplevel


class ToplevelManagerProxy(Proxy[ToplevelManager]):
    """The manager that sends the windows."""

    interface = ToplevelManager


Toplevel.proxy_class = ToplevelProxy
ToplevelManager.proxy_class = ToplevelManagerProxy
Toplevel._gen_c()
ToplevelManager._gen_c()

"""The interfaces of wlr-foreign-toplevel-management-unstable-v1, which the library does not bring.

Described after the protocol's first version; later ones add to it. Requests and events are numbered in their order, and
go by the names of the functions that describe them. Of the requests only those are here that come first or are used.
"""

from __future__ import annotations

from pywayland.protocol.wayland import WlOutput
from pywayland.protocol_core import Argument, ArgumentType, Interface, Proxy

ACTIVATED = 2  # of a window's states: it is in front


class Toplevel(Interface):
    """A window of any program."""

    name = "zwlr_foreign_toplevel_handle_v1"
    version = 1


class ToplevelManager(Interface):
    """Tells of all windows."""

    name = "zwlr_foreign_toplevel_manager_v1"
    version = 1


def _title(title: str) -> None:
    """An event: what stands above it."""


def _app_id(app_id: str) -> None:
    """An event: what program it is of."""


def _output_enter(output: object) -> None:
    """An event: it is seen there."""


def _output_leave(output: object) -> None:
    """An event: it is seen there no more."""


def _state(state: object) -> None:
    """An event: an array of its states, each a 32-bit number."""


def _done() -> None:
    """An event: what was told since the last one of these holds now."""


def _closed() -> None:
    """An event: it is no more."""


def _toplevel(toplevel: object) -> None:
    """An event: a window that has come."""


def _finished() -> None:
    """An event: nothing more is told."""


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
    """A window; it is only listened to."""

    interface = Toplevel


class ToplevelManagerProxy(Proxy[ToplevelManager]):
    """The manager that sends the windows."""

    interface = ToplevelManager


Toplevel.proxy_class = ToplevelProxy
ToplevelManager.proxy_class = ToplevelManagerProxy
Toplevel._gen_c()
ToplevelManager._gen_c()

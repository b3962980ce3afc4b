"""Used interfaces of wlr-layer-shell-unstable-v1, which the Wayland library lacks.

By the protocol's first version; later ones add to it. Requests and events are numbered in order and named after the
functions below.
"""

from __future__ import annotations

from enum import IntFlag
from typing import Any

from pywayland.protocol.wayland import WlOutput, WlSurface
from pywayland.protocol.xdg_shell import XdgPopup
from pywayland.protocol_core import Argument, ArgumentType, Interface, Proxy

OVERLAY = 3  # the layer above full-screen windows
NO_KEYBOARD = 0
OVER_PANELS = -1  # an exclusive zone that ignores panels


class Anchor(IntFlag):
    """Edges to which a surface is anchored; an axis with none or both is centred."""

    TOP = 1
    BOTTOM = 2
    LEFT = 4
    RIGHT = 8


class LayerSurface(Interface):
    """A surface arranged by the compositor above or below all windows."""

    name = "zwlr_layer_surface_v1"
    version = 1


class LayerShell(Interface):
    """Factory of layer surfaces."""

    name = "zwlr_layer_shell_v1"
    version = 1


class LayerSurfaceProxy(Proxy[LayerSurface]):
    """Requests of a surface. `dispatcher["configure"]` gets serial, width and height, `["closed"]` nothing."""

    interface = LayerSurface

    @LayerSurface.request(Argument(ArgumentType.Uint), Argument(ArgumentType.Uint))
    def set_size(self, width: int, height: int) -> None:
        """Sets the size in pixels of the surface."""
        self._marshal(0, width, height)

    @LayerSurface.request(Argument(ArgumentType.Uint))
    def set_anchor(self, anchor: int) -> None:
        """Sets the anchored edges."""
        self._marshal(1, anchor)

    @LayerSurface.request(Argument(ArgumentType.Int))
    def set_exclusive_zone(self, zone: int) -> None:
        """Sets the room that windows leave to the surface."""
        self._marshal(2, zone)

    @LayerSurface.request(*[Argument(ArgumentType.Int)] * 4)
    def set_margin(self, top: int, right: int, bottom: int, left: int) -> None:
        """Sets the distances from the anchored edges."""
        self._marshal(3, top, right, bottom, left)

    @LayerSurface.request(Argument(ArgumentType.Uint))
    def set_keyboard(self, interactivity: int) -> None:
        """Sets whether the surface takes keys."""
        self._marshal(4, interactivity)

    @LayerSurface.request(Argument(ArgumentType.Object, interface=XdgPopup))
    def get_popup(self, popup: Any) -> None:
        """Placeholder for the request of this number."""
        self._marshal(5, popup)

    @LayerSurface.request(Argument(ArgumentType.Uint))
    def ack_configure(self, serial: int) -> None:
        """Acknowledges a configuration."""
        self._marshal(6, serial)

    @LayerSurface.request()
    def destroy(self) -> None:
        """Destroys the surface."""
        self._marshal(7)
        self._destroy()


def _configure(serial: int, width: int, height: int) -> None:
    """Event: a configuration to acknowledge."""


def _closed() -> None:
    """Event: the surface is no longer shown."""


LayerSurface.event(*[Argument(ArgumentType.Uint)] * 3)(_configure)
LayerSurface.event()(_closed)


class LayerShellProxy(Proxy[LayerShell]):
    """Requests of the shell."""

    interface = LayerShell

    @LayerShell.request(
        Argument(ArgumentType.NewId, interface=LayerSurface),
        Argument(ArgumentType.Object, interface=WlSurface),
        Argument(ArgumentType.Object, interface=WlOutput, nullable=True),
        Argument(ArgumentType.Uint),
        Argument(ArgumentType.String),
    )
    def get_layer_surface(self, surface: Any, output: Any, layer: int, namespace: str) -> LayerSurfaceProxy:
        """Makes a surface a layer surface; on an output of the compositor's choice for None."""
        made: LayerSurfaceProxy = self._marshal_constructor(0, LayerSurface, surface, output, layer, namespace)
        return made


LayerSurface.proxy_class = LayerSurfaceProxy
LayerShell.proxy_class = LayerShellProxy
LayerSurface._gen_c()
LayerShell._gen_c()

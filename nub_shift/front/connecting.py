"""Connects to the server that reports the windows of this session."""

from __future__ import annotations

import os

from nub_shift.front.windows import Windows, is_wayland


def connect(uses_compositor: bool = True) -> Windows | None:
    """Connects to the compositor if it reports windows, else to the X server, which a Wayland session may have too.

    The X server reports its own windows alone.

    Args:
        uses_compositor: whether the compositor is tried; False where it is known to report nothing.
    """
    if uses_compositor and is_wayland():
        try:
            from nub_shift.front.wayland import WaylandWindows
        except ImportError:  # the library does not exist for this processor
            return _connect_x11()
        wayland = WaylandWindows.connect()
        if wayland is not None:
            return wayland
    return _connect_x11()


def _connect_x11() -> Windows | None:
    if not os.environ.get("DISPLAY"):
        return None
    from nub_shift.front.x11 import X11Windows

    return X11Windows.connect()

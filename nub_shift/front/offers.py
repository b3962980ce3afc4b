"""Interfaces offered by a Wayland compositor, read by a separate process.

The Wayland library takes three megabytes, and many compositors offer nothing that we use: a process that runs for
months checks this first.
"""

from __future__ import annotations

import subprocess
from typing import Final

from nub_shift.own_process import start_own

LAYERS: Final = "zwlr_layer_shell_v1"
WINDOWS: Final = "zwlr_foreign_toplevel_manager_v1"
_LIMIT_S: Final = 10


def offers() -> frozenset[str]:
    """Returns the names of the compositor's interfaces; empty without a compositor, or without a library for this
    processor.
    """
    try:
        requested = start_own("nub_shift.front.wayland", stdout=subprocess.PIPE)
    except OSError:
        return frozenset()
    with requested:
        try:
            said, _ = requested.communicate(timeout=_LIMIT_S)
        except subprocess.TimeoutExpired:
            requested.kill()
            return frozenset()
    return frozenset(said.decode().split())

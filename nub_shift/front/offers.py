"""What a Wayland compositor offers, asked by a process of its own.

The library for it takes three megabytes, and a compositor that has nothing for us is the rule on some desktops: a
process that stays for months asks before it loads it.
"""

from __future__ import annotations

import subprocess
from typing import Final

from nub_shift.own_process import start_own

LAYERS: Final = "zwlr_layer_shell_v1"
WINDOWS: Final = "zwlr_foreign_toplevel_manager_v1"
_LIMIT_S: Final = 10


def offers() -> frozenset[str]:
    """The names of its interfaces; none where no compositor answers, or there is no library for this processor."""
    try:
        asked = start_own("nub_shift.front.wayland", stdout=subprocess.PIPE)
    except OSError:
        return frozenset()
    with asked:
        try:
            said, _ = asked.communicate(timeout=_LIMIT_S)
        except subprocess.TimeoutExpired:
            asked.kill()
            return frozenset()
    return frozenset(said.decode().split())

"""What a Wayland compositor offers, asked by a process of its own.

The library for it takes three megabytes, and a compositor that has nothing for us is the rule on some desktops: a
process that stays for months asks before it loads it.
"""

from __future__ import annotations

import subprocess
import sys
from typing import Final

LAYERS: Final = "zwlr_layer_shell_v1"
WINDOWS: Final = "zwlr_foreign_toplevel_manager_v1"
_LIMIT_S: Final = 10


def offers() -> frozenset[str]:
    """The names of its interfaces; none where no compositor answers, or there is no library for this processor."""
    command = [sys.executable, "-m", "nub_shift.front.wayland"]
    try:
        done = subprocess.run(
            command, stdin=subprocess.DEVNULL, capture_output=True, text=True, timeout=_LIMIT_S, check=False
        )
    except (OSError, subprocess.TimeoutExpired):
        return frozenset()
    return frozenset(done.stdout.split())

"""The one clock of runner, pads and tape."""

from __future__ import annotations

import time


def monotonic_us() -> int:
    """The kernel's monotonic clock in whole microseconds; real pads are set to the same one."""
    return time.monotonic_ns() // 1000

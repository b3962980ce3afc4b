"""The clock shared by runner, pads and tape."""

from __future__ import annotations

import time
from typing import Final

_monotonic_ns: Final = time.monotonic_ns  # a local name is faster in compiled code


def monotonic_us() -> int:
    """Returns the kernel's monotonic clock in whole microseconds, which also times the events of real pads."""
    return _monotonic_ns() // 1000

"""The one clock of runner, pads and tape."""

from __future__ import annotations

import time
from typing import Final

_monotonic_ns: Final = time.monotonic_ns  # compiled code has it at hand


def monotonic_us() -> int:
    """The kernel's monotonic clock in whole microseconds; real pads are set to the same one."""
    return _monotonic_ns() // 1000

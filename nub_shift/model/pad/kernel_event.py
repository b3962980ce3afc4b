"""Binary layout of the kernel's input events."""

from __future__ import annotations

import struct
from typing import Final

# `struct input_event` of linux/input.h: seconds, microseconds, type, code, value.
INPUT_EVENT: Final = struct.Struct("@llHHi")

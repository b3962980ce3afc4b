"""By what our own virtual devices are known, so that they are never taken for pads."""

from __future__ import annotations

from typing import Final

# The kernel gives this bus to no device that is plugged in, and no vendor has the number.
BUS_VIRTUAL: Final = 0x06
VENDOR: Final = 0x4E53
# They carry this in their physical path, which alone would prove nothing: other programs can make devices with it.
PHYS: Final = "nub-shift/"


def is_own(bus: int, vendor: int, phys: str) -> bool:
    """Whether a device that says this of itself is one of ours."""
    return bus == BUS_VIRTUAL and vendor == VENDOR and phys.startswith(PHYS)

"""Marks of our own virtual devices, which must never be taken for pads."""

from __future__ import annotations

from typing import Final

# The kernel gives this bus to no plugged device, and no vendor has the number.
BUS_VIRTUAL: Final = 0x06
VENDOR: Final = 0x4E53
# Physical path of our devices; no proof by itself, since other programs can create devices with the same path.
PHYS: Final = "nub-shift/"


def is_own(bus: int, vendor: int, phys: str) -> bool:
    """Returns whether a device with these properties is one of ours."""
    return bus == BUS_VIRTUAL and vendor == VENDOR and phys.startswith(PHYS)

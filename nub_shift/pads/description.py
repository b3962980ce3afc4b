"""Description of a kernel device by its own data."""

from __future__ import annotations

import re
from dataclasses import dataclass, field

from nub_shift.pads.input_codes import Axis

# Drivers number the devices of one pad at the end of their physical path.
_PART = re.compile(r"/input\d+$")


@dataclass(frozen=True)
class Description:
    """One kernel input device.

    Attributes:
        phys: physical path: the port, and the device at this port.
        uniq: serial number.
        keys: codes of its keys and buttons.
        axes: absolute axes by code.
        props: input properties (INPUT_PROP_…).
        other: codes of any other event type, by type.
    """

    name: str
    bus: int = 0x06
    vendor: int = 0
    product: int = 0
    version: int = 0
    phys: str = ""
    uniq: str = ""
    keys: frozenset[int] = frozenset()
    axes: dict[int, Axis] = field(default_factory=dict)
    props: frozenset[int] = frozenset()
    other: dict[int, frozenset[int]] = field(default_factory=dict)

    @property
    def plug(self) -> str:
        """Port of the device, equal for all devices of one pad."""
        return _PART.sub("", self.phys)

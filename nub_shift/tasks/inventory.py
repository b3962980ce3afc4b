"""List of connected pads."""

from __future__ import annotations

from nub_shift.protocol.messages import PadInfo
from nub_shift.runner.pads.pad_registry import PadRegistry, pad_infos


def connected_pads() -> tuple[PadInfo, ...]:
    """Returns all pads of this machine, in the order of their device numbers; combined ones as one."""
    return pad_infos(PadRegistry().entries(), {})

"""What is connected, as plain values."""

from __future__ import annotations

from nub_shift.protocol.messages import PadInfo
from nub_shift.runner.pads.pad_registry import PadRegistry, pad_infos


def connected_pads() -> tuple[PadInfo, ...]:
    """All pads of this machine, in the order of their device numbers; joined ones as one."""
    return pad_infos(PadRegistry().entries(), {})

"""What is connected, as a table."""

from __future__ import annotations

from rich.console import Console
from rich.table import Table

from nub_shift.model.controls import CONTROL_BY_NAME
from nub_shift.pads.evdev_pad import find_pads
from nub_shift.pads.gamepad import wiring_of


def list_pads() -> None:
    """Prints the pads with their controls, then the devices that cannot be looked at, with the remedy."""
    console = Console(highlight=False, soft_wrap=True)
    found = list(find_pads())
    table = Table("Device", "Pad", "Controls", box=None, pad_edge=False)
    for pad in found:
        if pad.description is not None:
            controls = ", ".join(CONTROL_BY_NAME[name].label.lower() for name in wiring_of(pad.description).controls)
            table.add_row(pad.path, pad.description.name, controls)
    if table.row_count:
        console.print(table)
    else:
        console.print("No pad is connected.")
    for pad in found:
        if pad.missing:
            console.print(f"{pad.path}: {pad.missing}")

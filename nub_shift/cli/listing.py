"""Tables of connected pads and open windows."""

from __future__ import annotations

import json
import sys
from dataclasses import asdict

from rich.console import Console
from rich.table import Table
from rich.text import Text

from nub_shift.cli.as_json import print_json
from nub_shift.editing.words.messages import message_words
from nub_shift.model.controls import CONTROL_BY_NAME
from nub_shift.model.plain_text import plain_text
from nub_shift.protocol.messages import PadInfo
from nub_shift.tasks.inventory import connected_pads
from nub_shift.tasks.open_windows import open_windows
from nub_shift.translation import inside, tr


def list_pads(as_json: bool) -> None:
    """Prints the pads with their controls, then the faults of each with remedies."""
    if as_json:
        print_json([_told(pad) for pad in connected_pads()])
        return
    # Output to a file or another program is not wrapped.
    console = Console(highlight=False, soft_wrap=True, width=None if sys.stdout.isatty() else 400)
    found = connected_pads()
    table = Table(
        tr("Device"), tr("Pad"), tr("Serial or plug"), tr("Battery"), tr("Controls"), box=None, pad_edge=False
    )
    for pad in found:
        if pad.controls:
            controls = ", ".join(inside(CONTROL_BY_NAME[name].label) for name in pad.controls)
            row = (pad.key, pad.name, pad.serial or pad.plug, f"{pad.battery} %" if pad.battery >= 0 else "", controls)
            table.add_row(*(Text(plain_text(cell)) for cell in row))
    if table.row_count:
        console.print(table)
    else:
        console.print(tr("No pad is connected."))
    for pad in found:
        for line in pad.wrong:
            console.print(Text(plain_text(f"{pad.key}: {message_words(line)}")))


def list_windows(as_json: bool) -> None:
    """Prints the open windows, their fields for activation rules, and the profile that each activates.

    Raises:
        OSError: the session reports no windows.
    """
    found = open_windows()
    if as_json:
        print_json([{**asdict(window.front), "profiles": list(window.titles)} for window in found])
        return
    console = Console(highlight=False, soft_wrap=True, width=None if sys.stdout.isatty() else 400)
    for window in found:
        front = window.front
        comes_on = tr(" or ").join(window.titles)
        console.print(Text(plain_text(f"{front.title or tr('no title')}: {comes_on or tr('no profile comes on')}")))
        for name, values in (
            ("window", front.names),
            ("program", front.programs),
            ("path", (front.path,)),
            ("argument", front.arguments),
        ):
            for value in values:
                if value:
                    console.print(Text(plain_text(f"    {name} = {json.dumps(value, ensure_ascii=False)}")))


def _told(pad: PadInfo) -> dict[str, object]:
    """Returns the fields of a pad for scripts."""
    return {
        "device": pad.key,
        "name": pad.name,
        "serial": pad.serial,
        "plug": pad.plug,
        "controls": pad.controls,
        "battery": pad.battery if pad.battery >= 0 else None,
        "wrong": [message_words(line) for line in pad.wrong],
    }

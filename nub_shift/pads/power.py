"""A pad's battery and its player lights, where the kernel shows them (its power_supply and leds classes)."""

from __future__ import annotations

import re
from contextlib import suppress
from dataclasses import dataclass
from pathlib import Path

# By the kernel's LED functions "player-1" to "player-5".
_PLAYER = re.compile(r"player-?(\d)$")
# Some drivers tell a level in words only.
_LEVELS = {"critical": 5, "low": 15, "normal": 55, "high": 80, "full": 100}


@dataclass(frozen=True)
class Battery:
    """How full it is, in percent, and whether it is being charged."""

    percent: int
    charging: bool


def battery_of(parent: str) -> Battery | None:
    """The battery of the device in that sysfs folder; None if the kernel shows none."""
    if not parent:
        return None
    for folder in sorted(Path(parent, "power_supply").glob("*")):
        charging = _read(folder / "status").casefold() == "charging"
        percent = _read(folder / "capacity")
        if percent.isdecimal():
            return Battery(min(int(percent), 100), charging)
        level = _read(folder / "capacity_level").casefold()
        if level in _LEVELS:
            return Battery(_LEVELS[level], charging)
    return None


def show_player(parent: str, number: int) -> bool:
    """Lights the player light of that number, from 1, and no other; returns whether there was one to light."""
    lit = False
    for light in sorted(Path(parent, "leds").glob("*")) if parent else ():
        found = _PLAYER.search(light.name)
        if found is None:
            continue
        on = int(found[1]) == number
        with suppress(OSError):  # without permission the lights stay as they are
            (light / "brightness").write_text("1" if on else "0", "ascii")
            lit = lit or on
    return lit


def _read(path: Path) -> str:
    try:
        return path.read_text("ascii", "replace").strip()
    except OSError:
        return ""

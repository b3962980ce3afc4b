"""Battery and player lights of a pad, by the kernel's classes power_supply and leds."""

from __future__ import annotations

import re
from dataclasses import dataclass
from pathlib import Path

# Function of a player light in its name, "player-1" to "player-5".
_PLAYER = re.compile(r"player-?(\d)$")
# Percentages for drivers that report a level in words.
_LEVELS = {"critical": 5, "low": 15, "normal": 55, "high": 80, "full": 100}


@dataclass(frozen=True)
class Battery:
    """Charge in percent, and whether the battery is being charged."""

    percent: int
    charging: bool


def battery_of(parent: str) -> Battery | None:
    """Returns the battery of the device in a sysfs folder; None if the kernel reports none."""
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
    """Lights the player light of a number, from 1, and no other; returns whether there is one.

    The kernel reserves writing for root; the login service does it for the person at the machine (interface
    org.freedesktop.login1.Session, SetBrightness). A write may be as slow as a radio link.
    """
    lit = False
    for light in sorted(Path(parent, "leds").glob("*")) if parent else ():
        found = _PLAYER.search(light.name)
        if found is None:
            continue
        on = int(found[1]) == number
        try:
            (light / "brightness").write_text(str(int(on)), "ascii")
        except PermissionError:
            if not _lit_by_login_service(light.name, on):
                continue
        except OSError:  # unplugged
            continue
        lit = lit or on
    return lit


def _lit_by_login_service(light: str, on: bool) -> bool:
    import subprocess  # imported late: rarely needed, and the runner has to start fast

    service = ("org.freedesktop.login1", "/org/freedesktop/login1/session/auto", "org.freedesktop.login1.Session")
    command = ("busctl", "--timeout=2", "call", *service, "SetBrightness", "ssu", "leds", light, str(int(on)))
    try:
        return subprocess.run(command, capture_output=True, timeout=4, check=False).returncode == 0
    except (OSError, subprocess.TimeoutExpired):
        return False  # no login service: the lights stay unchanged


def _read(path: Path) -> str:
    try:
        return path.read_text("ascii", "replace").strip()
    except OSError:
        return ""

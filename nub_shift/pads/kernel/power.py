"""A pad's battery and its player lights, where the kernel shows them (its power_supply and leds classes)."""

from __future__ import annotations

import re
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
    """Lights the player light of that number, from 1, and no other; returns whether there was one to light.

    The kernel lets only root write there; for whoever sits at the machine the login service does it (its interface
    org.freedesktop.login1.Session, SetBrightness). It may take as long as a radio link does.
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
        except OSError:  # it has gone
            continue
        lit = lit or on
    return lit


def _lit_by_login_service(light: str, on: bool) -> bool:
    import subprocess  # few need it, and the runner must be up fast

    service = ("org.freedesktop.login1", "/org/freedesktop/login1/session/auto", "org.freedesktop.login1.Session")
    command = ("busctl", "--timeout=2", "call", *service, "SetBrightness", "ssu", "leds", light, str(int(on)))
    try:
        return subprocess.run(command, capture_output=True, timeout=4, check=False).returncode == 0
    except (OSError, subprocess.TimeoutExpired):
        return False  # no such service here: the lights stay as they are


def _read(path: Path) -> str:
    try:
        return path.read_text("ascii", "replace").strip()
    except OSError:
        return ""

"""What a desktop shows of the program: its entry, its icon, the kind of its files."""

from __future__ import annotations

from pathlib import Path

MIME = "application/vnd.nub-shift.profile"


def template(name: str) -> str:
    """One of the texts here."""
    return Path(__file__).with_name(name).read_text("utf-8")


def icon_path() -> Path:
    """Returns the path of the icon, an SVG."""
    return Path(__file__).with_name("icon.svg")


def small_icon_path() -> Path:
    """The same as a picture of 64 by 64 pixels, for a process that is to stay small: reading SVG takes a library."""
    return Path(__file__).with_name("icon.png")

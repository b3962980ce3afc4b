"""What a desktop shows of the program: its entry, its icon, the kind of its files."""

from __future__ import annotations

from pathlib import Path

MIME = "application/vnd.nub-shift.profile"


def template(name: str) -> str:
    """One of the texts here."""
    return Path(__file__).with_name(name).read_text("utf-8")


def icon_path() -> Path:
    """Where the icon is, as SVG."""
    return Path(__file__).with_name("icon.svg")

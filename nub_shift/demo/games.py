"""The invented games and their profiles."""

from __future__ import annotations

from importlib.resources import files

DEFAULT_GAME = "saltglass"


def demo_profile_text(game: str = DEFAULT_GAME) -> str:
    """The profile of an invented game, as TOML text."""
    return files("nub_shift.demo").joinpath(f"{game}.toml").read_text("utf-8")

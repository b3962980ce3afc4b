"""The invented games: their profiles, and the made-up pad that each is shown with."""

from __future__ import annotations

from pathlib import Path

DEFAULT_GAME = "saltglass"
PAD_OF_GAME = {"saltglass": "tern", "tidefold": "reed", "dustwake": "halves"}
GAMES = tuple(PAD_OF_GAME)


def demo_profile_text(game: str = DEFAULT_GAME) -> str:
    """The profile of an invented game, as TOML text."""
    return Path(__file__).with_name(f"{game}.toml").read_text("utf-8")


def demo_examples() -> list[str]:
    """The profiles of all invented games, as texts."""
    return [demo_profile_text(game) for game in GAMES]

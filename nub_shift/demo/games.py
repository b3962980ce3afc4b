"""The invented games: profiles, and the simulated pad of each."""

from __future__ import annotations

import re
from pathlib import Path

from nub_shift.translation import trc as translated

# Context, in the catalogues, of the texts of a profile that a person reads; below, the form of their lines.
CONTEXT = "demo"
_READ = re.compile(r'(\b(?:label|group) = "|^notes = """\n)([^"]*)(")', re.MULTILINE)

DEFAULT_GAME = "saltglass"
PAD_OF_GAME = {"saltglass": "tern", "tidefold": "reed", "dustwake": "halves"}
GAMES = tuple(PAD_OF_GAME)


def demo_profile_text(game: str = DEFAULT_GAME) -> str:
    """Returns the profile of an invented game, as TOML text in the reader's language."""
    return _READ.sub(lambda found: f"{found[1]}{translated(CONTEXT, found[2])}{found[3]}", _text(game))


def demo_texts(game: str) -> list[str]:
    """Returns all texts of a game's profile that a person reads, in English."""
    return [found[2] for found in _READ.finditer(_text(game))]


def _text(game: str) -> str:
    return Path(__file__).with_name(f"{game}.toml").read_text("utf-8")


def demo_examples() -> list[str]:
    """Returns the profiles of all invented games as texts."""
    return [demo_profile_text(game) for game in GAMES]

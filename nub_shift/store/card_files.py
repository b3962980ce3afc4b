"""Pad cards as TOML files, beside the profiles."""

from __future__ import annotations

import os
from collections.abc import Iterable
from datetime import date
from itertools import islice
from pathlib import Path

import msgspec
import platformdirs
import tomli_w

from nub_shift.model.pad.card import CARD_VERSION, PadCard, card_problems
from nub_shift.model.problems import MAX_PROBLEMS, ProfileError
from nub_shift.store.atomic import write_text
from nub_shift.store.comments import comments_in, rewritten
from nub_shift.store.profile_files import read_toml
from nub_shift.store.reading import read_bounded
from nub_shift.store.structure_check import structure_problems


def card_folder() -> Path:
    """Returns the folder of pad cards."""
    return platformdirs.user_data_path("nub-shift") / "pads"


def parse_card(text: str, source: str = "card") -> PadCard:
    """Reads a card from TOML text.

    Raises:
        ProfileError: with every fault; `source` is put before each of them.
    """
    data = read_toml(text, source, CARD_VERSION)
    problems = list(islice(structure_problems(data, PadCard), MAX_PROBLEMS))
    if not problems:
        card = msgspec.convert(data, PadCard)
        problems = card_problems(card)
        if not problems:
            return card
    raise ProfileError(source, problems)


def format_card(card: PadCard) -> str:
    """The TOML text of a card; `parse_card` gives the same card back."""
    return tomli_w.dumps(msgspec.to_builtins(card, builtin_types=(date,)))


def card_text(card: PadCard, before: str | None) -> str:
    """The text of a card's file, where that said `before`: comments that a person wrote there stay."""
    plain = format_card(card)
    if before is None:
        return plain
    try:
        said = parse_card(before)
    except ProfileError:
        return "\n".join([*comments_in(before), plain])
    return rewritten(before, said, card, plain)


def card_path(identity: str) -> Path:
    """The file of the card of that identity."""
    return card_folder() / f"{identity}.toml"


def keep_card(card: PadCard) -> Path:
    """Writes a card to where it is found by its identity; returns the file. Raises OSError as `write_text` does."""
    path = card_path(card.identity)
    try:
        before = read_bounded(path)
    except ProfileError:
        before = None
    write_text(path, card_text(card, before))
    return path


def find_cards(identities: Iterable[str]) -> list[PadCard]:
    """The cards of those of these identities that have one, in their order.

    Raises:
        ProfileError: one cannot be read, or has faults.
    """
    found = (_read_card(card_path(identity)) for identity in identities)
    return [card for card in found if card is not None]


def joining_cards() -> list[PadCard]:
    """All cards that join devices, by their files' names.

    Raises:
        ProfileError: one cannot be read, or has faults.
    """
    found = (_read_card(path) for path in sorted(card_folder().glob("joined-*.toml")))
    return [card for card in found if card is not None and card.parts]


def _read_card(path: Path) -> PadCard | None:
    try:
        return parse_card(read_bounded(path), str(path))
    except ProfileError:
        if not os.path.lexists(path):
            return None  # nobody has kept one
        raise

"""Pad cards as TOML files beside the profiles."""

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
    """Parses a card from TOML text.

    Raises:
        ProfileError: with every fault, prefixed by `source`.
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
    """Returns the TOML text of a card, the inverse of `parse_card`."""
    return tomli_w.dumps(msgspec.to_builtins(card, builtin_types=(date,)))


def card_text(card: PadCard, before: str | None) -> str:
    """Returns the new text of a card's file that had the text `before`; comments written by a person stay."""
    plain = format_card(card)
    if before is None:
        return plain
    try:
        said = parse_card(before)
    except ProfileError:
        return "\n".join([*comments_in(before), plain])
    return rewritten(before, said, card, plain)


def card_path(identity: str) -> Path:
    """Returns the file of the card of an identity."""
    return card_folder() / f"{identity}.toml"


def keep_card(card: PadCard) -> Path:
    """Writes a card to the file of its identity; returns the file.

    Raises:
        OSError: as for `write_text`.
    """
    path = card_path(card.identity)
    try:
        before = read_bounded(path)
    except ProfileError:
        before = None
    write_text(path, card_text(card, before))
    return path


def find_cards(identities: Iterable[str]) -> list[PadCard]:
    """Returns the existing cards among those of these identities, in their order.

    Raises:
        ProfileError: a card is unreadable or has faults.
    """
    found = (_read_card(card_path(identity)) for identity in identities)
    return [card for card in found if card is not None]


def joining_cards() -> list[PadCard]:
    """Returns all cards that combine devices, by file name.

    Raises:
        ProfileError: a card is unreadable or has faults.
    """
    found = (_read_card(path) for path in sorted(card_folder().glob("joined-*.toml")))
    return [card for card in found if card is not None and card.parts]


def _read_card(path: Path) -> PadCard | None:
    try:
        return parse_card(read_bounded(path), str(path))
    except ProfileError:
        if not os.path.lexists(path):
            return None  # there is no such card
        raise

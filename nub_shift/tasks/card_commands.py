"""Export and import of the card of a connected or recorded pad."""

from __future__ import annotations

from pathlib import Path
from typing import assert_never

from msgspec.structs import replace

from nub_shift.model.kinds import PadKind
from nub_shift.model.messages import Code
from nub_shift.model.plain_text import system_fault
from nub_shift.model.problems import ProfileError
from nub_shift.pads.description import Description
from nub_shift.pads.known.cards import card_of, identities_of, known_as
from nub_shift.pads.known.mapping_line import MappingError, read_mapping, write_mapping
from nub_shift.pads.made_up.shapes import simulated_pad
from nub_shift.pads.pad import PadError
from nub_shift.pads.spec import parse_spec
from nub_shift.runner.errors import CannotPlay
from nub_shift.runner.pads.pad_registry import PadRegistry
from nub_shift.runner.pads.pad_search import PadSearch
from nub_shift.store.card_files import find_cards, format_card, keep_card, parse_card
from nub_shift.store.reading import read_bounded
from nub_shift.translation import tr


def export_card(spec: str, as_mapping: bool) -> str:
    """Returns the card of a pad as TOML, or as a controller mapping line; without a card, the guess by its codes.

    Raises:
        CannotPlay: there is no such pad, or its card has faults.
    """
    description = _described(spec)
    try:
        known = known_as(description)
        cards = find_cards(identities_of(description))
    except ProfileError as error:
        raise CannotPlay(Code.FILE_FAULTY, why=str(error)) from None
    if as_mapping:
        return write_mapping(known.name, description, known.wiring)
    whole = card_of(description, known.wiring, known.name)
    return format_card(replace(cards[0], buttons=whole.buttons, axes=whole.axes) if cards else whole)


def import_card(spec: str, path: Path) -> str:
    """Imports a file with a card or a controller mapping line for a pad; returns a line for the person.

    Raises:
        CannotPlay: there is no such pad, the file has faults or is for another pad, or it cannot be written.
    """
    description = _described(spec)
    try:
        text = read_bounded(path)
    except ProfileError:
        raise CannotPlay(
            Code.FILE_FAULTY,
            why=tr("{path}: file: cannot be read, expected a card or a controller mapping line", path=path),
        ) from None
    try:
        if "=" in text:
            card = parse_card(text, str(path))
        else:
            name, wiring = read_mapping(_only_line(text), description)
            card = card_of(description, wiring, name)
        if card.identity not in identities_of(description):
            wanted = identities_of(description)[-1]
            raise CannotPlay(
                Code.FILE_FAULTY,
                why=tr("{path}: identity: is that of another pad, expected {wanted}", path=path, wanted=wanted),
            )
        return tr("{card}: kept as {path}", card=card.name, path=keep_card(card))
    except ProfileError as error:
        raise CannotPlay(Code.FILE_FAULTY, why=str(error)) from None
    except MappingError as error:
        raise CannotPlay(Code.FILE_FAULTY, why=f"{path}: {error}") from None
    except OSError as error:
        raise CannotPlay(Code.FILE_FAULTY, why=f"{error.filename or path}: {system_fault(error)}") from None


def _only_line(text: str) -> str:
    lines = [line for line in text.splitlines() if line.strip() and not line.startswith("#")]
    return lines[0] if lines else ""


def _described(text: str) -> Description:
    try:
        spec = parse_spec(text, tuple(PadKind))
        match spec.kind:
            case PadKind.RECORDED:
                from nub_shift.pads.recorded.recordings import read

                return read(spec.file).description
            case PadKind.SIMULATED:
                return simulated_pad(spec.match, 0).descriptions[0]
            case PadKind.EVDEV:
                found = PadSearch(PadRegistry(), spec).look().singles[0].description
                assert found is not None, "what is meant can be looked at"
                return found
            case _:
                assert_never(spec.kind)
    except PadError as error:
        raise CannotPlay.of(error.message) from None

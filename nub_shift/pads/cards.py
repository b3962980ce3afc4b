"""Pad cards at work: whose card it is, and the wiring that it says."""

from __future__ import annotations

import re

from nub_shift.model.card import AxisCard, PadCard
from nub_shift.model.card_files import find_card
from nub_shift.pads.description import Description
from nub_shift.pads.gamepad import is_motion, wiring_of
from nub_shift.pads.wiring import AxisUse, Wiring


def identities_of(description: Description) -> tuple[str, ...]:
    """What a device's card may be called, the most particular first: with its serial number, then without.

    Bus, vendor, product and version stay the same over unplugging and from machine to machine. A device that has none
    of them is told by its name.
    """
    numbers = (description.bus, description.vendor, description.product, description.version)
    kind = "-".join(f"{number:04x}" for number in numbers)
    if not description.vendor and not description.product:
        kind += f"-{_slug(description.name)}"
    serial = _slug(description.uniq)
    return (f"{kind}-{serial}", kind) if serial else (kind,)


def known_as(description: Description) -> tuple[str, Wiring]:
    """What a device is called and how it is wired: by its card if it has one, else by itself and its codes.

    Raises:
        ProfileError: its card cannot be read, or has faults.
    """
    card = None if is_motion(description) else find_card(identities_of(description))
    return (description.name, wiring_of(description)) if card is None else (card.name, wiring_by(card))


def wiring_by(card: PadCard) -> Wiring:
    """The wiring that a card says."""
    return Wiring(
        {int(code, 16): channel for code, channel in card.buttons.items()},
        {
            int(code, 16): AxisUse(axis.above, axis.below, axis.low, axis.rest, axis.high)
            for code, axis in card.axes.items()
        },
    )


def card_of(description: Description, wiring: Wiring, name: str = "") -> PadCard:
    """A card for a device that says this wiring."""
    return PadCard(
        schema=1,
        identity=identities_of(description)[-1],
        name=(name or description.name or "Pad")[:60],
        buttons={f"{code:#x}": channel for code, channel in sorted(wiring.buttons.items())},
        axes={
            f"{code:#x}": AxisCard(above=use.above, below=use.below, low=use.low, rest=use.rest, high=use.high)
            for code, use in sorted(wiring.axes.items())
        },
    )


def _slug(text: str) -> str:
    return re.sub(r"[^0-9a-z]+", "-", text.casefold()).strip("-")[:60]

"""Finds the card of a device, and the wiring and labels that follow from it."""

from __future__ import annotations

import re
from collections.abc import Sequence
from dataclasses import dataclass, field
from enum import Enum

from msgspec.structs import replace

from nub_shift.model.controls import Finger
from nub_shift.model.pad.card import CARD_SCHEMA_VERSION, AxisCard, PadCard
from nub_shift.model.pad.labels import LabelStyle, printed_labels
from nub_shift.model.pad.trim import PadTrim
from nub_shift.model.profile.colours import Colour
from nub_shift.model.profile.schema_types import MAX_LABEL
from nub_shift.pads.description import Description
from nub_shift.pads.known.gamepad import is_gamepad, is_motion, is_surface, wiring_of
from nub_shift.pads.known.wiring import AxisUse, Wiring
from nub_shift.store.card_files import find_cards, keep_card
from nub_shift.translation import tr

Bias = tuple[float, float, float]


class Source(Enum):
    """Origin of a pad's wiring."""

    DOCUMENT = "document"
    CARD = "card"
    GUESS = "guess"


@dataclass(frozen=True)
class Known:
    """All that is known of a device.

    Attributes:
        printed: what is printed on its controls, where that is not their position.
        fingers: what works its controls, where that is not the usual finger.
        menu: the button that opens its menu, where that is not the usual one.
        trim: what is corrected of its sticks and its gyro.
        gyro_bias: what its gyro is known to show at rest, about x, y and z, in degrees a second.
    """

    name: str
    wiring: Wiring
    source: Source
    colour: Colour | None = None
    printed: dict[str, str] = field(default_factory=dict)
    gyro_bias: Bias | None = None
    fingers: dict[str, Finger] = field(default_factory=dict)
    menu: str = ""
    trim: PadTrim = field(default_factory=PadTrim)

    @property
    def is_guessed(self) -> bool:
        """Whether the wiring follows from the device's codes alone, in a device older than the gamepad document."""
        return self.source is Source.GUESS


def identities_of(description: Description) -> tuple[str, ...]:
    """Returns identities that a device's card may have, the most particular first, that of its kind last.

    Bus, vendor, product and version stay the same over unplugging and from machine to machine. A device that has none
    of them is told by its name. One alone is told by its serial number, or where it has none by where it is plugged in.
    """
    numbers = (description.bus, description.vendor, description.product, description.version)
    kind = "-".join(f"{number:04x}" for number in numbers)
    if not description.vendor and not description.product:
        kind += f"-{_slug(description.name)}"
    serial, port = _slug(description.uniq), _slug(description.phys)
    if serial:
        return (f"{kind}-{serial}", kind)
    return (f"{kind}-at-{port}", kind) if port else (kind,)


def own_identity(description: Description, has_twin: bool) -> str:
    """Returns the identity of the card for this one pad; `has_twin` is whether an equal pad is connected too.

    The place where a pad is plugged in changes more easily than its owner: it is asked for only to tell twins apart.
    """
    own, kind = identities_of(description)[0], identities_of(description)[-1]
    return own if _slug(description.uniq) or has_twin else kind


def known_as(description: Description) -> Known:
    """Returns name and wiring of a device: from its cards if there are some, else from its own name and codes.

    Raises:
        ProfileError: a card cannot be read, or has faults.
    """
    if is_motion(description) or is_surface(description):
        return Known(description.name, wiring_of(description), Source.DOCUMENT)
    cards = find_cards(identities_of(description))
    wired = next((card for card in cards if card.wired), None)
    wiring = wiring_by(wired) if wired is not None else wiring_of(description)
    by_codes = Source.DOCUMENT if is_gamepad(description) else Source.GUESS
    style = next((card.labels for card in cards if card.labels is not None), LabelStyle.POSITIONS)
    own = {name: text for card in reversed(cards) for name, text in card.own_labels.items()}
    buttons = [channel for _, channel in sorted(wiring.buttons.items())]
    return Known(
        cards[0].name if cards else description.name,
        wiring,
        Source.CARD if wired is not None else by_codes,
        next((card.colour for card in cards if card.colour is not None), None),
        printed_labels(style, own, buttons),
        next((bias for card in cards if (bias := _bias_by(card)) is not None), None),
        {name: finger for card in reversed(cards) for name, finger in card.worked_by.items()},
        next((card.menu for card in cards if card.menu), ""),
        _trim_by(cards),
    )


def keep_gyro_bias(description: Description, bias: Bias) -> None:
    """Writes what was learned into the card of this one pad; makes one if it has none.

    Raises:
        ProfileError: a card cannot be read, or has faults.
        OSError: it cannot be written.
    """
    identities = identities_of(description)
    own = identities[0] if _slug(description.uniq) else identities[-1]
    found = next((card for card in find_cards(identities) if card.identity == own), None)
    card = found or PadCard(schema=CARD_SCHEMA_VERSION, identity=own, name=(description.name or tr("Pad"))[:MAX_LABEL])
    rounded = (round(bias[0], 3), round(bias[1], 3), round(bias[2], 3))
    keep_card(replace(card, gyro_bias=rounded))


def _bias_by(card: PadCard) -> Bias | None:
    """Returns the bias that was learned last, else the one that was measured last."""
    measured = (one.motion.bias_dps for one in reversed(card.measured) if one.motion is not None)
    rates = card.gyro_bias if card.gyro_bias is not None else next(measured, None)
    return (rates[0], rates[1], rates[2]) if rates is not None else None


def _trim_by(cards: Sequence[PadCard]) -> PadTrim:
    """Stick by stick that of the most particular card which has one."""
    sticks = {name: trim for card in reversed(cards) for name, trim in card.trim.sticks.items()}
    return PadTrim(sticks, next((card.trim.gate_dps for card in cards if card.trim.gate_dps), 0.0))


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
        schema=CARD_SCHEMA_VERSION,
        identity=identities_of(description)[-1],
        name=(name or description.name or tr("Pad"))[:MAX_LABEL],
        buttons={f"{code:#x}": channel for code, channel in sorted(wiring.buttons.items())},
        axes={
            f"{code:#x}": AxisCard(above=use.above, below=use.below, low=use.low, rest=use.rest, high=use.high)
            for code, use in sorted(wiring.axes.items())
        },
    )


def _slug(text: str) -> str:
    return re.sub(r"[^0-9a-z]+", "-", text.casefold()).strip("-")[:60]

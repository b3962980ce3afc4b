"""Cards of devices, and the resulting wiring and labels."""

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
    """Everything known of a device.

    Attributes:
        printed: labels on its controls, where they are not the position.
        fingers: fingers of its controls, where unusual.
        menu: button of the pad menu, where unusual.
        trim: correction of sticks and gyro.
        gyro_bias: known bias about x, y and z, in degrees a second.
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
        """Whether the wiring is guessed from the codes alone, for a device older than the gamepad document."""
        return self.source is Source.GUESS


def identities_of(description: Description) -> tuple[str, ...]:
    """Returns the identities that a device's card may have, the most specific first, that of its kind last.

    Bus, vendor, product and version are stable across ports and machines. A device without these is identified by its
    name. A single device is identified by its serial number, or otherwise by its port.
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

    Ports change more easily than owners, so the port is used only to distinguish twins.
    """
    own, kind = identities_of(description)[0], identities_of(description)[-1]
    return own if _slug(description.uniq) or has_twin else kind


def known_as(description: Description) -> Known:
    """Returns name and wiring of a device: from its cards if there are any, else from its own name and codes.

    Raises:
        ProfileError: a card is unreadable or has faults.
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
    """Writes a learned bias into the card of this one pad; creates the card if missing.

    Raises:
        ProfileError: a card is unreadable or has faults.
        OSError: the card cannot be written.
    """
    identities = identities_of(description)
    own = identities[0] if _slug(description.uniq) else identities[-1]
    found = next((card for card in find_cards(identities) if card.identity == own), None)
    card = found or PadCard(schema=CARD_SCHEMA_VERSION, identity=own, name=(description.name or tr("Pad"))[:MAX_LABEL])
    rounded = (round(bias[0], 3), round(bias[1], 3), round(bias[2], 3))
    keep_card(replace(card, gyro_bias=rounded))


def _bias_by(card: PadCard) -> Bias | None:
    """Returns the last learned bias, else the last measured one."""
    measured = (one.motion.bias_dps for one in reversed(card.measured) if one.motion is not None)
    rates = card.gyro_bias if card.gyro_bias is not None else next(measured, None)
    return (rates[0], rates[1], rates[2]) if rates is not None else None


def _trim_by(cards: Sequence[PadCard]) -> PadTrim:
    """Returns the correction of each stick from the most specific card that has one."""
    sticks = {name: trim for card in reversed(cards) for name, trim in card.trim.sticks.items()}
    return PadTrim(sticks, next((card.trim.gate_dps for card in cards if card.trim.gate_dps), 0.0))


def wiring_by(card: PadCard) -> Wiring:
    """Returns the wiring of a card."""
    return Wiring(
        {int(code, 16): channel for code, channel in card.buttons.items()},
        {
            int(code, 16): AxisUse(axis.above, axis.below, axis.low, axis.rest, axis.high)
            for code, axis in card.axes.items()
        },
    )


def card_of(description: Description, wiring: Wiring, name: str = "") -> PadCard:
    """Returns a card for a device with this wiring."""
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

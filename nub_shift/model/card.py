"""What is known of one pad, as immutable values: the pad card."""

from __future__ import annotations

import re
from collections.abc import Iterator
from typing import Annotated, Literal

from msgspec import Meta

from nub_shift.model.controls import CONTROL_OF_CHANNEL, Kind
from nub_shift.model.part import Label, Part
from nub_shift.model.problems import Problem

CARD_VERSION = 1
_CODE = re.compile(r"0x[0-9a-f]{1,3}")
Position = Annotated[float, Meta(ge=-(2**31), le=2**31, description="a number, as the device reports it")]


class AxisCard(Part, frozen=True):
    """What one axis feeds: `above` the way from `rest` to `high`, `below` that from `rest` to `low`.

    The same channel in both is a stick's or a slider's. A trigger has only `above`, and rests at `low`. Two triggers on
    one axis are its two sides. An axis that counts the other way round has the larger number as its `low`.
    """

    low: Position
    rest: Position
    high: Position
    above: str = ""
    below: str = ""


class PadCard(Part, frozen=True):
    """A pad's name, and how its kernel codes feed the canonical channels.

    `identity` tells which pads it is for: bus, vendor, product and version, and a serial number if it is for one alone.
    Codes are hexadecimal numbers of linux/input-event-codes.h.
    """

    schema: Literal[1]
    identity: Annotated[str, Meta(pattern="^[0-9a-z-]{4,120}$", description="lower-case letters, digits and dashes")]
    name: Label
    buttons: dict[str, str] = {}  # noqa: RUF012 - msgspec copies it
    axes: dict[str, AxisCard] = {}  # noqa: RUF012


def card_problems(card: PadCard) -> list[Problem]:
    """Every code that is none, every channel that no pad has or that is fed twice, and every axis without a way."""
    return [*_codes(card), *_channels(card), *_ways(card)]


def _codes(card: PadCard) -> Iterator[Problem]:
    for place, codes in (("buttons", card.buttons), ("axes", card.axes)):
        for code in codes:
            if not _CODE.fullmatch(code):
                yield Problem(f"{place}.{code}", "is no code", "expected a number as 0x130")


def _channels(card: PadCard) -> Iterator[Problem]:
    fed: dict[str, str] = {}
    uses = [(f"buttons.{code}", channel) for code, channel in card.buttons.items()]
    for code, axis in card.axes.items():
        sides = {"above": axis.above, "below": axis.below}
        if axis.above == axis.below:
            sides.pop("below")
        uses += [(f"axes.{code}.{side}", channel) for side, channel in sides.items() if channel]
    for place, channel in uses:
        control = CONTROL_OF_CHANNEL.get(channel)
        if control is None or control.kind is Kind.MOTION:
            yield Problem(place, f"no pad has a channel {channel!r}", "expected one as south, left_stick.x, dpad.up")
        elif channel in fed:
            yield Problem(place, f"{channel!r} is fed by {fed[channel]} already", "feed each channel once")
        fed.setdefault(channel, place)


def _ways(card: PadCard) -> Iterator[Problem]:
    for code, axis in card.axes.items():
        place = f"axes.{code}"
        if not axis.above and not axis.below:
            yield Problem(place, "feeds nothing", "give above, below or both")
        lowest, highest = min(axis.low, axis.high), max(axis.low, axis.high)
        if lowest == highest or not lowest <= axis.rest <= highest:
            yield Problem(place, "low, rest and high do not stand in a row", "expected rest between two ends")

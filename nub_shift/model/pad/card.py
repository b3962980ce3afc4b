"""Pad cards as immutable values."""

from __future__ import annotations

import re
import zlib
from collections.abc import Iterator, Sequence
from typing import Annotated, Final, Literal

from msgspec import Meta

from nub_shift.model.controls import CONTROL_BY_NAME, CONTROL_OF_CHANNEL, STICKS, Finger, Kind
from nub_shift.model.pad.labels import NAMEABLE, LabelStyle
from nub_shift.model.pad.measures import RIM_ANGLES, Measured, Rates
from nub_shift.model.pad.trim import PadTrim
from nub_shift.model.problems import Problem
from nub_shift.model.profile.colours import Colour
from nub_shift.model.profile.schema_types import Identity, Label, Record
from nub_shift.translation import tr

CARD_VERSION = 1
MAX_MEASURED = 24
_CODE = re.compile(r"0x[0-9a-f]{1,3}")
Position = Annotated[float, Meta(ge=-(2**31), le=2**31, description=tr("a number, as the device reports it"))]

PrintedLabel = Annotated[str, Meta(min_length=1, max_length=12, description=tr("a text of 1 to 12 characters"))]

CARD_SCHEMA_VERSION: Final = 1


class AxisCard(Record, frozen=True):
    """Channels fed by one axis: `above` covers `rest` to `high`, `below` covers `rest` to `low`.

    A stick or slider has the same channel in both. A trigger has only `above`, and rests at `low`. Two triggers on one
    axis are its two sides. An inverted axis has the larger number as `low`.
    """

    low: Position
    rest: Position
    high: Position
    above: str = ""
    below: str = ""


class PadCard(Record, frozen=True):
    """A pad's name and marks, the channels that its kernel codes feed, and its measurements.

    `identity` selects the pads of the card: bus, vendor, product and version, followed by a serial number or a path for
    a single pad. Codes are hexadecimal numbers of linux/input-event-codes.h. A card without buttons and axes leaves the
    wiring to the card of all pads of its kind, or to the kernel codes.

    A card with `parts` combines devices: the pads with these identities form one pad. `motion` is the identity of the
    part whose motion sensors count.

    `worked_by` gives the finger, or the mouth, that works a control, where this differs from the usual.

    `menu` is the button that opens the pad menu when held, where this differs from the usual.

    `gyro_bias` is the gyro's bias about x, y and z at the last rest, in degrees a second; play uses the bias from the
    first second on.

    `trim` corrects a worn stick or a trembling gyro in every profile.
    """

    schema: Literal[1]
    identity: Identity
    name: Label
    colour: Colour | None = None
    labels: LabelStyle | None = None
    own_labels: dict[str, PrintedLabel] = {}  # noqa: RUF012 - msgspec copies it
    worked_by: dict[str, Finger] = {}  # noqa: RUF012
    menu: str = ""
    parts: Annotated[tuple[Identity, ...], Meta(max_length=8, description=tr("a list of at most 8 identities"))] = ()
    motion: str = ""
    buttons: dict[str, str] = {}  # noqa: RUF012
    axes: dict[str, AxisCard] = {}  # noqa: RUF012
    measured: Annotated[
        tuple[Measured, ...], Meta(max_length=MAX_MEASURED, description=tr("at most {most} tables", most=MAX_MEASURED))
    ] = ()
    gyro_bias: Rates | None = None
    trim: PadTrim = PadTrim()

    @property
    def wired(self) -> bool:
        """Whether the card contains a wiring."""
        return bool(self.buttons or self.axes)


def joined_identity(parts: Sequence[str]) -> str:
    """Returns the identity of the card of these combined parts."""
    return f"joined-{zlib.crc32(' '.join(parts).encode()):08x}"


def card_problems(card: PadCard) -> list[Problem]:
    """Returns the faults of a card: unknown codes, unknown or doubly fed channels, contradictions."""
    return [*_names(card), *_codes(card), *_channels(card), *_ways(card), *_trims(card)]


def _names(card: PadCard) -> Iterator[Problem]:
    for name in card.own_labels:
        if name not in NAMEABLE:
            yield Problem(f"own_labels.{name}", tr("is no control"), tr("expected one as south or left_stick.click"))
    for name in card.worked_by:
        if name not in CONTROL_BY_NAME:
            yield Problem(f"worked_by.{name}", tr("is no control"), tr("expected one as south or left_stick"))
    if card.menu and (card.menu not in CONTROL_BY_NAME or CONTROL_BY_NAME[card.menu].kind is not Kind.BUTTON):
        yield Problem("menu", tr("{menu!r} is no button", menu=card.menu), tr("expected one as home or start"))
    if len(card.parts) == 1 or len(set(card.parts)) < len(card.parts):
        yield Problem("parts", tr("are not several pads"), tr("expected two or more identities, each once"))
    if card.parts and card.wired:
        yield Problem("parts", tr("stand beside buttons or axes"), tr("leave the wiring to the cards of the parts"))
    if card.motion and card.motion not in card.parts:
        yield Problem(
            "motion", tr("{motion!r} is none of the parts", motion=card.motion), tr("expected an identity among them")
        )


def _trims(card: PadCard) -> Iterator[Problem]:
    for name, trim in card.trim.sticks.items():
        if name not in STICKS:
            yield Problem(f"trim.sticks.{name}", tr("is no stick"), tr("expected left_stick or right_stick"))
        if len(trim.reach) not in (0, RIM_ANGLES):
            wrong = tr("is a list of {count} numbers", count=len(trim.reach))
            yield Problem(f"trim.sticks.{name}.reach", wrong, tr("expected {count}", count=RIM_ANGLES))


def _codes(card: PadCard) -> Iterator[Problem]:
    for path, codes in (("buttons", card.buttons), ("axes", card.axes)):
        for code in codes:
            if not _CODE.fullmatch(code):
                yield Problem(f"{path}.{code}", tr("is no code"), tr("expected a number as 0x130"))


def _channels(card: PadCard) -> Iterator[Problem]:
    fed: dict[str, str] = {}
    uses = [(f"buttons.{code}", channel) for code, channel in card.buttons.items()]
    for code, axis in card.axes.items():
        sides = {"above": axis.above, "below": axis.below}
        if axis.above == axis.below:
            sides.pop("below")
        uses += [(f"axes.{code}.{side}", channel) for side, channel in sides.items() if channel]
    for path, channel in uses:
        control = CONTROL_OF_CHANNEL.get(channel)
        if control is None or control.kind in (Kind.MOTION, Kind.SURFACE):
            yield Problem(
                path,
                tr("no pad has a channel {channel!r}", channel=channel),
                tr("expected one as south, left_stick.x, dpad.up"),
            )
        elif channel in fed:
            yield Problem(
                path,
                tr("{channel!r} is fed by {fed} already", channel=channel, fed=fed[channel]),
                tr("feed each channel once"),
            )
        fed.setdefault(channel, path)


def _ways(card: PadCard) -> Iterator[Problem]:
    for code, axis in card.axes.items():
        path = f"axes.{code}"
        if not axis.above and not axis.below:
            yield Problem(path, tr("feeds nothing"), tr("give above, below or both"))
        lowest, highest = min(axis.low, axis.high), max(axis.low, axis.high)
        if lowest == highest or not lowest <= axis.rest <= highest:
            yield Problem(path, tr("low, rest and high do not stand in a row"), tr("expected rest between two ends"))

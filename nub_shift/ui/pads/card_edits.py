"""Edits of pad cards by a person, each of which can be undone."""

from __future__ import annotations

from collections.abc import Callable

from msgspec.structs import replace

from nub_shift.editing.card_book import CardBook
from nub_shift.model.controls import Finger
from nub_shift.model.pad.card import PadCard, joined_identity
from nub_shift.model.pad.labels import LabelStyle
from nub_shift.model.pad.measures import Measured
from nub_shift.model.pad.trim import PadTrim
from nub_shift.model.profile.colours import Colour
from nub_shift.protocol.messages import PadInfo
from nub_shift.store.card_files import parse_card
from nub_shift.translation import tr


class CardEdits:
    """Edits the cards of available pads."""

    def __init__(self, book: CardBook) -> None:
        self._book = book

    def marks(self, pad: PadInfo) -> PadCard:
        """Returns the card with the pad's name, colour and measurements, which identifies it among its kind."""
        return self._book.card(pad.marks, pad.name)

    def wiring(self, pad: PadInfo) -> PadCard:
        """Returns the card with the pad's wiring and labels; often the same card."""
        return self._book.card(pad.wiring, pad.device)

    def rename(self, pad: PadInfo, name: str) -> None:
        """Renames a pad."""
        self._mark(pad, tr("named {name}", name=name), lambda card: replace(card, name=name))

    def set_colour(self, pad: PadInfo, colour: str) -> None:
        """Sets the colour of a pad; empty for none."""
        self._mark(pad, tr("colour"), lambda card: replace(card, colour=Colour(colour) if colour else None))

    def set_moving_part(self, pad: PadInfo, part: str) -> None:
        """Sets the part of a combined pad whose motion sensors count, by its identity."""
        self._mark(pad, "motion", lambda card: replace(card, motion=part))

    def set_style(self, pad: PadInfo, style: str) -> None:
        """Sets the style of the face buttons' labels."""
        self._book.edit(tr("{pad}: labels", pad=pad.name), replace(self.wiring(pad), labels=LabelStyle(style)))

    def set_label(self, pad: PadInfo, control: str, text: str) -> None:
        """Sets the label printed on a control; an empty text resets to that of the style."""
        card = self.wiring(pad)
        own = {name: label for name, label in card.own_labels.items() if name != control}
        self._book.edit(
            tr("{pad}: label", pad=pad.name), replace(card, own_labels=own | ({control: text} if text else {}))
        )

    def set_finger(self, pad: PadInfo, control: str, finger: str) -> None:
        """Sets the finger of a control."""
        card = self.wiring(pad)
        self._book.edit(
            tr("{pad}: finger", pad=pad.name), replace(card, worked_by=card.worked_by | {control: Finger(finger)})
        )

    def set_menu(self, pad: PadInfo, control: str) -> None:
        """Sets the button that opens the pad menu."""
        self._mark(pad, tr("menu button"), lambda card: replace(card, menu=control))

    def keep(self, pad: PadInfo, introduced: str) -> None:
        """Saves the result of a set-up, a card as text; other content of the card stays."""
        made = parse_card(introduced)
        card = replace(self._book.card(pad.wiring, pad.name), buttons=made.buttons, axes=made.axes)
        self._book.edit(tr("{card}: set up", card=card.name), card)

    def add_measured(self, pad: PadInfo, measured: Measured) -> None:
        """Saves measurements."""
        self._book.add_measured(pad.marks, pad.name, measured)

    def set_trim(self, pad: PadInfo, trim: PadTrim) -> None:
        """Sets the corrections of sticks and gyro."""
        self._mark(pad, tr("correction"), lambda card: replace(card, trim=trim))

    def join(self, pad: PadInfo, other: PadInfo) -> str:
        """Combines two pads into one; returns its key."""
        moving = next((part.identity for part in (pad, other) if "motion" in part.controls), "")
        identities = (pad.identity, other.identity)
        self._book.join(f"{pad.name} + {other.name}", identities, moving)
        return joined_identity(identities)

    def _mark(self, pad: PadInfo, label: str, change: Callable[[PadCard], PadCard]) -> None:
        self._book.edit(f"{pad.name}: {label}", change(self.marks(pad)))

"""Labels printed on a pad's controls, which differ between pads of equal positions."""

from __future__ import annotations

from collections.abc import Mapping, Sequence
from enum import Enum

from nub_shift.model.controls import CONTROL_BY_NAME, CONTROLS, FACE_BUTTONS, STICKS
from nub_shift.model.slot_names import slot_name
from nub_shift.translation import inside, tr

# Places that a person may label: every button and stick click; D-pad, sticks, triggers and sliders as a whole.
NAMEABLE: frozenset[str] = frozenset(
    {*(control.name for control in CONTROLS), *(slot_name(stick, "click") for stick in STICKS)}
)


class LabelStyle(Enum):
    """Marking of the buttons by a maker; a card may label single controls besides."""

    POSITIONS = "positions"
    LETTERS = "letters"
    LETTERS_SWAPPED = "letters_swapped"
    SHAPES = "shapes"
    NUMBERS = "numbers"


_PRINTED = {
    LabelStyle.LETTERS: ("A", "B", "X", "Y"),
    LabelStyle.LETTERS_SWAPPED: ("B", "A", "Y", "X"),
    LabelStyle.SHAPES: (tr("Cross"), tr("Circle"), tr("Square"), tr("Triangle")),
}


def printed_labels(style: LabelStyle, own: Mapping[str, str], buttons: Sequence[str]) -> dict[str, str]:
    """Returns the labels printed on a pad, by control or click.

    Args:
        own: labels given by the person, which override the style's.
        buttons: button channels in the order of the device, for numbered buttons.
    """
    printed: dict[str, str] = {}
    if style is LabelStyle.NUMBERS:
        printed = {channel: str(number) for number, channel in enumerate(buttons, 1) if channel in NAMEABLE}
    elif style in _PRINTED:
        printed = dict(zip(FACE_BUTTONS, _PRINTED[style], strict=True))
    return printed | dict(own)


def control_title(name: str, printed: Mapping[str, str]) -> str:
    """A control's label on this pad, with its position behind it where something else is printed: "A (south)"."""
    usual = CONTROL_BY_NAME[name].label
    return f"{printed[name]} ({inside(usual)})" if name in printed else usual

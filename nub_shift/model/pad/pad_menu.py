"""How the menu on the screen is opened and worked from a pad, by what the pad has."""

from __future__ import annotations

from collections.abc import Collection
from typing import Final

from nub_shift.model.controls import CONTROL_BY_NAME, WAYS, Kind
from nub_shift.model.slot_names import slot_name

# How long the control has to be held that opens it.
MENU_HOLD_MS: Final = 700

# Buttons apart from the others: their effects in a game can wait until a press is over.
MIDDLE_BUTTONS: Final = ("home", "start", "select")
# The first of these that a pad has opens its menu, unless its card says another.
_OPENERS: Final = (*MIDDLE_BUTTONS, "west", "north", "grip_1")
_BUTTONS: Final = ("south", "east", "west", "north", "right_shoulder", "left_shoulder", "select", "start")

# Meaning of a press in the menu.
DO: Final = "do"
BACK: Final = "back"


def opener_of(controls: Collection[str], chosen: str = "") -> str:
    """The button that opens the menu of a pad with these controls: the one that its card says, or the usual one.

    Empty if it has no button.
    """
    if chosen in controls:
        return chosen
    found = next((name for name in _OPENERS if name in controls), "")
    return found or next((name for name in controls if CONTROL_BY_NAME[name].kind is Kind.BUTTON), "")


def button_words(controls: Collection[str], opener: str) -> dict[str, str]:
    """Returns the meanings of a pad's buttons in its menu, by channel: two of them, and the opener leads back too.

    A pad with one button does with that; what leads back is on the screen besides.
    """
    found = [name for name in _BUTTONS if name in controls and name != opener]
    words = dict(zip(found, (DO, BACK), strict=False)) if found else {opener: DO}
    return {**words, opener: BACK} if found and opener else words


def cross_words(controls: Collection[str]) -> dict[str, str]:
    """The ways of its D-pad, by their channel."""
    return {slot_name("dpad", way): way for way in WAYS} if "dpad" in controls else {}


def stick_words(controls: Collection[str]) -> dict[str, tuple[str, str]]:
    """Which ways its sticks go, by the channel of an axis: to the left or up first."""
    sticks = [name for name in ("left_stick", "right_stick") if name in controls]
    axes = {"x": ("left", "right"), "y": ("up", "down")}
    return {slot_name(stick, axis): ways for stick in sticks for axis, ways in axes.items()}

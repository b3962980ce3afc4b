"""Controls that open and work the pad menu, by the controls of the pad."""

from __future__ import annotations

from collections.abc import Collection
from typing import Final

from nub_shift.model.controls import CONTROL_BY_NAME, WAYS, Kind
from nub_shift.model.slot_names import slot_name

# Hold time of the control that opens the menu.
MENU_HOLD_MS: Final = 700

# Buttons apart from the others, whose effects in a game can wait for the end of the press.
MIDDLE_BUTTONS: Final = ("home", "start", "select")
# Candidates for opening the menu, the first that a pad has counts; its card may override the choice.
_OPENERS: Final = (*MIDDLE_BUTTONS, "west", "north", "grip_1")
_BUTTONS: Final = ("south", "east", "west", "north", "right_shoulder", "left_shoulder", "select", "start")

# Meaning of a press in the menu.
DO: Final = "do"
BACK: Final = "back"


def opener_of(controls: Collection[str], chosen: str = "") -> str:
    """Returns the button that opens the menu of a pad with these controls: the button of its card, or the usual one.

    Empty for a pad without buttons.
    """
    if chosen in controls:
        return chosen
    found = next((name for name in _OPENERS if name in controls), "")
    return found or next((name for name in controls if CONTROL_BY_NAME[name].kind is Kind.BUTTON), "")


def button_words(controls: Collection[str], opener: str) -> dict[str, str]:
    """Returns the meanings of a pad's buttons in its menu, by channel: two buttons, and the opener to go back.

    One button suffices, since the menu on the screen has a way back too.
    """
    found = [name for name in _BUTTONS if name in controls and name != opener]
    words = dict(zip(found, (DO, BACK), strict=False)) if found else {opener: DO}
    return {**words, opener: BACK} if found and opener else words


def cross_words(controls: Collection[str]) -> dict[str, str]:
    """Returns the directions of the D-pad, by channel."""
    return {slot_name("dpad", way): way for way in WAYS} if "dpad" in controls else {}


def stick_words(controls: Collection[str]) -> dict[str, tuple[str, str]]:
    """Returns the two directions of each stick axis, by channel: left or up first."""
    sticks = [name for name in ("left_stick", "right_stick") if name in controls]
    axes = {"x": ("left", "right"), "y": ("up", "down")}
    return {slot_name(stick, axis): ways for stick in sticks for axis, ways in axes.items()}

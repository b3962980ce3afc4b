"""Instructions during the set-up of a pad."""

from __future__ import annotations

from nub_shift.model.controls import CONTROL_BY_NAME, CONTROL_OF_CHANNEL, Kind
from nub_shift.model.slot_names import SlotName
from nub_shift.translation import inside, tr

_INSTRUCTIONS = {
    "left_stick": tr("Left stick: push it up, then once round to the right along the rim, and let go"),
    "right_stick": tr("Right stick: push it up, then once round to the right along the rim, and let go"),
    "south": tr("Press the lowest of the four buttons under the right thumb"),
    "east": tr("Press the right one of the four buttons under the right thumb"),
    "west": tr("Press the left one of the four buttons under the right thumb"),
    "north": tr("Press the highest of the four buttons under the right thumb"),
    "left_shoulder": tr("Press the left shoulder button, the upper one"),
    "right_shoulder": tr("Press the right shoulder button, the upper one"),
    "left_trigger": tr("Pull the left trigger, the lower one, all the way"),
    "right_trigger": tr("Pull the right trigger, the lower one, all the way"),
    "dpad": tr("D-pad: press up, then roll once round to the right, and let go"),
    "dpad.up": tr("Press the D-pad upwards"),
    "dpad.right": tr("Press the D-pad to the right"),
    "dpad.down": tr("Press the D-pad downwards"),
    "dpad.left": tr("Press the D-pad to the left"),
    "select": tr("In the middle: press the button on the left"),
    "start": tr("In the middle: press the button on the right"),
    "home": tr("In the very middle: press the button there"),
    "left_stick.click": tr("Press the left stick in"),
    "right_stick.click": tr("Press the right stick in"),
    "slider_1": tr("Slider, whammy or breath: the way that counts as high first, then the other, if there is one"),
    "slider_2": tr("The other slider: the way that counts as high first, then the other, if there is one"),
}
_ALL_UNDERSTOOD = tr("Everything is set up. Press any button to save, or hold one to undo the last answer")


def instruction(requested: str) -> str:
    """Returns the instruction for the requested control or channel; with none, the one to end."""
    if not requested:
        return _ALL_UNDERSTOOD
    return _INSTRUCTIONS.get(requested) or tr(
        "Press {label}, at the back", label=inside(CONTROL_BY_NAME[requested].label)
    )


def requested_label(requested: str) -> str:
    """Returns the name of a requested control or channel within a sentence."""
    control = CONTROL_BY_NAME.get(requested) or CONTROL_OF_CHANNEL[requested]
    part = SlotName.parse(requested).part
    return f"{inside(control.label)} {part}".strip() if control.kind is not Kind.BUTTON else inside(control.label)

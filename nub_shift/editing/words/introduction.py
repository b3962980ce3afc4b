"""What a person is to do while a pad is introduced."""

from __future__ import annotations

from nub_shift.model.controls import CONTROL_BY_NAME, CONTROL_OF_CHANNEL, Kind
from nub_shift.model.plain_text import inside
from nub_shift.model.slot_names import SlotName

_INSTRUCTIONS = {
    "left_stick": "Left stick: push it up, then once round to the right along the rim, and let go",
    "right_stick": "Right stick: push it up, then once round to the right along the rim, and let go",
    "south": "Press the lowest of the four buttons under the right thumb",
    "east": "Press the right one of the four buttons under the right thumb",
    "west": "Press the left one of the four buttons under the right thumb",
    "north": "Press the highest of the four buttons under the right thumb",
    "left_shoulder": "Press the left shoulder button, the upper one",
    "right_shoulder": "Press the right shoulder button, the upper one",
    "left_trigger": "Pull the left trigger, the lower one, all the way",
    "right_trigger": "Pull the right trigger, the lower one, all the way",
    "dpad": "D-pad: press up, then roll once round to the right, and let go",
    "dpad.up": "Press the D-pad upwards",
    "dpad.right": "Press the D-pad to the right",
    "dpad.down": "Press the D-pad downwards",
    "dpad.left": "Press the D-pad to the left",
    "select": "In the middle: press the button on the left",
    "start": "In the middle: press the button on the right",
    "home": "In the very middle: press the button there",
    "left_stick.click": "Press the left stick in",
    "right_stick.click": "Press the right stick in",
    "slider_1": "Slider, whammy or breath: the way that counts as high first, then the other, if there is one",
    "slider_2": "The other slider: the way that counts as high first, then the other, if there is one",
}
_ALL_UNDERSTOOD = "Everything is set up. Press any button to save, or hold one to undo the last answer"


def instruction(asked: str) -> str:
    """What to do with the control or channel that is asked for; with none, how to end."""
    if not asked:
        return _ALL_UNDERSTOOD
    return _INSTRUCTIONS.get(asked) or f"Press {inside(CONTROL_BY_NAME[asked].label)}, at the back"


def asked_label(asked: str) -> str:
    """What a control or channel that is asked for is called within a sentence."""
    control = CONTROL_BY_NAME.get(asked) or CONTROL_OF_CHANNEL[asked]
    part = SlotName.parse(asked).part
    return f"{inside(control.label)} {part}".strip() if control.kind is not Kind.BUTTON else inside(control.label)

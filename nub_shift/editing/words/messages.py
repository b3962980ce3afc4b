"""What the runner, the pads and the outputs say, in words."""

from __future__ import annotations

from typing import Any

import msgspec

from nub_shift.editing.words.introduction import asked_label, instruction
from nub_shift.model.controls import CONTROL_BY_NAME, CONTROL_OF_CHANNEL
from nub_shift.model.messages import Code, Message
from nub_shift.model.plain_text import inside

WORDS: dict[Code, str] = {
    Code.NO_PAD_YET: "no pad yet",
    Code.WAITING_FOR_PAD: "waiting for a pad: {why}",
    Code.PAD_IS_HERE: "{pad} is here",
    Code.PAD_MAY_BE_ANOTHER: "{pad} is here; it may be another pad of the same kind, so check who plays with it",
    Code.NOT_AT_REST: "{pad}: not at rest when it came: {controls}. If nobody held that, set up the pad",
    Code.PROFILE_ASKED_FOR: "the profile {title!r} is wanted by the pad",
    Code.PROFILE_FAULTY: "the profile {title!r} cannot be played: {why}",
    Code.NO_SUCH_PROFILE: "there is no profile {title!r}",
    Code.PLAYING: "playing {title}",
    Code.HALTED: "everything is stopped; hold the same two buttons again, or press the same key, to play on",
    Code.GOES_ON: "playing on",
    Code.RULES_TIE: "either {titles} could come on with this window; say more in one of their rules",
    Code.PLAY_FAILED: "a fault in Nub Shift itself; all keys are released",
    Code.BACK_TO_REHEARSAL: "back to rehearsal: {why}",
    Code.ONLY_SEAT: "this is the only player",
    Code.NOBODY_PLAYS: "nobody plays with this pad yet",
    Code.PAD_IS_SHARED: "two players share this pad: end that first",
    Code.PAD_IS_NOT_SHARED: "this pad is not shared",
    Code.PROFILE_HAS_FAULTS: "the profile has faults",
    Code.PROFILE_TOO_LARGE: "the profile is too large to be read; take away what it does not need",
    Code.RESIDENT_NOT_UP: "the runner did not start; its log is in ~/.local/state/nub-shift/runner.log",
    Code.RESIDENT_STAYS: "the runner does not end; end the process nub-shift by hand",
    Code.SYSTEMD_REFUSES: "systemd refused: {why}",
    Code.READING_FAILED: "the profile took too long to read, or reading it failed; try again",
    Code.NO_SUCH_KIND_OF_PAD: "--pad: there is no kind {kind!r} here, expected {known}",
    Code.NO_SUCH_SIMULATED_PAD: 'there is no simulated pad "{pad}", expected one of {names}',
    Code.NOT_PLUGGED_IN: "{pad} is not plugged in",
    Code.NOT_CONNECTED: "{pad} is not connected",
    Code.NO_PAD_CONNECTED: "no pad is connected; plug one in, or use a simulated pad",
    Code.NO_OTHER_PAD_CONNECTED: "no other pad is connected; plug one in, or use a simulated pad",
    Code.NO_PAD_NAMED: 'no pad named "{match}" is connected; plug one in, or use a simulated pad',
    Code.NO_OTHER_PAD_NAMED: 'no other pad named "{match}" is connected; plug one in, or use a simulated pad',
    Code.NO_SUCH_PAD: "there is no pad {pad!r}",
    Code.UNPLUGGED: "{pad} was unplugged",
    Code.DOES_NOT_ANSWER: "{pad} does not answer ({why})",
    Code.PERFORMANCE_OVER: "the demo is over",
    Code.RECORDING_OVER: "the recording is over",
    Code.CANNOT_BE_OPENED: "{device} cannot be opened ({why}); plug the pad in again",
    Code.PADS_FAIL: "the pads cannot be looked at ({why}); plug the pad in again",
    Code.NOT_ALLOWED_TO_READ: "{device}: no permission to read it; run nub-shift doctor --fix, or add your user to the"
    " group 'input'; then log in again",
    Code.GRABBED_BY_OTHERS: "{pad} is grabbed by another program; close that program",
    Code.FILE_FAULTY: "{why}",
    Code.JOINED_PAD: "{pad} is combined of several devices: separate them, then set up each",
    Code.NOTHING_INTRODUCED: "no pad is being set up",
    Code.PAD_NOT_KNOWN: "this pad is not known yet: set it up, or check whether everything works as shown",
    Code.READ_ELSEWHERE: "{program} reads this pad too and gets every press twice; turn the pad off in its settings",
    Code.BATTERY_LOW: "the battery is down to {percent} %",
    Code.FED_TWICE: "both parts have {channels}: separate them and set up one of them again",
    Code.NO_SUCH_CONTROL: "No {control}",
    Code.TAKEN_BACK: "Undone: {control}",
    Code.ONCE_ROUND: "Once round, all the way along the rim, and let go",
    Code.TWO_AT_ONCE: "Two controls at once: press only one",
    Code.THAT_IS_A_BUTTON: "That is a button. Press it again if there is no {control}",
    Code.TOUCH_AS_ASKED: "{instruction}",
    Code.TRIGGERS_UNDERSTOOD: "Every trigger and slider is set up already",
    Code.STICKS_UNDERSTOOD: "Both sticks are set up already",
    Code.UNDERSTOOD: "Set up: {control}",
    Code.NOBODY_READS_OUTPUT: "nobody reads what is printed ({why})",
    Code.X_SERVER_GONE: "the X server has gone",
    Code.X_SERVER_HANGS: "the X server does not answer",
    Code.NO_X_SERVER: "no X11 display answers ({why}); log in to a desktop, or use --output uinput",
    Code.NO_XTEST: "the X server lacks XTEST; use --output uinput",
    Code.DEVICES_TAKE_NOTHING: "the virtual devices do not take events ({why})",
    Code.UINPUT_MISSING: "/dev/uinput is missing; load it with: sudo modprobe uinput",
    Code.UINPUT_NOT_ALLOWED: "no permission to write /dev/uinput; run nub-shift doctor --fix, then log in again",
    Code.UINPUT_FAILED: "/dev/uinput: {why}; run nub-shift doctor --fix, then log in again",
    Code.FILE_FAILED: "{file}: {why}",
}


def found_words(found: str | Message) -> str:
    """What a check has found, which is a text where no code is needed."""
    return message_words(found) if isinstance(found, Message) else found


def message_words(message: Message) -> str:
    """A message as people read it."""
    values = {name: _shown(name, value) for name, value in message.values.items()}
    if message.code is Code.TOUCH_AS_ASKED:
        values["instruction"] = instruction(message.values["control"])
    return WORDS[message.code].format(**values)


def _shown(name: str, value: Any) -> str:
    match value:
        case Message():
            return message_words(value)
        case {"code": _}:  # as it came over the wire
            return message_words(msgspec.convert(value, Message))
        case list() | tuple() if name == "channels":
            return ", ".join(inside(CONTROL_OF_CHANNEL[channel].label) for channel in value)
        case str() if name == "control":
            return asked_label(value)
        case list() | tuple() if name == "controls":
            return " and ".join(inside(CONTROL_BY_NAME[control].label) for control in value)
        case list() | tuple() if name == "names":
            return ", ".join(value)
        case list() | tuple():
            return " or ".join(str(one) for one in value)
        case _:
            return str(value)

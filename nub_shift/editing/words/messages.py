"""Messages of the runner, the pads and the outputs, in words."""

from __future__ import annotations

import logging
from typing import Any

import msgspec

from nub_shift.editing.words.introduction import instruction, requested_label
from nub_shift.model.controls import CONTROL_BY_NAME, CONTROL_OF_CHANNEL
from nub_shift.model.messages import Code, Message
from nub_shift.translation import inside, tr

log = logging.getLogger("nub_shift.editing")

WORDS: dict[Code, str] = {
    Code.NO_PAD_YET: tr("no pad yet"),
    Code.WAITING_FOR_PAD: tr("waiting for a pad: {why}"),
    Code.PAD_IS_HERE: tr("{pad} is here"),
    Code.PAD_MAY_BE_ANOTHER: tr("{pad} is here; it may be another pad of the same kind, so check who plays with it"),
    Code.NOT_AT_REST: tr("{pad}: not at rest when it came: {controls}. If nobody held that, set up the pad"),
    Code.PROFILE_ASKED_FOR: tr("the profile {title!r} is wanted by the pad"),
    Code.PROFILE_FAULTY: tr("the profile {title!r} cannot be played: {why}"),
    Code.NO_SUCH_PROFILE: tr("there is no profile {title!r}"),
    Code.PLAYING: tr("playing {title}"),
    Code.HALTED: tr("everything is stopped; hold the same two buttons again, or press the same key, to play on"),
    Code.GOES_ON: tr("playing on"),
    Code.RULES_TIE: tr("this window matches the rules of {titles}; make one of them more exact"),
    Code.PLAY_FAILED: tr("a fault in Nub Shift itself; all keys are released"),
    Code.BACK_TO_REHEARSAL: tr("back to rehearsal: {why}"),
    Code.ONLY_SEAT: tr("this is the only player"),
    Code.NOBODY_PLAYS: tr("nobody plays with this pad yet"),
    Code.PAD_IS_SHARED: tr("two players share this pad: end that first"),
    Code.PAD_IS_NOT_SHARED: tr("this pad is not shared"),
    Code.PROFILE_HAS_FAULTS: tr("the profile has faults"),
    Code.PROFILE_TOO_LARGE: tr("the profile is too large to be read; take away what it does not need"),
    Code.KEPT_FAULTY: tr("a part of what was played last cannot be read any more: {why}"),
    Code.RESIDENT_NOT_UP: tr("the runner did not start; its log is in ~/.local/state/nub-shift/runner.log"),
    Code.RESIDENT_STAYS: tr("the runner does not end; end the process nub-shift by hand"),
    Code.SYSTEMD_REFUSES: tr("systemd refused: {why}"),
    Code.READING_FAILED: tr("the profile took too long to read; it is tried again"),
    Code.SIGNS_FAIL: tr("signs on the screen fail; they are tried again"),
    Code.WATCH_FAILS: tr("nothing tells which window is in front; that is tried again"),
    Code.DISPLAY_GONE: tr("{why}; play goes on when it is back"),
    Code.PLAYS_AGAIN: tr("it is back; playing on"),
    Code.RULES_NOT_READ: tr("the library is slow to read; profiles come on by themselves once it has been read"),
    Code.PROFILE_GONE: tr("the file of {title} is gone; play goes on with what was read of it"),
    Code.PROFILE_MISSING: tr("the profile {title} of this window is gone from the library"),
    Code.NO_SUCH_KIND_OF_PAD: tr("--pad: there is no kind {kind!r} here, expected {known}"),
    Code.NO_SUCH_SIMULATED_PAD: tr('there is no simulated pad "{pad}", expected one of {names}'),
    Code.NOT_PLUGGED_IN: tr("{pad} is not plugged in"),
    Code.NOT_CONNECTED: tr("{pad} is not connected"),
    Code.NO_PAD_CONNECTED: tr("no pad is connected; plug one in, or use a simulated pad"),
    Code.NO_OTHER_PAD_CONNECTED: tr("no other pad is connected; plug one in, or use a simulated pad"),
    Code.NO_PAD_NAMED: tr('no pad named "{match}" is connected; plug one in, or use a simulated pad'),
    Code.NO_OTHER_PAD_NAMED: tr('no other pad named "{match}" is connected; plug one in, or use a simulated pad'),
    Code.NO_SUCH_PAD: tr("there is no pad {pad!r}"),
    Code.UNPLUGGED: tr("{pad} was unplugged"),
    Code.DOES_NOT_ANSWER: tr("{pad} does not answer ({why})"),
    Code.PERFORMANCE_OVER: tr("the demo is over"),
    Code.RECORDING_OVER: tr("the recording is over"),
    Code.CANNOT_BE_OPENED: tr("{device} cannot be opened ({why}); plug the pad in again"),
    Code.PADS_FAIL: tr("the pads cannot be looked at ({why}); plug the pad in again"),
    Code.NOT_ALLOWED_TO_READ: tr(
        "{device}: no permission to read it; run nub-shift doctor --fix, or add your user to the"
        " group 'input'; then log in again"
    ),
    Code.GRABBED_BY_OTHERS: tr("{pad} is grabbed by another program; close that program"),
    Code.FILE_FAULTY: "{why}",
    Code.JOINED_PAD: tr("{pad} is combined of several devices: separate them, then set up each"),
    Code.NOTHING_INTRODUCED: tr("no pad is being set up"),
    Code.PAD_NOT_KNOWN: tr("this pad is not known yet: set it up, or check whether everything works as shown"),
    Code.READ_ELSEWHERE: tr(
        "{program} reads this pad too and gets every press twice; turn the pad off in its settings"
    ),
    Code.BATTERY_LOW: tr("the battery is down to {percent} %"),
    Code.FED_TWICE: tr("both parts have {channels}: separate them and set up one of them again"),
    Code.NO_SUCH_CONTROL: tr("No {control}"),
    Code.TAKEN_BACK: tr("{control} is free again: press it"),
    Code.ONCE_ROUND: tr("Once round, all the way along the rim, and let go"),
    Code.TWO_AT_ONCE: tr("Two controls at once: press only one"),
    Code.THAT_IS_A_BUTTON: tr("That is a button. Press it again if there is no {control}"),
    Code.TOUCH_AS_ASKED: "{instruction}",
    Code.TRIGGERS_UNDERSTOOD: tr("Every trigger and slider is set up already"),
    Code.STICKS_UNDERSTOOD: tr("Both sticks are set up already"),
    Code.UNDERSTOOD: tr("Set up: {control}"),
    Code.NOBODY_READS_OUTPUT: tr("nobody reads what is printed ({why})"),
    Code.X_SERVER_GONE: tr("the X server is gone"),
    Code.X_SERVER_HANGS: tr("the X server does not answer"),
    Code.NO_X_SERVER: tr("no X11 display answers ({why}); log in to a desktop, or use --output uinput"),
    Code.NO_XTEST: tr("the X server lacks XTEST; use --output uinput"),
    Code.WATCHER_GONE: tr("the process that releases keys after a crash has ended or hangs"),
    Code.WATCHER_MISSING: tr("the process that releases keys after a crash did not start, so nothing is sent: {why}"),
    Code.DEVICES_TAKE_NOTHING: tr("the virtual devices do not take events ({why})"),
    Code.UINPUT_MISSING: tr("/dev/uinput is missing; load it with: sudo modprobe uinput"),
    Code.UINPUT_NOT_ALLOWED: tr("no permission to write /dev/uinput; run nub-shift doctor --fix, then log in again"),
    Code.UINPUT_FAILED: tr("/dev/uinput: {why}; run nub-shift doctor --fix, then log in again"),
    Code.FILE_FAILED: tr("{file}: {why}"),
}


def found_words(found: str | Message) -> str:
    """Returns the result of a check in words; a plain text is returned unchanged."""
    return message_words(found) if isinstance(found, Message) else found


def message_words(message: Message) -> str:
    """Returns a message in words."""
    try:
        values = {name: _shown(name, value) for name, value in message.values.items()}
        if message.code is Code.TOUCH_AS_ASKED:
            values["instruction"] = instruction(message.values["control"])
        return WORDS[message.code].format(**values)
    except Exception:  # an unexpected fault in wording a message costs only that message
        log.exception("%s", message)
        return str(message)


def _shown(name: str, value: Any) -> str:
    match value:
        case Message():
            return message_words(value)
        case {"code": _}:  # in the form of the protocol
            return message_words(msgspec.convert(value, Message))
        case list() | tuple() if name == "channels":
            return ", ".join(inside(CONTROL_OF_CHANNEL[channel].label) for channel in value)
        case str() if name == "control":
            return requested_label(value)
        case list() | tuple() if name == "titles":
            return tr(" and ").join(value)
        case list() | tuple() if name == "controls":
            return tr(" and ").join(inside(CONTROL_BY_NAME[control].label) for control in value)
        case list() | tuple() if name == "names":
            return ", ".join(value)
        case list() | tuple():
            return tr(" or ").join(str(one) for one in value)
        case _:
            return str(value)

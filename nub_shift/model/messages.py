"""Messages of the runner, the pads and the outputs: codes with values, without sentences.

`editing.words.messages` has the translated sentence of each code.
"""

from __future__ import annotations

from enum import Enum
from typing import Any, Self

import msgspec

Value = Any  # str | int | float | Message | list of str; msgspec cannot distinguish these within a dictionary


class Code(Enum):
    """Codes of messages. The comment names the values of each."""

    # The runner
    NO_PAD_YET = "no_pad_yet"
    WAITING_FOR_PAD = "waiting_for_pad"  # why: a message
    PAD_IS_HERE = "pad_is_here"  # pad
    PAD_MAY_BE_ANOTHER = "pad_may_be_another"  # pad
    NOT_AT_REST = "not_at_rest"  # pad, controls
    PROFILE_ASKED_FOR = "profile_asked_for"  # title
    PROFILE_FAULTY = "profile_faulty"  # title, why
    NO_SUCH_PROFILE = "no_such_profile"  # title
    PLAYING = "playing"  # title
    RULES_TIE = "rules_tie"  # titles
    HALTED = "halted"
    GOES_ON = "goes_on"
    PLAY_FAILED = "play_failed"
    BACK_TO_REHEARSAL = "back_to_rehearsal"  # why: a message
    ONLY_SEAT = "only_seat"
    NOBODY_PLAYS = "nobody_plays"
    PAD_IS_SHARED = "pad_is_shared"
    PAD_IS_NOT_SHARED = "pad_is_not_shared"
    PROFILE_HAS_FAULTS = "profile_has_faults"
    PROFILE_TOO_LARGE = "profile_too_large"
    KEPT_FAULTY = "kept_faulty"  # why
    RESIDENT_NOT_UP = "resident_not_up"
    RESIDENT_STAYS = "resident_stays"
    SYSTEMD_REFUSES = "systemd_refuses"  # why
    READING_FAILED = "reading_failed"
    SIGNS_FAIL = "signs_fail"
    WATCH_FAILS = "watch_fails"
    DISPLAY_GONE = "display_gone"  # why: a message
    PLAYS_AGAIN = "plays_again"
    RULES_NOT_READ = "rules_not_read"
    PROFILE_GONE = "profile_gone"  # title
    PROFILE_MISSING = "profile_missing"  # title
    # Pads
    NO_SUCH_KIND_OF_PAD = "no_such_kind_of_pad"  # kind, known
    NO_SUCH_SIMULATED_PAD = "no_such_simulated_pad"  # pad, names
    NOT_PLUGGED_IN = "not_plugged_in"  # pad
    NOT_CONNECTED = "not_connected"  # pad
    NO_PAD_CONNECTED = "no_pad_connected"
    NO_OTHER_PAD_CONNECTED = "no_other_pad_connected"
    NO_PAD_NAMED = "no_pad_named"  # match
    NO_OTHER_PAD_NAMED = "no_other_pad_named"  # match
    NO_SUCH_PAD = "no_such_pad"  # pad
    UNPLUGGED = "unplugged"  # pad
    DOES_NOT_ANSWER = "does_not_answer"  # pad, why
    PERFORMANCE_OVER = "performance_over"
    RECORDING_OVER = "recording_over"
    CANNOT_BE_OPENED = "cannot_be_opened"  # device, why
    PADS_FAIL = "pads_fail"  # why
    NOT_ALLOWED_TO_READ = "not_allowed_to_read"  # device
    GRABBED_BY_OTHERS = "grabbed_by_others"  # pad
    FILE_FAULTY = "file_faulty"  # why
    JOINED_PAD = "joined_pad"  # pad
    NOTHING_INTRODUCED = "nothing_introduced"
    PAD_NOT_KNOWN = "pad_not_known"
    READ_ELSEWHERE = "read_elsewhere"  # program
    BATTERY_LOW = "battery_low"  # percent
    FED_TWICE = "fed_twice"  # channels
    # Introducing a pad
    NO_SUCH_CONTROL = "no_such_control"  # control
    TAKEN_BACK = "taken_back"  # control
    ONCE_ROUND = "once_round"
    TWO_AT_ONCE = "two_at_once"
    THAT_IS_A_BUTTON = "that_is_a_button"  # control
    TOUCH_AS_ASKED = "touch_as_asked"  # control
    TRIGGERS_UNDERSTOOD = "triggers_understood"
    STICKS_UNDERSTOOD = "sticks_understood"
    UNDERSTOOD = "understood"  # control
    # Outputs
    NOBODY_READS_OUTPUT = "nobody_reads_output"  # why
    X_SERVER_GONE = "x_server_gone"
    X_SERVER_HANGS = "x_server_hangs"
    NO_X_SERVER = "no_x_server"  # why
    NO_XTEST = "no_xtest"
    WATCHER_MISSING = "watcher_missing"  # why
    WATCHER_GONE = "watcher_gone"
    DEVICES_TAKE_NOTHING = "devices_take_nothing"  # why
    UINPUT_MISSING = "uinput_missing"
    UINPUT_NOT_ALLOWED = "uinput_not_allowed"
    UINPUT_FAILED = "uinput_failed"  # why
    # Files and sockets
    FILE_FAILED = "file_failed"  # file, why


class Message(msgspec.Struct, frozen=True):
    """Code of a message with its values."""

    code: Code
    values: dict[str, Any] = {}

    def __str__(self) -> str:
        """Returns a form for logs, not for people."""
        said = ", ".join(f"{name}={value}" for name, value in self.values.items())
        return f"{self.code.value}({said})"


class MessageError(Exception):
    """Base of errors that carry a message."""

    def __init__(self, code: Code, **values: Value) -> None:
        self.message = Message(code, values)
        super().__init__(str(self.message))

    @classmethod
    def of(cls, message: Message) -> Self:
        """Returns an error of this class with the given message."""
        return cls(message.code, **message.values)

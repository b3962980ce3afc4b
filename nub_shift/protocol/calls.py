"""Calls of clients to the runner: each is a struct, tagged with the name of its method.

Both ends use these types: a client sends a value, and the server matches the same value with `assert_never`. Every call
is answered by a `State` or an error.
"""

from __future__ import annotations

from typing import Annotated, Any, Literal, get_args

import msgspec
from msgspec import Meta

from nub_shift.model.profile.activation import Away, Front


class _Call(msgspec.Struct, frozen=True, forbid_unknown_fields=True):
    """Base of all calls. An unknown parameter is an error, which a newer client should see."""


ALL_SEATS = -1  # including later ones


class GetState(_Call, frozen=True, tag="state"):
    """Requests the state."""


class Subscribe(_Call, frozen=True, tag="subscribe"):
    """Subscribes to one seat or all, with at most `hz` packets a second; 0 ends the subscription."""

    hz: int = 60
    seat: int = 0


# A path as accepted by the system: no NUL, and not longer.
FilePath = Annotated[str, Meta(max_length=4096, pattern=r"^[^\x00]*$")]


class LoadProfile(_Call, frozen=True, tag="load"):
    """Gives a seat another profile as TOML text; `file` is its file, or empty."""

    toml: str
    seat: int = 0
    file: FilePath = ""


class SetLive(_Call, frozen=True, tag="set_live"):
    """Changes to live or rehearsal."""

    live: bool


class HoldBack(_Call, frozen=True, tag="hold_back"):
    """Keeps outputs from the system while this client's window is in front; ends with its connection."""

    on: bool


class Halt(_Call, frozen=True, tag="halt"):
    """Releases everything and stops; if already halted, continues. Ignored if a profile presses the `key` itself."""

    key: str = ""


class Stop(_Call, frozen=True, tag="stop"):
    """Ends the runner."""


class AssignPad(_Call, frozen=True, tag="assign_pad"):
    """Gives a pad to a seat; with the text of a profile, to a new seat.

    With `shares` a new seat gets the right hand's controls of a pad in play, and the pad's own seat keeps the rest.
    """

    pad: str
    seat: int = 0
    toml: str = ""
    shares: bool = False
    file: FilePath = ""


class SharePad(_Call, frozen=True, tag="share_pad"):
    """Divides a pad played by two seats: the second seat gets these controls, the first seat the rest."""

    pad: str
    controls: tuple[str, ...]


class EndSeat(_Call, frozen=True, tag="end_seat"):
    """Ends a seat, except for the last one."""

    seat: int


class WatchPads(_Call, frozen=True, tag="watch_pads"):
    """Subscribes to all pads, with at most `hz` packets a second; 0 ends the subscription. `frames` is the pad to
    report with every frame.
    """

    hz: int = 50
    frames: str = ""


class WatchSigns(_Call, frozen=True, tag="watch_signs"):
    """Subscribes to the content of signs, or ends the subscription."""

    on: bool = True


class WatchSession(_Call, frozen=True, tag="watch_session"):
    """Declares this client as the watcher of the desktop session, which answers each `ping` by `alive`."""


class Alive(_Call, frozen=True, tag="alive"):
    """Answers a `ping`."""


class ReportAway(_Call, frozen=True, tag="tell_away"):
    """Reports a reason for sending nothing, whatever window is in front, such as a locked screen."""

    why: Away


class ReportFront(_Call, frozen=True, tag="tell_front"):
    """Reports the window in front; a client does so, since watching windows needs libraries that a runner does
    without.
    """

    front: Front


class TryFront(_Call, frozen=True, tag="try_front"):
    """Treats a window as in front for a few seconds, as a trial of its profile."""

    front: Front


class ReportLayout(_Call, frozen=True, tag="tell_layout"):
    """Reports that the person has changed the keyboard layout."""


class ReportHaltKey(_Call, frozen=True, tag="tell_halt_key"):
    """Reports the name of the halt key for the person; empty for none."""

    key: Annotated[str, Meta(max_length=100)]


class Rumble(_Call, frozen=True, tag="rumble"):
    """Runs and rests the motors of a seat's pad alternately, by milliseconds."""

    pattern: Annotated[tuple[Annotated[int, Meta(ge=1, le=500)], ...], Meta(max_length=8)]
    seat: int = 0


class OpenMenu(_Call, frozen=True, tag="open_menu"):
    """Opens or closes the menu of a seat's pad. While the menu is open, the game gets no input from this pad."""

    on: bool
    seat: int = 0


class StayOn(_Call, frozen=True, tag="stay_on"):
    """Activates a layer of a seat's profile to stay, once its menu is closed; the base layer ends that."""

    layer: str
    seat: int = 0


class SwitchGyro(_Call, frozen=True, tag="switch_gyro"):
    """Permits turning a seat's pad to move the pointer, as its profile says, or forbids it."""

    on: bool
    seat: int = 0


class PlugIn(_Call, frozen=True, tag="plug"):
    """Plugs a simulated pad in."""

    pad: str


class Unplug(_Call, frozen=True, tag="unplug"):
    """Unplugs a simulated pad."""

    pad: str


class WorkByHand(_Call, frozen=True, tag="work_by_hand"):
    """Sets channels of a simulated pad by hand; all other channels are released."""

    pad: str
    values: dict[str, float]


class PlayDemo(_Call, frozen=True, tag="play_demo"):
    """Plays the demo of a simulated pad."""

    pad: str


class ReloadCards(_Call, frozen=True, tag="reload_cards"):
    """Reloads pad cards changed on disk, which reopens every pad."""


class Introduce(_Call, frozen=True, tag="introduce"):
    """Begins to set up a pad; an empty key ends the set-up."""

    pad: str = ""


class AnswerIntroduction(_Call, frozen=True, tag="answer_introduction"):
    """Answers about the control requested by a set-up; `control` is the control to request."""

    do: Literal["skip", "back", "ask"]
    control: str = ""


Call = (
    GetState
    | Subscribe
    | LoadProfile
    | SetLive
    | HoldBack
    | Halt
    | Stop
    | AssignPad
    | SharePad
    | EndSeat
    | WatchPads
    | WatchSigns
    | WatchSession
    | Alive
    | ReportAway
    | ReportFront
    | TryFront
    | ReportLayout
    | ReportHaltKey
    | OpenMenu
    | Rumble
    | StayOn
    | SwitchGyro
    | PlugIn
    | Unplug
    | WorkByHand
    | PlayDemo
    | ReloadCards
    | Introduce
    | AnswerIntroduction
)

METHODS: dict[str, type[msgspec.Struct]] = {str(kind.__struct_config__.tag): kind for kind in get_args(Call)}


def method_of(call: Call) -> str:
    """Returns the name of a call's method."""
    return str(call.__struct_config__.tag)


def params_of(call: Call) -> dict[str, Any]:
    """Returns a call's parameters in wire form."""
    return {name: msgspec.to_builtins(getattr(call, name)) for name in call.__struct_fields__}


def decode_call(method: str, params: msgspec.Raw) -> Call:
    """Decodes the call of a request.

    Raises:
        KeyError: unknown method.
        msgspec.ValidationError: invalid parameters.
    """
    if len(bytes(params)) > MAX_PARAMS_BYTES and METHODS[method] not in _WITH_TEXT:
        raise msgspec.ValidationError(f"expected parameters of at most {MAX_PARAMS_BYTES} bytes")
    call: Call = msgspec.json.decode(params, type=METHODS[method])  # type: ignore[assignment]
    return call


# Calls without a profile or a program's texts are short; long lists of numbers would be slow to decode.
MAX_PARAMS_BYTES = 4_000
_WITH_TEXT = (LoadProfile, AssignPad, ReportFront, TryFront)

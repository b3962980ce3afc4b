"""What a runner can be asked: each call is a struct, and its tag is the name of the method.

Both ends draw on this: a client sends one of these values, the server gets the same value and tells them apart by a
`match` closed with `assert_never`. Every call is answered with a `State`, or with an error.
"""

from __future__ import annotations

from typing import Annotated, Any, Literal, get_args

import msgspec
from msgspec import Meta

from nub_shift.model.profile.comes_on import Away, Front


class _Call(msgspec.Struct, frozen=True, forbid_unknown_fields=True):
    """Base of all calls. An unknown parameter is an error: a client that is newer should hear of it."""


ALL_SEATS = -1  # also those to come


class GetState(_Call, frozen=True, tag="state"):
    """Looks at everything."""


class Subscribe(_Call, frozen=True, tag="subscribe"):
    """Asks for packets about one seat, or all: how many a second at most; 0 ends the subscription."""

    hz: int = 60
    seat: int = 0


# A path as the system takes it: no NUL, and not longer.
FilePath = Annotated[str, Meta(max_length=4096, pattern=r"^[^\x00]*$")]


class LoadProfile(_Call, frozen=True, tag="load"):
    """Gives a seat another profile, as TOML text; `file` is where that is kept, if anywhere."""

    toml: str
    seat: int = 0
    file: FilePath = ""


class SetLive(_Call, frozen=True, tag="set_live"):
    """Goes live, or back to rehearsal."""

    live: bool


class HoldBack(_Call, frozen=True, tag="hold_back"):
    """Has nothing go to the system while this client is in front; it ends when the client hangs up."""

    on: bool


class Halt(_Call, frozen=True, tag="halt"):
    """Lets go of everything and stops; halted so already, goes on. A `key` that a profile presses itself does not."""

    key: str = ""


class Stop(_Call, frozen=True, tag="stop"):
    """Ends the runner."""


class AssignPad(_Call, frozen=True, tag="assign_pad"):
    """Gives a pad to a seat; with the text of a profile to a new one.

    If it `shares`, that one gets what the right hand works on a pad that is played, and its own seat keeps the rest.
    """

    pad: str
    seat: int = 0
    toml: str = ""
    shares: bool = False
    file: FilePath = ""


class SharePad(_Call, frozen=True, tag="share_pad"):
    """Splits a pad that two seats play: those controls are the second one's, the rest is the first one's."""

    pad: str
    controls: tuple[str, ...]


class EndSeat(_Call, frozen=True, tag="end_seat"):
    """Ends a seat; the last one stays."""

    seat: int


class WatchPads(_Call, frozen=True, tag="watch_pads"):
    """Asks for packets about all pads: how many a second at most; 0 ends it. `frames` is the pad to tell whole."""

    hz: int = 50
    frames: str = ""


class WatchSigns(_Call, frozen=True, tag="watch_signs"):
    """Asks for packets about what signs are shown of, or for no more of them."""

    on: bool = True


class WatchSession(_Call, frozen=True, tag="watch_session"):
    """Says that this client tells what happens in the desktop session, and answers each `ping` by `alive`."""


class Alive(_Call, frozen=True, tag="alive"):
    """Answers a `ping`: this client works."""


class TellAway(_Call, frozen=True, tag="tell_away"):
    """Says why nothing may be sent, whatever window is in front: the screen is locked, say."""

    why: Away


class TellFront(_Call, frozen=True, tag="tell_front"):
    """Says which window is in front, where to hear of that takes libraries that a runner does without."""

    front: Front


class TryFront(_Call, frozen=True, tag="try_front"):
    """Has a window count as the one in front for a few seconds, so that a person sees what comes on with it."""

    front: Front


class TellLayout(_Call, frozen=True, tag="tell_layout"):
    """Says that the person has changed the keyboard layout, likewise."""


class TellHaltKey(_Call, frozen=True, tag="tell_halt_key"):
    """Says which key of the keyboard stops everything, as the person knows it; empty for none."""

    key: Annotated[str, Meta(max_length=100)]


class Rumble(_Call, frozen=True, tag="rumble"):
    """Has the motors of a seat's pad run and rest by turns, each for so many milliseconds, if it has some."""

    pattern: Annotated[tuple[Annotated[int, Meta(ge=1, le=500)], ...], Meta(max_length=8)]
    seat: int = 0


class OpenMenu(_Call, frozen=True, tag="open_menu"):
    """Opens or closes the menu of a seat's pad. While it is open the game gets nothing of that pad."""

    on: bool
    seat: int = 0


class StayOn(_Call, frozen=True, tag="stay_on"):
    """A layer of a seat's profile comes on to stay, once its menu is closed; the base layer ends that."""

    layer: str
    seat: int = 0


class SwitchGyro(_Call, frozen=True, tag="switch_gyro"):
    """Whether turning a seat's pad moves the pointer, as its profile says, or never."""

    on: bool
    seat: int = 0


class PlugIn(_Call, frozen=True, tag="plug"):
    """Plugs a simulated pad in."""

    pad: str


class Unplug(_Call, frozen=True, tag="unplug"):
    """Pulls a simulated pad out."""

    pad: str


class WorkByHand(_Call, frozen=True, tag="work_by_hand"):
    """Sets channels of a simulated pad by hand; all other channels are released."""

    pad: str
    values: dict[str, float]


class PlayDemo(_Call, frozen=True, tag="play_demo"):
    """Has a simulated pad go on by itself."""

    pad: str


class ReloadCards(_Call, frozen=True, tag="reload_cards"):
    """Pad cards have changed on the disk: every pad is opened anew."""


class Introduce(_Call, frozen=True, tag="introduce"):
    """Begins to introduce a pad; without one, ends that."""

    pad: str = ""


class AnswerIntroduction(_Call, frozen=True, tag="answer_introduction"):
    """Says something about the control that an introduction asks for: `control` is the one to ask for."""

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
    | TellAway
    | TellFront
    | TryFront
    | TellLayout
    | TellHaltKey
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
    """The name of a call's method."""
    return str(call.__struct_config__.tag)


def params_of(call: Call) -> dict[str, Any]:
    """A call's parameters, as they go over the wire."""
    return {name: msgspec.to_builtins(getattr(call, name)) for name in call.__struct_fields__}


def decode_call(method: str, params: msgspec.Raw) -> Call:
    """The call that a request makes.

    Raises:
        KeyError: there is no such method.
        msgspec.ValidationError: the parameters do not fit.
    """
    if len(bytes(params)) > MAX_PARAMS_BYTES and METHODS[method] not in _WITH_TEXT:
        raise msgspec.ValidationError(f"expected parameters of at most {MAX_PARAMS_BYTES} bytes")
    call: Call = msgspec.json.decode(params, type=METHODS[method])  # type: ignore[assignment]
    return call


# Calls without a profile or a program's words are short: a few numbers can be written so that reading takes long.
MAX_PARAMS_BYTES = 4_000
_WITH_TEXT = (LoadProfile, AssignPad, TellFront, TryFront)

"""What goes over the runner's socket, as checked values. The server's and the client's common vocabulary."""

from __future__ import annotations

from typing import Literal

import msgspec

from nub_shift.engine.values import Output


class PadState(msgspec.Struct, frozen=True):
    """The pad of the seat. `name` is empty while none is connected, and `missing` says why.

    `key` is where it is, `printed` what is printed on its controls where that is not their position.
    """

    name: str
    controls: tuple[str, ...]
    missing: str = ""
    key: str = ""
    printed: dict[str, str] = {}


class SeatState(msgspec.Struct, frozen=True):
    """One pad with one profile.

    Attributes:
        title: the profile's.
        layers: ids of the layers that are on, the base layer first.
        slots: slots that are pressed.
        toggles: slots whose toggle is on.
        carousels: where each carousel stands, counted from 0.
        rings: the entry that each stick with a ring points to, counted from 0.
    """

    title: str
    pad: PadState
    layers: tuple[str, ...]
    slots: tuple[str, ...]
    toggles: tuple[str, ...] = ()
    carousels: dict[str, int] = {}
    rings: dict[str, int] = {}


class State(msgspec.Struct, frozen=True):
    """The runner as a whole.

    Attributes:
        live: whether outputs go to the system.
        output: which output live means here.
        seats: at least one.
        down: keys that are down, of all seats.
        message: the last thing worth telling the person, or empty.
    """

    protocol: int
    version: str
    live: bool
    output: str
    seats: tuple[SeatState, ...]
    down: tuple[str, ...]
    message: str = ""


class PadPart(msgspec.Struct, frozen=True):
    """One of the devices that a pad is joined of.

    Attributes:
        identity: the most particular name of its card.
        motion: whether it has motion sensors.
    """

    key: str
    name: str
    identity: str
    motion: bool


class PadInfo(msgspec.Struct, frozen=True):
    """One pad within reach.

    Attributes:
        key: where it is; what calls name it by.
        name: what the person calls it, or it itself.
        device: what it calls itself; empty if it cannot be looked at.
        identity: the most particular name of its card.
        source: where its wiring is known from: document, card or guess.
        marks: identity of the card with its name, colour and measures.
        wiring: identity of the card with its wiring and labels.
        colour: a colour of pad cards, or empty.
        printed: what is printed on its controls, where that is not their position.
        parts: what it is joined of; empty for a pad of its own.
        moving: identity of the part whose motion counts.
        battery: in percent, -1 if nobody knows.
        seat: which seat plays with it, -1 if none does.
        simulated, by_hand: whether it is made up, and worked on the screen at the moment.
        wrong: what keeps it from being used well, with what to do.
    """

    key: str
    name: str
    device: str
    identity: str = ""
    controls: tuple[str, ...] = ()
    source: str = ""
    marks: str = ""
    wiring: str = ""
    colour: str = ""
    printed: dict[str, str] = {}
    parts: tuple[PadPart, ...] = ()
    moving: str = ""
    battery: int = -1
    charging: bool = False
    seat: int = -1
    simulated: bool = False
    by_hand: bool = False
    wrong: tuple[str, ...] = ()


class Introducing(msgspec.Struct, frozen=True):
    """How far the introduction of a pad is.

    Attributes:
        asked: the control or channel that is asked for; empty when nothing is left.
        words: what the person is to do.
        note: what was made of the last touch.
        status: by channel: guessed, understood or absent.
        card: the card so far, as TOML.
        finished: the person has said from the pad that it is to be kept.
    """

    pad: str
    asked: str
    words: str
    note: str
    status: dict[str, str]
    card: str
    finished: bool = False


class ConnectedPads(msgspec.Struct, frozen=True):
    """The pads within reach; `unplugged` are the made-up ones that could be plugged in, name by key."""

    pads: tuple[PadInfo, ...]
    unplugged: dict[str, str]
    introducing: Introducing | None = None


class FrameNews(msgspec.Struct, frozen=True, array_like=True):
    """One frame of a pad."""

    t_us: int
    values: dict[str, float]


class PadsNews(msgspec.Struct, frozen=True):
    """What happened on all pads since the subscriber's last packet.

    Attributes:
        values: by pad, the channels that changed.
        frames: every frame of the pad that was asked for.
        reach: the pads, if anything about them is another now.
    """

    t_us: int
    values: dict[str, dict[str, float]]
    frames: tuple[FrameNews, ...] = ()
    reach: ConnectedPads | None = None


class ChannelChange(msgspec.Struct, frozen=True, array_like=True):
    """A digital channel of the pad changed."""

    t_us: int
    channel: str
    down: bool


class Telemetry(msgspec.Struct, frozen=True):
    """What happened on one seat since the subscriber's last packet.

    Attributes:
        t_us: when the packet was made.
        values: channels that changed, with their present values.
        touches: every change of a digital channel.
        outputs: what the game got, of all seats: every key and wheel output, pointer motion in sums over 8 ms.
        layers: ids of the layers that are on.
        slots: slots that are pressed.
    """

    t_us: int
    values: dict[str, float]
    touches: list[ChannelChange]
    outputs: list[Output]
    layers: tuple[str, ...]
    slots: tuple[str, ...]


class Subscribe(msgspec.Struct, frozen=True, forbid_unknown_fields=True):
    """Parameters of `subscribe`: how many packets a second at most, of which seat; 0 ends the subscription."""

    hz: int = 60
    seat: int = 0


class Attend(msgspec.Struct, frozen=True, forbid_unknown_fields=True):
    """Parameters of `attend`: how many packets a second at most; 0 ends it. `frames` is the pad to tell whole."""

    hz: int = 50
    frames: str = ""


class NamedPad(msgspec.Struct, frozen=True, forbid_unknown_fields=True):
    """Parameters of `plug`, `unplug`, `perform` and `introduce`: which pad; for `introduce` none ends it."""

    pad: str = ""


class Hold(msgspec.Struct, frozen=True, forbid_unknown_fields=True):
    """Parameters of `hold`: what somebody does to a made-up pad by hand; all other channels are let go."""

    pad: str
    values: dict[str, float]


class Answer(msgspec.Struct, frozen=True, forbid_unknown_fields=True):
    """Parameters of `answer`: about the control that an introduction asks for."""

    do: Literal["skip", "back", "ask"]
    place: str = ""


class Sit(msgspec.Struct, frozen=True, forbid_unknown_fields=True):
    """Parameters of `sit`: a pad, and the seat that is to play with it; with the text of a profile a new seat."""

    pad: str
    seat: int = 0
    toml: str = ""


class Leave(msgspec.Struct, frozen=True, forbid_unknown_fields=True):
    """Parameters of `leave`: the seat that ends."""

    seat: int


class Load(msgspec.Struct, frozen=True, forbid_unknown_fields=True):
    """Parameters of `load`: the TOML text of a profile, and the seat that is to go on with it."""

    toml: str
    seat: int = 0


class Go(msgspec.Struct, frozen=True, forbid_unknown_fields=True):
    """Parameters of `go`: live, or back to rehearsal."""

    live: bool

"""What a runner tells: its state, and news that comes by itself. `protocol.calls` is what it can be asked."""

from __future__ import annotations

import msgspec

from nub_shift.engine.values import Output, RingLook
from nub_shift.model.controls import Finger
from nub_shift.model.messages import Message
from nub_shift.model.profile.comes_on import Away, Front, Rule
from nub_shift.model.profile.profile import Profile


class Ready(msgspec.Struct, frozen=True, tag_field="kind", tag="ready"):
    """The first thing that a client hears: a runner is there and plays, and speaks this protocol."""

    protocol: int
    version: str


class Said(msgspec.Struct, frozen=True, tag_field="kind", tag="said"):
    """Something that the person should know."""

    message: Message


class Ping(msgspec.Struct, frozen=True, tag_field="kind", tag="ping"):
    """A question to a client that the runner relies on: does it still work?"""


class LayoutNews(msgspec.Struct, frozen=True, tag_field="kind", tag="layout"):
    """The session's keyboard may have another layout: a client that names keys looks again."""


class SparePad(msgspec.Struct, frozen=True):
    """A pad that no player has: its key and its name."""

    key: str
    name: str


class PadState(msgspec.Struct, frozen=True):
    """The pad of the seat. `name` is empty while none is connected, and `missing` says why.

    `key` is where it is, `printed` what is printed on its controls where that is not their position, `performs` whether
    what it does is a demo or a recording, and nobody's hand, `fingers` who works its controls where that is not as
    usual, `menu` the button that opens its menu, likewise. `is_guessed` is whether the names of its controls follow
    from the device's codes alone, since nobody has set it up. `spare` is a pad that the seat could play with instead
    of the missing one.
    """

    name: str
    controls: tuple[str, ...]
    missing: Message | None = None
    key: str = ""
    printed: dict[str, str] = {}
    performs: bool = False
    fingers: dict[str, Finger] = {}
    menu: str = ""
    is_guessed: bool = False
    spare: SparePad | None = None


class SeatState(msgspec.Struct, frozen=True):
    """One pad with one profile.

    Attributes:
        title: the profile's.
        layers: ids of the layers that are on, the base layer first.
        slots: slots that are pressed.
        toggles: slots whose toggle is on.
        carousels: where each carousel stands, counted from 0.
        rings: the entry that each stick with a ring points to, counted from 0.
        file: where the profile is kept, or empty.
        paused: nothing acts until its game is in front again.
        rule: by which it plays this profile; None if a person chose it.
    """

    title: str
    pad: PadState
    layers: tuple[str, ...]
    slots: tuple[str, ...]
    toggles: tuple[str, ...] = ()
    carousels: dict[str, int] = {}
    rings: dict[str, int] = {}
    file: str = ""
    paused: bool = False
    rule: Rule | None = None


class State(msgspec.Struct, frozen=True):
    """The runner as a whole.

    Attributes:
        live: whether outputs go to the system.
        wanted: whether they are meant to; they do not while a client that holds them back is in front.
        output: which output live means here.
        x11_only: whether that reaches only programs that use the X server, and this session has others.
        seats: at least one.
        down: keys that are down, of all seats.
        front: the window in front, as far as is known and looked at.
        away: why nothing is sent for now; see `model.profile.comes_on.Away`.
        follows: whether windows are looked at, so that profiles come on by themselves.
        library_late: the library could not be read in time, and is tried again.
        halted: a person has stopped everything, from the pad or the keyboard.
        halt_key: the key of the keyboard that does so in this session, as the person knows it; empty for none.
        message: the last thing worth telling the person, if there is such.
    """

    protocol: int
    version: str
    live: bool
    output: str
    seats: tuple[SeatState, ...]
    down: tuple[str, ...]
    message: Message | None = None
    x11_only: bool = False
    wanted: bool = False
    front: Front | None = None
    halted: bool = False
    halt_key: str = ""
    away: Away = Away.NO
    follows: bool = False
    library_late: bool = False


class MenuLook(msgspec.Struct, frozen=True):
    """How a pad stands in its open menu.

    Attributes:
        pressed: what is held: ways, "do", "back".
        counts: how often each was pressed since the menu was opened.
        motion: whether turning the pad moves the pointer, as far as the menu has a say.
    """

    pressed: tuple[str, ...]
    counts: dict[str, int]
    motion: bool


class SeatSigns(msgspec.Struct, frozen=True):
    """State of a seat that signs show: see `SeatState`.

    Attributes:
        pad: its name; empty while none is connected.
        battery: in percent, -1 if nobody knows.
        rings: how those stand that are open.
        pace: the factor on pointer speed that is held or on, without the layers' own.
        menu: None while it is closed.
        unheard: a person has pressed in a game that gets nothing, since it is rehearsal.
    """

    pad: str
    layers: tuple[str, ...]
    toggles: tuple[str, ...]
    carousels: dict[str, int]
    rings: tuple[RingLook, ...]
    pace: float
    paused: bool
    battery: int = -1
    menu: MenuLook | None = None
    unheard: bool = False


class SignsNews(msgspec.Struct, frozen=True):
    """State of all seats that signs show, sent at each change.

    Attributes:
        live: whether outputs go to the system.
        wanted: whether they are meant to.
        halted: a person has stopped everything.
        profiles: what each seat plays, by its number, if that was not told yet.
        away: nothing is to be shown: the screen belongs to somebody else.
    """

    live: bool
    wanted: bool
    halted: bool
    seats: tuple[SeatSigns, ...]
    profiles: dict[int, Profile]
    away: bool = False


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
        serial, plug: its serial number and where it is plugged in, of its first part; empty where it does not say.
        source: where its wiring is known from: document, card or guess.
        marks: identity of the card with its name, colour and measures.
        wiring: identity of the card with its wiring and labels.
        colour: a colour of pad cards, or empty.
        printed: what is printed on its controls, where that is not their position.
        fingers: what works its controls, where that is not the usual finger.
        menu: the button that opens its menu, where that is not the usual one.
        parts: what it is joined of; empty for a pad of its own.
        moving: identity of the part whose motion counts.
        battery: in percent, -1 if nobody knows.
        seats: the numbers of the seats that play with it; two may share it.
        simulated, by_hand: whether it is made up, and worked on the screen at the moment.
        wrong: what keeps it from being used well, with what to do.
    """

    key: str
    name: str
    device: str
    identity: str = ""
    serial: str = ""
    plug: str = ""
    controls: tuple[str, ...] = ()
    source: str = ""
    marks: str = ""
    wiring: str = ""
    colour: str = ""
    printed: dict[str, str] = {}
    fingers: dict[str, Finger] = {}
    menu: str = ""
    parts: tuple[PadPart, ...] = ()
    moving: str = ""
    battery: int = -1
    charging: bool = False
    seats: tuple[int, ...] = ()
    simulated: bool = False
    by_hand: bool = False
    wrong: tuple[Message, ...] = ()


class Introducing(msgspec.Struct, frozen=True):
    """How far the introduction of a pad is.

    Attributes:
        asked: the control or channel that is asked for; empty when nothing is left.
        note: what was made of the last touch.
        status: by channel: guessed, understood or absent.
        card: the card so far, as TOML.
        finished: the person has said from the pad that it is to be kept.
    """

    pad: str
    asked: str
    note: Message | None
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
    """Events of all pads since the subscriber's last packet.

    Attributes:
        values: by pad, the channels that changed.
        frames: every frame of the pad that was asked for.
        reach: the pads, if anything about them is another now.
    """

    t_us: int
    values: dict[str, dict[str, float]]
    frames: tuple[FrameNews, ...] = ()
    connected: ConnectedPads | None = None


class ChannelChange(msgspec.Struct, frozen=True, array_like=True):
    """A digital channel of the pad changed."""

    t_us: int
    channel: str
    down: bool


class Telemetry(msgspec.Struct, frozen=True):
    """Events of one seat since the subscriber's last packet.

    Attributes:
        t_us: when the packet was made.
        values: channels that changed, with their present values.
        changes: every change of a digital channel.
        outputs: what the game got of it: every key and wheel output, pointer motion in sums over 8 ms.
        layers: ids of the layers that are on.
        slots: slots that are pressed.
        performs: nobody's hand did that.
        seat: its number.
        toggles: slots whose toggle is on.
    """

    t_us: int
    values: dict[str, float]
    changes: list[ChannelChange]
    outputs: list[Output]
    layers: tuple[str, ...]
    slots: tuple[str, ...]
    performs: bool = False
    seat: int = 0
    toggles: tuple[str, ...] = ()

"""Messages of a runner: its state, and notifications. `protocol.calls` has the calls."""

from __future__ import annotations

import msgspec

from nub_shift.engine.values import Output, RingLook
from nub_shift.model.controls import Finger
from nub_shift.model.messages import Message
from nub_shift.model.profile.activation import Away, Front, Rule
from nub_shift.model.profile.profile import Profile


class Ready(msgspec.Struct, frozen=True, tag_field="kind", tag="ready"):
    """First notification to a client: the runner plays, and has this protocol version."""

    protocol: int
    version: str


class Notice(msgspec.Struct, frozen=True, tag_field="kind", tag="said"):
    """A message for the person."""

    message: Message


class Ping(msgspec.Struct, frozen=True, tag_field="kind", tag="ping"):
    """Heartbeat to a client on which the runner relies."""


class LayoutNews(msgspec.Struct, frozen=True, tag_field="kind", tag="layout"):
    """The keyboard layout may have changed: a client that names keys has to read the layout again."""


class SparePad(msgspec.Struct, frozen=True):
    """A pad without a player: its key and its name."""

    key: str
    name: str


class PadState(msgspec.Struct, frozen=True):
    """The pad of the seat. `name` is empty while none is connected, and `missing` gives the reason.

    `key` identifies the pad; `printed` has the labels on its controls where they are not the position; `is_automatic`
    is whether the movements come from a demo or a recording; `fingers` has the fingers of its controls where unusual;
    `menu` is the button of the pad menu where unusual. `is_guessed` is whether the names of its controls are guessed
    from the codes, since the pad is not set up. `spare` is a pad that the seat could use in place of the missing one.
    """

    name: str
    controls: tuple[str, ...]
    missing: Message | None = None
    key: str = ""
    printed: dict[str, str] = {}
    is_automatic: bool = False
    fingers: dict[str, Finger] = {}
    menu: str = ""
    is_guessed: bool = False
    spare: SparePad | None = None


class SeatState(msgspec.Struct, frozen=True):
    """State of one pad with one profile.

    Attributes:
        title: title of the profile.
        layers: ids of the active layers, the base layer first.
        slots: pressed slots.
        toggles: slots whose toggle is on.
        carousels: position of each carousel, counted from 0.
        rings: index of the entry that each stick with a ring points to.
        file: file of the profile, or empty.
        paused: presses have no effect until the game is in front again.
        rule: rule that activated the profile; None if a person chose it.
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
        wanted: whether live is chosen; a client in front may hold outputs back.
        output: kind of the live output.
        x11_only: whether the output reaches only X11 programs in a session that has others too.
        seats: at least one.
        down: keys that are down, of all seats.
        front: window in front, if known.
        away: reason for sending nothing; see `model.profile.activation.Away`.
        follows: whether windows in front are reported, so that profiles activate automatically.
        library_late: the last reading of the library was too slow, and is retried.
        halted: a person has stopped everything, from the pad or the keyboard.
        halt_key: name of the halt key in this session; empty for none.
        message: last message for the person, or None.
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
    """State of a pad in its open menu.

    Attributes:
        pressed: held at present: directions, "do", "back".
        counts: number of presses of each since the menu was opened.
        motion: whether the menu permits motion to move the pointer.
    """

    pressed: tuple[str, ...]
    counts: dict[str, int]
    motion: bool


class SeatSigns(msgspec.Struct, frozen=True):
    """State of a seat that signs show: see `SeatState`.

    Attributes:
        pad: name of the pad; empty while none is connected.
        battery: percentage, -1 if unknown.
        rings: the open rings.
        pace: factor on pointer speed from held effects and toggles, without those of layers.
        menu: None while closed.
        rehearsed_press: a person has pressed in a game during rehearsal.
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
    rehearsed_press: bool = False


class SignsNews(msgspec.Struct, frozen=True):
    """State of all seats that signs show, sent at each change.

    Attributes:
        live: whether outputs go to the system.
        wanted: whether live is chosen.
        halted: a person has stopped everything.
        profiles: profile of each seat by its number, if not sent before.
        away: reason for showing nothing: the screen belongs to somebody else.
    """

    live: bool
    wanted: bool
    halted: bool
    seats: tuple[SeatSigns, ...]
    profiles: dict[int, Profile]
    away: bool = False


class PadPart(msgspec.Struct, frozen=True):
    """One of the devices of a combined pad.

    Attributes:
        identity: most specific identity of its card.
        motion: whether it has motion sensors.
    """

    key: str
    name: str
    identity: str
    motion: bool


class PadInfo(msgspec.Struct, frozen=True):
    """One available pad.

    Attributes:
        key: identifies the pad in calls.
        name: name given by the person, or reported by the device.
        device: name reported by the device; empty if unreadable.
        identity: most specific identity of its card.
        serial, plug: serial number and port of its first part; empty if unknown.
        source: origin of its wiring: document, card or guess.
        marks: identity of the card with its name, colour and measures.
        wiring: identity of the card with its wiring and labels.
        colour: a colour of pad cards, or empty.
        printed: labels on its controls, where they are not the position.
        fingers: fingers of its controls, where unusual.
        menu: button of the pad menu, where unusual.
        parts: parts of a combined pad; empty for a single pad.
        moving: identity of the part whose motion sensors count.
        battery: percentage, -1 if unknown.
        seats: numbers of its seats; two may share the pad.
        simulated, by_hand: whether the pad is simulated, and worked by hand at the moment.
        wrong: faults of the pad, with remedies.
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
    """Progress of a set-up.

    Attributes:
        requested: requested control or channel; empty when none is left.
        note: result of the last movement.
        status: by channel: guessed, understood or absent.
        card: the card so far, as TOML.
        finished: the person has confirmed the result from the pad.
    """

    pad: str
    requested: str
    note: Message | None
    status: dict[str, str]
    card: str
    finished: bool = False


class ConnectedPads(msgspec.Struct, frozen=True):
    """The available pads; `unplugged` has the simulated ones that could be plugged in, name by key."""

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
        values: by pad, the changed channels.
        frames: every frame of the requested pad.
        reach: the available pads, if changed.
    """

    t_us: int
    values: dict[str, dict[str, float]]
    frames: tuple[FrameNews, ...] = ()
    connected: ConnectedPads | None = None


class ChannelChange(msgspec.Struct, frozen=True, array_like=True):
    """Change of a digital channel."""

    t_us: int
    channel: str
    down: bool


class Telemetry(msgspec.Struct, frozen=True):
    """Events of one seat since the subscriber's last packet.

    Attributes:
        t_us: time of the packet.
        values: changed channels with their present values.
        changes: every change of a digital channel.
        outputs: outputs to the game: every key and wheel output, pointer motion in sums over 8 ms.
        layers: ids of the active layers.
        slots: pressed slots.
        is_automatic: whether the movements come from a demo or a recording.
        seat: number of the seat.
        toggles: slots whose toggle is on.
    """

    t_us: int
    values: dict[str, float]
    changes: list[ChannelChange]
    outputs: list[Output]
    layers: tuple[str, ...]
    slots: tuple[str, ...]
    is_automatic: bool = False
    seat: int = 0
    toggles: tuple[str, ...] = ()

"""What goes over the runner's socket, as checked values. The server's and the client's common vocabulary."""

from __future__ import annotations

import msgspec

from nub_shift.engine.values import Output


class PadState(msgspec.Struct, frozen=True):
    """The pad of the seat. `name` is empty while none is connected, and `missing` says why."""

    name: str
    controls: tuple[str, ...]
    missing: str = ""


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


class Touch(msgspec.Struct, frozen=True, array_like=True):
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
    touches: list[Touch]
    outputs: list[Output]
    layers: tuple[str, ...]
    slots: tuple[str, ...]


class Subscribe(msgspec.Struct, frozen=True, forbid_unknown_fields=True):
    """Parameters of `subscribe`: how many packets a second at most, of which seat; 0 ends the subscription."""

    hz: int = 60
    seat: int = 0


class Load(msgspec.Struct, frozen=True, forbid_unknown_fields=True):
    """Parameters of `load`: the TOML text of a profile, and the seat that is to go on with it."""

    toml: str
    seat: int = 0


class Go(msgspec.Struct, frozen=True, forbid_unknown_fields=True):
    """Parameters of `go`: live, or back to rehearsal."""

    live: bool

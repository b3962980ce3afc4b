"""What goes into the engine and what comes out of it.

All times are whole microseconds on one monotonic clock.
"""

from __future__ import annotations

from typing import Final, final

import msgspec

US_PER_SECOND: Final = 1_000_000
WHEEL_CLICK: Final = 120


class Frame(msgspec.Struct, frozen=True):
    """Values of a pad at one moment, calibrated.

    Attributes:
        t_us: when, by the device's own clock.
        values: channel to value (see `model.controls.Control.channels`), those that changed at least.
        sensor_us: when the motion sensors sampled, by a clock of their own that goes round at 2**32, if they tell.
    """

    t_us: int
    values: dict[str, float]
    sensor_us: int | None = None


@final
class Key(msgspec.Struct, frozen=True, gc=False, tag_field="kind", tag="key"):
    """A key or mouse button goes down or up. `code` is its kernel name."""

    t_us: int
    code: str
    down: bool


@final
class Pointer(msgspec.Struct, frozen=True, gc=False, tag_field="kind", tag="pointer"):
    """The pointer moves by whole counts, x to the right, y downwards."""

    t_us: int
    dx: int
    dy: int


@final
class Place(msgspec.Struct, frozen=True, gc=False, tag_field="kind", tag="place"):
    """The pointer goes to a place on the screen: parts of its width from the left and of its height from the top."""

    t_us: int
    x: float
    y: float


@final
class PlaceBack(msgspec.Struct, frozen=True, gc=False, tag_field="kind", tag="place_back"):
    """The pointer goes back to where it was before it was placed."""

    t_us: int


@final
class Wheel(msgspec.Struct, frozen=True, gc=False, tag_field="kind", tag="wheel"):
    """The wheel turns, in 120ths of a click, x to the right, y away from the user."""

    t_us: int
    x: int
    y: int


@final
class ProfileRequest(msgspec.Struct, frozen=True, gc=False, tag_field="kind", tag="profile"):
    """The person asks for another profile, by its title. Whoever runs the engine may follow."""

    t_us: int
    title: str


class RingLook(msgspec.Struct, frozen=True, gc=False):
    """How an open ring stands.

    Attributes:
        control: what chooses from it.
        ring: its id.
        x, y: where that control points, x to the right, y downwards, -1 to 1.
        chosen: the entry that would be sent now, or has begun, counted from 0; None if none.
    """

    control: str
    ring: str
    x: float
    y: float
    chosen: int | None = None


Output = Key | Pointer | Place | PlaceBack | Wheel | ProfileRequest


def output_line(output: Output, start_us: int = 0) -> bytes:
    """One output as a JSON line, its time in seconds since `start_us`."""
    fields = {
        "t": round((output.t_us - start_us) / US_PER_SECOND, 6),
        **{name: value for name, value in msgspec.to_builtins(output).items() if name != "t_us"},
    }
    return msgspec.json.encode(fields) + b"\n"


class EngineState(msgspec.Struct, frozen=True):
    """State of an engine at one moment.

    Attributes:
        layers: ids of the layers that are on, the base layer first, the topmost last.
        slots: the slots that are pressed.
        down: the keys that are down, of all engines on the same ledger.
        toggles: slots whose toggle is on.
        carousels: where each carousel stands, counted from 0.
        rings: the entry that each stick with a ring points to, counted from 0.
        open_rings: how those stand that are open.
        pace: the factor on pointer speed of what is held or on, without the layers' own, each in full.
    """

    layers: tuple[str, ...]
    slots: tuple[str, ...]
    down: tuple[str, ...]
    toggles: tuple[str, ...]
    carousels: dict[str, int]
    rings: dict[str, int]
    open_rings: tuple[RingLook, ...] = ()
    pace: float = 1.0

"""Input and output values of the engine.

All times are whole microseconds on one monotonic clock.
"""

from __future__ import annotations

from typing import Final, final

import msgspec

US_PER_SECOND: Final = 1_000_000
WHEEL_CLICK: Final = 120


class Frame(msgspec.Struct, frozen=True):
    """Calibrated values of a pad at one moment.

    Attributes:
        t_us: time by the device's own clock.
        values: channel to value (see `model.controls.Control.channels`), at least the changed ones.
        sensor_us: timestamp of the motion sensors, by a clock of their own that wraps at 2**32, if available.
    """

    t_us: int
    values: dict[str, float]
    sensor_us: int | None = None


@final
class Key(msgspec.Struct, frozen=True, gc=False, tag_field="kind", tag="key"):
    """Press or release of a key or mouse button. `code` is its kernel name."""

    t_us: int
    code: str
    down: bool


@final
class Pointer(msgspec.Struct, frozen=True, gc=False, tag_field="kind", tag="pointer"):
    """Pointer motion by whole counts, x to the right, y downwards."""

    t_us: int
    dx: int
    dy: int


@final
class Place(msgspec.Struct, frozen=True, gc=False, tag_field="kind", tag="place"):
    """Pointer position on the screen, as parts of its width from the left and of its height from the top."""

    t_us: int
    x: float
    y: float


@final
class PlaceBack(msgspec.Struct, frozen=True, gc=False, tag_field="kind", tag="place_back"):
    """Return of the pointer to its position before the last `Place`."""

    t_us: int


@final
class Wheel(msgspec.Struct, frozen=True, gc=False, tag_field="kind", tag="wheel"):
    """Wheel motion in 120ths of a click, x to the right, y away from the user."""

    t_us: int
    x: int
    y: int


@final
class ProfileRequest(msgspec.Struct, frozen=True, gc=False, tag_field="kind", tag="profile"):
    """Request for another profile, by its title."""

    t_us: int
    title: str


class RingLook(msgspec.Struct, frozen=True, gc=False):
    """State of an open ring.

    Attributes:
        control: control that chooses from the ring.
        ring: id of the ring.
        x, y: direction of this control, x to the right, y downwards, -1 to 1.
        chosen: index of the entry to be sent or already begun; None without one.
    """

    control: str
    ring: str
    x: float
    y: float
    chosen: int | None = None


Output = Key | Pointer | Place | PlaceBack | Wheel | ProfileRequest


def output_line(output: Output, start_us: int = 0) -> bytes:
    """Returns an output as a JSON line, with its time in seconds since `start_us`."""
    fields = {
        "t": round((output.t_us - start_us) / US_PER_SECOND, 6),
        **{name: value for name, value in msgspec.to_builtins(output).items() if name != "t_us"},
    }
    return msgspec.json.encode(fields) + b"\n"


class EngineState(msgspec.Struct, frozen=True):
    """State of an engine at one moment.

    Attributes:
        layers: ids of the active layers, the base layer first, the topmost last.
        slots: pressed slots.
        down: keys that are down, of all engines on the same ledger.
        toggles: slots whose toggle is on.
        carousels: position of each carousel, counted from 0.
        rings: index of the entry that each stick with a ring points to.
        open_rings: the open rings.
        pace: factor on pointer speed from held effects and toggles, without those of layers, each in full.
    """

    layers: tuple[str, ...]
    slots: tuple[str, ...]
    down: tuple[str, ...]
    toggles: tuple[str, ...]
    carousels: dict[str, int]
    rings: dict[str, int]
    open_rings: tuple[RingLook, ...] = ()
    pace: float = 1.0

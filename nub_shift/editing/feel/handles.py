"""Draggable numbers of a stick's feel: their positions in its picture, and values at positions.

Positions are in the stick's own circle: x to the right, y downwards, -1 to 1.
"""

from __future__ import annotations

from collections.abc import Mapping, Sequence
from dataclasses import dataclass
from enum import Enum
from math import atan2, ceil, cos, degrees, hypot, radians, sin, sqrt
from typing import Any, assert_never

from msgspec import UNSET
from msgspec.structs import replace

from nub_shift.editing.edits import feel as feel_edits
from nub_shift.editing.edits.bindings import change_layer
from nub_shift.engine.shaping.stick_shape import shape_of, unoriented
from nub_shift.model.controls import DIAGONALS, PART_LABELS, WAYS
from nub_shift.model.profile.feel import LEAST_STEP, DeadZoneShape, Feel, StickFeel
from nub_shift.model.profile.profile import BASE_LAYER, Profile
from nub_shift.model.profile.schema_types import Record
from nub_shift.model.slot_names import slot_name
from nub_shift.translation import tr

# Radius of handles that concern the whole stick, and the part of a shrunk rim that is shown beyond it.
OUTSIDE = 1.07
_DRAWN_IN = 0.25
_CORNER = sqrt(2.0) - 1.0
_CORNER_DEGREES = 315.0


def place_of(feel: StickFeel, x: float, y: float) -> tuple[float, float]:
    """Returns the stick position whose oriented position is (x, y)."""
    return unoriented(feel, x, y)


def on_ray(feel: StickFeel, ray_degrees: float, radius: float) -> tuple[float, float]:
    """Returns the stick position with an oriented radius on a ray, counted clockwise from oriented up."""
    angle = radians(ray_degrees)
    return place_of(feel, radius * sin(angle), -radius * cos(angle))


class HandleShape(Enum):
    """Shape of a number in the picture."""

    RADIUS = tr("a circle about the middle")
    RIM = tr("a circle, counted from the rim inwards")
    BAND = tr("a band along both axes")
    WEDGE = tr("half the width of a wedge")
    HOLD = tr("how far beyond the border of a wedge")
    TURN = tr("a direction")
    CORNER = tr("how far the corners of a square come in")


@dataclass(frozen=True)
class Handle:
    """One draggable number.

    Attributes:
        path: path in the feel.
        label: name.
        shape: shape in the picture.
        ray_degrees: ray of the knob, clockwise from up.
        low, high: limits.
        step: change by an arrow key.
        unit: unit after the number; empty for a part of the full deflection.
    """

    path: tuple[str, ...]
    label: str
    shape: HandleShape
    ray_degrees: float
    low: float
    high: float
    step: float = 0.01
    unit: str = ""

    @property
    def rarely_set(self) -> bool:
        """Whether most sticks keep the default."""
        return self.shape in (HandleShape.TURN, HandleShape.CORNER, HandleShape.HOLD)

    def value(self, feel: StickFeel) -> float:
        """Returns the value."""
        found: float = value_at(feel, self.path)
        return found

    def place(self, feel: StickFeel) -> tuple[float, float]:
        """Returns the position of the knob."""
        value, ray = self.value(feel), self.ray_degrees
        match self.shape:
            case HandleShape.RADIUS:
                return on_ray(feel, ray, value)
            case HandleShape.RIM:
                return on_ray(feel, ray, 1.0 - value)
            case HandleShape.BAND:
                return place_of(feel, value, -0.55)
            case HandleShape.WEDGE:
                return on_ray(feel, ray - value / 2, 0.97)
            case HandleShape.HOLD:
                return on_ray(feel, ray + feel.directions.diagonal_degrees / 2 + value, 0.8)
            case HandleShape.TURN:
                return OUTSIDE * sin(radians(value)), -OUTSIDE * cos(radians(value))
            case HandleShape.CORNER:
                radius = 1.0 / (1.0 + value * _CORNER) if value > 0 else 1.0 - value * _CORNER * _DRAWN_IN
                return radius * sin(radians(ray)), -radius * cos(radians(ray))
            case _:
                assert_never(self.shape)

    def at(self, feel: StickFeel, x: float, y: float) -> float:
        """Returns the value at a dragged position, within its limits."""
        meant_x, meant_y = shape_of(feel).oriented(x, y)
        ray = degrees(atan2(meant_x, -meant_y))
        match self.shape:
            case HandleShape.RADIUS:
                value = hypot(meant_x, meant_y)
            case HandleShape.RIM:
                value = 1.0 - hypot(meant_x, meant_y)
            case HandleShape.BAND:
                value = abs(meant_x)
            case HandleShape.WEDGE:
                value = 2 * abs(_turned(self.ray_degrees, ray))
            case HandleShape.HOLD:
                value = _turned(ray, self.ray_degrees) - feel.directions.diagonal_degrees / 2
            case HandleShape.TURN:
                value = degrees(atan2(x, -y))
            case HandleShape.CORNER:
                radius = max(hypot(x, y), 0.5)
                beyond = radius - 1.0
                value = -beyond / _DRAWN_IN / _CORNER if beyond > 0 else (1.0 / radius - 1.0) / _CORNER
            case _:
                assert_never(self.shape)
        return self.held(value)

    def held(self, value: float) -> float:
        """Returns a number within the limits, rounded to what a hand can feel."""
        decimals = 0 if self.step >= 1 else 3
        return round(min(max(value, self.low), self.high), decimals)


def _turned(from_degrees: float, to_degrees: float) -> float:
    """Returns the difference of two directions, from -180 to 180."""
    return (from_degrees - to_degrees + 180.0) % 360.0 - 180.0


_RAYS = {"up": 0.0, "right": 90.0, "down": 180.0, "left": 270.0}


def shown_feel(profile: Profile, layer_id: str, control: str) -> StickFeel:
    """Returns a stick's feel while a layer is active."""
    found: StickFeel = getattr(feel_edits.layer_feel(profile, layer_id), control)
    return found


def handles(profile: Profile, layer_id: str, control: str) -> list[Handle]:
    """Returns the handles for the stick's use: zones always, directions and slots where a layer uses them."""
    feel = shown_feel(profile, layer_id, control)
    used = {slot for layer in profile.layers for slot in layer.used_slots}
    least = 2 * LEAST_STEP  # leaves room for the end threshold below

    found = []
    if feel.dead_zone_shape is not DeadZoneShape.AXIAL:
        most = min(0.9, 1.0 - LEAST_STEP - feel.edge_zone)
        found.append(Handle(("dead_zone",), tr("Dead zone"), HandleShape.RADIUS, 90.0, 0.0, most))
    if feel.dead_zone_shape is not DeadZoneShape.RADIAL:
        found.append(Handle(("axial_dead_zone",), tr("Along the axes"), HandleShape.BAND, 0.0, 0.0, 0.9))
    most = min(0.5, 1.0 - LEAST_STEP - feel.dead_zone)
    found.append(Handle(("edge_zone",), tr("Edge zone"), HandleShape.RIM, 60.0, 0.0, most))
    if used & {slot_name(control, way) for way in (*WAYS, *DIAGONALS)}:
        found.append(Handle(("directions", "on"), tr("Directions from"), HandleShape.RADIUS, 135.0, least, 1.0))
        for way, ray in _RAYS.items():
            if getattr(feel.directions, way) is not None:
                label = tr("{way} from", way=PART_LABELS[way])
                found.append(Handle(("directions", way, "on"), label, HandleShape.RADIUS, ray, least, 1.0))
        if feel.directions.ways == 8:
            held = ceil(2 * feel.directions.hysteresis_degrees + 1.0)
            path = ("directions", "diagonal_degrees")
            widest = min(80.0, 90.0 - held)
            found.append(Handle(path, tr("Diagonals"), HandleShape.WEDGE, 45.0, max(10.0, held), widest, 1.0, "°"))
            most = min(feel.directions.diagonal_degrees, 90.0 - feel.directions.diagonal_degrees) / 2 - 1.0
            path = ("directions", "hysteresis_degrees")
            found.append(
                Handle(
                    path,
                    tr("Direction kept for longer"),
                    HandleShape.HOLD,
                    45.0,
                    0.0,
                    max(0.0, min(20.0, most)),
                    1.0,
                    "°",
                )
            )
    if slot_name(control, "inner") in used:
        found.append(Handle(("inner",), tr("Inner up to"), HandleShape.RADIUS, 200.0, 0.0, 1.0))
    if slot_name(control, "edge") in used:
        found.append(Handle(("edge", "on"), tr("Edge from"), HandleShape.RADIUS, 225.0, least, 1.0))
    found.append(Handle(("square_off",), tr("Square-off"), HandleShape.CORNER, _CORNER_DEGREES, -1.0, 1.0))
    found.append(Handle(("rotation_degrees",), tr("Turned"), HandleShape.TURN, 0.0, -180.0, 180.0, 1.0, "°"))
    return found


def move_handle(profile: Profile, layer_id: str, control: str, handle: Handle, value: float) -> Profile:
    """Returns the profile with another value for a handle. The end threshold below keeps its distance."""
    before = shown_feel(profile, layer_id, control)
    made = feel_edits.set_setting(profile, layer_id, control, handle.path, f"{handle.held(value):g}")
    if handle.path[-1] == "on":
        off = (*handle.path[:-1], "off")
        gap: float = handle.value(before) - value_at(before, off)
        made = feel_edits.set_setting(made, layer_id, control, off, f"{max(LEAST_STEP, handle.held(value) - gap):g}")
    return made


def set_values(profile: Profile, layer_id: str, control: str, values: Mapping[tuple[str, ...], float]) -> Profile:
    """Returns the profile with other values for some numbers of a control's feel."""
    for path, value in values.items():
        profile = feel_edits.set_setting(profile, layer_id, control, path, f"{value:g}")
    return profile


def reset_feel(profile: Profile, layer_id: str, control: str) -> Profile:
    """Returns the profile with the layer's changes of a control's feel removed; in the base layer, with the
    defaults.
    """
    if layer_id == BASE_LAYER:
        return replace(profile, feel=replace(profile.feel, **{control: getattr(Feel(), control)}))
    layer = profile.layer(layer_id)
    if layer is None:
        return profile
    return change_layer(profile, layer_id, feel=replace(layer.feel, **{control: UNSET}))


def value_at(feel: Record, path: Sequence[str]) -> Any:
    """Returns the setting at a path of a feel."""
    found: Any = feel
    for key in path:
        found = getattr(found, key)
    return found

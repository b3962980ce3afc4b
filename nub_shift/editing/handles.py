"""The numbers of a stick's feel as places in its picture, to be dragged: where each lies, and what a place means.

Places are in the stick's own circle: x to the right, y downwards, -1 to 1.
"""

from __future__ import annotations

from collections.abc import Mapping, Sequence
from dataclasses import dataclass
from enum import Enum
from math import atan2, cos, degrees, hypot, radians, sin
from typing import Any

from msgspec import UNSET
from msgspec.structs import replace

from nub_shift.editing.edits import feel as feel_edits
from nub_shift.editing.edits.bindings import layer_changed
from nub_shift.model.controls import DIAGONALS, WAYS
from nub_shift.model.feel import LEAST_STEP, DeadZoneShape, Feel, StickFeel, changed_feel
from nub_shift.model.profile import BASE_LAYER, Profile
from nub_shift.model.slot_names import slot_name


def on_ray(feel: StickFeel, ray_degrees: float, radius: float) -> tuple[float, float]:
    """The place at a radius about where the stick rests, on a ray that is counted clockwise from up."""
    angle = radians(ray_degrees)
    return feel.rest_x + radius * sin(angle), feel.rest_y - radius * cos(angle)


class Lies(Enum):
    """How a number is seen."""

    RADIUS = "a circle about the middle"
    RIM = "a circle, counted from the rim inwards"
    BAND = "a band along both axes"
    WEDGE = "half the width of a wedge"


@dataclass(frozen=True)
class Handle:
    """One number.

    Attributes:
        path: its place in the feel.
        label: what it is called.
        lies: how it is seen.
        ray_degrees: on which ray it is taken hold of, clockwise from up.
        low, high: what it can be.
        step: what an arrow key changes.
        unit: right after the number; empty for a part of the way.
    """

    path: tuple[str, ...]
    label: str
    lies: Lies
    ray_degrees: float
    low: float
    high: float
    step: float = 0.01
    unit: str = ""

    def value(self, feel: StickFeel) -> float:
        """What it is."""
        found: float = value_at(feel, self.path)
        return found

    def place(self, feel: StickFeel) -> tuple[float, float]:
        """Where it is taken hold of."""
        value, ray = self.value(feel), self.ray_degrees
        match self.lies:
            case Lies.RADIUS:
                radius = value
            case Lies.RIM:
                radius = 1.0 - value
            case Lies.BAND:
                return feel.rest_x + value, feel.rest_y - 0.55
            case Lies.WEDGE:
                radius, ray = 0.97, ray - value / 2
        return on_ray(feel, ray, radius)

    def at(self, feel: StickFeel, x: float, y: float) -> float:
        """What it is where it is dragged to, held to what it can be."""
        x, y = x - feel.rest_x, y - feel.rest_y
        match self.lies:
            case Lies.RADIUS:
                value = hypot(x, y)
            case Lies.RIM:
                value = 1.0 - hypot(x, y)
            case Lies.BAND:
                value = abs(x)
            case Lies.WEDGE:
                value = 2 * abs((self.ray_degrees - degrees(atan2(x, -y)) + 180) % 360 - 180)
        return self.held(value)

    def held(self, value: float) -> float:
        """A number held to what it can be, and rounded to what a hand can tell."""
        decimals = 0 if self.step >= 1 else 3
        return round(min(max(value, self.low), self.high), decimals)


def shown_feel(profile: Profile, layer_id: str, control: str) -> StickFeel:
    """A stick's feel while a layer is on."""
    layer = profile.layer(layer_id)
    found: StickFeel = getattr(changed_feel(profile.feel, layer.feel) if layer is not None else profile.feel, control)
    return found


def handles(profile: Profile, layer_id: str, control: str) -> list[Handle]:
    """Those that matter for what the stick does: zones always, directions and slots where some layer uses them."""
    feel = shown_feel(profile, layer_id, control)
    used = {slot for layer in profile.layers for slot in layer.used_slots}
    least = 2 * LEAST_STEP  # what begins there has something to end below

    found = []
    if feel.dead_zone_shape is not DeadZoneShape.AXIAL:
        most = min(0.9, 1.0 - LEAST_STEP - feel.edge_zone)
        found.append(Handle(("dead_zone",), "Dead zone", Lies.RADIUS, 90.0, 0.0, most))
    if feel.dead_zone_shape is not DeadZoneShape.RADIAL:
        found.append(Handle(("axial_dead_zone",), "Along the axes", Lies.BAND, 0.0, 0.0, 0.9))
    most = min(0.5, 1.0 - LEAST_STEP - feel.dead_zone)
    found.append(Handle(("edge_zone",), "Edge zone", Lies.RIM, 60.0, 0.0, most))
    if used & {slot_name(control, way) for way in (*WAYS, *DIAGONALS)}:
        found.append(Handle(("directions", "on"), "Directions from", Lies.RADIUS, 135.0, least, 1.0))
        if feel.directions.ways == 8:
            path = ("directions", "diagonal_degrees")
            found.append(Handle(path, "Diagonals", Lies.WEDGE, 45.0, 10.0, 80.0, 1.0, "°"))
    if slot_name(control, "inner") in used:
        found.append(Handle(("inner",), "Inner up to", Lies.RADIUS, 200.0, 0.0, 1.0))
    if slot_name(control, "edge") in used:
        found.append(Handle(("edge", "on"), "Edge from", Lies.RADIUS, 225.0, least, 1.0))
    return found


def moved(profile: Profile, layer_id: str, control: str, handle: Handle, value: float) -> Profile:
    """The profile with another value for a handle. What ends below a value that begins there keeps its distance."""
    before = shown_feel(profile, layer_id, control)
    made = feel_edits.given(profile, layer_id, control, handle.path, f"{handle.held(value):g}")
    if handle.path[-1] == "on":
        off = (*handle.path[:-1], "off")
        gap: float = handle.value(before) - value_at(before, off)
        made = feel_edits.given(made, layer_id, control, off, f"{max(LEAST_STEP, handle.held(value) - gap):g}")
    return made


def moved_values(profile: Profile, layer_id: str, control: str, values: Mapping[tuple[str, ...], float]) -> Profile:
    """The profile with other values for some numbers of a control's feel."""
    for path, value in values.items():
        profile = feel_edits.given(profile, layer_id, control, path, f"{value:g}")
    return profile


def given_back(profile: Profile, layer_id: str, control: str) -> Profile:
    """The profile whose layer changes nothing of a control's feel; in the base layer it is as a new profile has it."""
    if layer_id == BASE_LAYER:
        return replace(profile, feel=replace(profile.feel, **{control: getattr(Feel(), control)}))
    layer = profile.layer(layer_id)
    if layer is None:
        return profile
    return layer_changed(profile, layer_id, feel=replace(layer.feel, **{control: UNSET}))


def value_at(feel: StickFeel, path: Sequence[str]) -> Any:
    """The setting at a path of a feel."""
    found: Any = feel
    for key in path:
        found = getattr(found, key)
    return found

"""What people want of a stick, in their words, each as a small change of the right numbers."""

from __future__ import annotations

from collections.abc import Iterator, Mapping
from dataclasses import dataclass
from functools import partial

from msgspec.structs import replace

from nub_shift.editing.document import Edit
from nub_shift.editing.edits import feel as feel_edits
from nub_shift.editing.edits.bindings import bound
from nub_shift.editing.handles import moved_values, shown_feel, value_at
from nub_shift.editing.two_feels import use_of, with_feel_of
from nub_shift.model.actions import Assignment
from nub_shift.model.controls import DIAGONALS, STICKS, WAYS
from nub_shift.model.effects import PointerSpeed
from nub_shift.model.feel import StickFeel
from nub_shift.model.feel_labels import feel_label
from nub_shift.model.profile import Profile
from nub_shift.model.slot_names import slot_name

_Path = tuple[str, ...]


@dataclass(frozen=True)
class Wish:
    """One thing to want.

    Attributes:
        text: in people's words.
        says: which numbers it changes, and how.
        edit: does it.
    """

    text: str
    says: str
    edit: Edit


def wishes(profile: Profile, layer_id: str, control: str) -> list[Wish]:
    """Those that would change something."""
    feel = shown_feel(profile, layer_id, control)
    found = [_feel_wish(layer_id, control, feel, text, values) for text, values in _by_numbers(profile, control, feel)]
    return [*found, *_by_speed(profile, layer_id, control), *_both_sticks(profile, layer_id, control)]


def as_it_was(started: Profile, profile: Profile, layer_id: str, control: str) -> Wish | None:
    """Takes a control's feel, and how fast it moves the pointer, back to what a profile had; None where it is so."""
    edit = partial(with_feel_of, source=started, layer_id=layer_id, control=control)
    if edit(profile) == profile:
        return None
    return Wish("As it was when I started", "All its numbers go back to what they were then", edit)


def said_changes(control: str, feel: StickFeel, values: Mapping[_Path, float]) -> str:
    """Each setting's number now, and what it is to be."""
    return ", ".join(f"{feel_label(control, path)} {value_at(feel, path):g} → {to:g}" for path, to in values.items())


def _by_numbers(profile: Profile, control: str, feel: StickFeel) -> Iterator[tuple[str, dict[_Path, float]]]:
    """Wishes that are a number or two of the feel."""
    if feel.dead_zone < 0.5:
        yield "Steadier at rest", {("dead_zone",): feel.dead_zone + 0.03}
    if feel.dead_zone > 0.02:
        yield "Livelier at rest", {("dead_zone",): feel.dead_zone - 0.02}
    if not feel.points and feel.power < 3.0:
        yield "Softer near the centre", {("power",): feel.power * 1.2}
    if not feel.points and feel.power > 0.6:
        yield "Stronger near the centre", {("power",): feel.power / 1.2}
    if feel.edge_zone < 0.3 and feel.dead_zone + feel.edge_zone < 0.8:
        yield "All of it before the rim", {("edge_zone",): feel.edge_zone + 0.04}
    if feel.anti_dead_zone > 0.0:
        yield "No jump at the start", {("anti_dead_zone",): 0.0}
    used = {slot for layer in profile.layers for slot in layer.used_slots}
    ways = feel.directions
    if ways.ways == 8 and used & {slot_name(control, way) for way in (*WAYS, *DIAGONALS)}:
        path = ("directions", "diagonal_degrees")
        if ways.diagonal_degrees <= 70.0:
            yield "Easier diagonals", {path: ways.diagonal_degrees + 6.0}
        if ways.diagonal_degrees >= 20.0:
            yield "Easier straight lines", {path: ways.diagonal_degrees - 6.0}


def _feel_wish(layer_id: str, control: str, feel: StickFeel, text: str, values: dict[_Path, float]) -> Wish:
    rounded = {path: round(value, 3) for path, value in values.items()}
    says = said_changes(control, feel, rounded)
    return Wish(text, says, partial(moved_values, layer_id=layer_id, control=control, values=rounded))


def _by_speed(profile: Profile, layer_id: str, control: str) -> Iterator[Wish]:
    """Wishes about how fast a stick moves the pointer."""
    use = use_of(profile, layer_id, control)
    if not isinstance(use, PointerSpeed):
        return
    changes = {"Look faster": (use.x * 1.15, use.y * 1.15), "Look slower": (use.x / 1.15, use.y / 1.15)}
    if abs(use.x) != abs(use.y):
        changes["Both axes alike"] = (use.x, abs(use.x) * (1 if use.y >= 0 else -1))
    for text, (x, y) in changes.items():
        made = PointerSpeed(float(round(x)), float(round(y)))
        says = f"{abs(use.x):g} × {abs(use.y):g} → {abs(made.x):g} × {abs(made.y):g} counts a second"
        yield Wish(text, says, partial(bound, layer_id=layer_id, slot=control, assignment=Assignment.of_use(made)))


def _both_sticks(profile: Profile, layer_id: str, control: str) -> Iterator[Wish]:
    if control not in STICKS:
        return
    (other,) = (stick for stick in STICKS if stick != control)
    here, there = (shown_feel(profile, layer_id, stick) for stick in (control, other))
    kept = replace(here, rest_x=there.rest_x, rest_y=there.rest_y)  # where a stick rests is its own
    if kept != there:

        def copied(now: Profile) -> Profile:
            found = feel_edits.settings(now, layer_id, control)
            wanted = (setting for setting in found if setting.path[0] not in ("rest_x", "rest_y"))
            return feel_edits.copied(now, layer_id, other, wanted)

        yield Wish("The same on the other stick", "All its numbers, but where it rests", copied)

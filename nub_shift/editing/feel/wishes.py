"""Wishes about a control in people's words, each a small change of the relevant numbers."""

from __future__ import annotations

from collections.abc import Callable, Iterator, Mapping
from dataclasses import dataclass
from functools import partial

from nub_shift.editing.document import Edit
from nub_shift.editing.edits import feel as feel_edits
from nub_shift.editing.edits import slots as slot_edits
from nub_shift.editing.edits.bindings import bind
from nub_shift.editing.edits.curve_points import points_text
from nub_shift.editing.feel.handles import set_values, shown_feel, value_at
from nub_shift.editing.feel.look_speed import FASTEST
from nub_shift.editing.feel.stage_lines import StageLine, move_line, stage_lines
from nub_shift.editing.feel.two_feels import copy_feel, use_of
from nub_shift.editing.words.feel_labels import feel_label
from nub_shift.model.controls import DIAGONALS, STICKS, WAYS
from nub_shift.model.profile.actions import Action
from nub_shift.model.profile.effects import ChangePace, PointerSpeed
from nub_shift.model.profile.feel import MotionFeel, StickFeel
from nub_shift.model.profile.profile import Profile
from nub_shift.model.profile.reactions import Assignment, Reaction
from nub_shift.model.profile.schema_types import Record
from nub_shift.model.slot_names import slot_name
from nub_shift.translation import number_text, tr

_Path = tuple[str, ...]
# Factor of fine looking.
_FINE = 0.4


@dataclass(frozen=True)
class Wish:
    """One wish.

    Attributes:
        text: in people's words.
        says: the changed numbers.
        edit: the edit.
    """

    text: str
    says: str
    edit: Edit


@dataclass(frozen=True)
class PressWish:
    """A wish about a slot to be chosen.

    Attributes:
        text, says: as for a wish.
        edit_of: the edit for a slot.
    """

    text: str
    says: str
    edit_of: Callable[[str], Edit]


def wishes(profile: Profile, layer_id: str, control: str) -> list[Wish | PressWish]:
    """Returns the wishes that would change something."""
    feel = getattr(feel_edits.layer_feel(profile, layer_id), control)
    match feel:
        case StickFeel():
            numbers = _number_wishes(profile, control, feel)
            others: list[Wish | PressWish] = [
                *_curve_wishes(profile, layer_id, control, feel),
                *_speed_wishes(profile, layer_id, control),
                *_both_sticks(profile, layer_id, control),
            ]
        case MotionFeel():
            numbers, others = _motion_wishes(feel), [_slower_while(layer_id)]
        case _:
            return list(_stage_wishes(profile, layer_id, control))
    return [*(_feel_wish(layer_id, control, feel, text, values) for text, values in numbers), *others]


AS_IT_WAS = tr("As it was when I started")


def original_wish(started: Profile, profile: Profile, layer_id: str, control: str) -> Wish | None:
    """Returns the wish for the feel and pointer speed of a control at the start; None if unchanged."""
    edit = partial(copy_feel, source=started, layer_id=layer_id, control=control)
    if edit(profile) == profile:
        return None
    return Wish(AS_IT_WAS, tr("All its numbers go back to what they were then"), edit)


def number_changes(control: str, feel: Record, values: Mapping[_Path, float]) -> str:
    """Returns the present and the new number of each setting."""
    now = {path: value_at(feel, path) for path in values}
    told = {path: tr("none") if value is None else number_text(value) for path, value in now.items()}
    return ", ".join(f"{feel_label(control, path)} {told[path]} → {number_text(to)}" for path, to in values.items())


def _number_wishes(profile: Profile, control: str, feel: StickFeel) -> Iterator[tuple[str, dict[_Path, float]]]:
    """Yields wishes that change one or two numbers of the feel."""
    if feel.dead_zone < 0.5:
        yield tr("Steadier at rest"), {("dead_zone",): feel.dead_zone + 0.03}
    if feel.dead_zone > 0.02:
        yield tr("Reacts sooner"), {("dead_zone",): feel.dead_zone - 0.02}
    if feel.edge_zone < 0.3 and feel.dead_zone + feel.edge_zone < 0.8:
        yield tr("Full speed before the rim"), {("edge_zone",): feel.edge_zone + 0.04}
    if feel.anti_dead_zone > 0.0:
        yield tr("No jump at the start"), {("anti_dead_zone",): 0.0}
    used = {slot for layer in profile.layers for slot in layer.used_slots}
    ways = feel.directions
    if ways.ways == 8 and used & {slot_name(control, way) for way in (*WAYS, *DIAGONALS)}:
        path = ("directions", "diagonal_degrees")
        if ways.diagonal_degrees <= 70.0:
            yield tr("Easier diagonals"), {path: ways.diagonal_degrees + 6.0}
        if ways.diagonal_degrees >= 20.0:
            yield tr("Easier straight lines"), {path: ways.diagonal_degrees - 6.0}


def _feel_wish(layer_id: str, control: str, feel: Record, text: str, values: dict[_Path, float]) -> Wish:
    rounded = {path: round(value, 3) for path, value in values.items()}
    says = number_changes(control, feel, rounded)
    return Wish(text, says, partial(set_values, layer_id=layer_id, control=control, values=rounded))


def _curve_wishes(profile: Profile, layer_id: str, control: str, feel: StickFeel) -> Iterator[Wish]:
    """Yields wishes about the bend of the curve, by its power or by all its points."""
    for text, factor in ((tr("Softer near the centre"), 1.2), (tr("Stronger near the centre"), 1 / 1.2)):
        if feel.points:
            points = tuple((x, round(y**factor, 3)) for x, y in feel.points)
            edit = partial(
                feel_edits.set_setting, layer_id=layer_id, control=control, path=("points",), text=points_text(points)
            )
            yield Wish(
                text,
                tr(
                    "Curve points {points} → {other_points}",
                    points=points_text(feel.points),
                    other_points=points_text(points),
                ),
                edit,
            )
        elif 0.6 < feel.power * factor < 3.5:
            yield _feel_wish(layer_id, control, feel, text, {("power",): feel.power * factor})
    use = use_of(profile, layer_id, control)
    if isinstance(use, PointerSpeed) and not feel.points and feel.power < 3.0:
        bent = _feel_wish(layer_id, control, feel, "", {("power",): feel.power * 1.15})
        faster = _speed_wish(layer_id, control, use, "", use.x * 1.15, use.y * 1.15)
        yield Wish(tr("Quicker at the edge"), f"{bent.says}, {faster.says}", lambda now: faster.edit(bent.edit(now)))


def _speed_wishes(profile: Profile, layer_id: str, control: str) -> Iterator[Wish | PressWish]:
    """Yields wishes about the pointer speed of a stick."""
    use = use_of(profile, layer_id, control)
    if not isinstance(use, PointerSpeed):
        return
    changes = {tr("Look faster"): (use.x * 1.15, use.y * 1.15), tr("Look slower"): (use.x / 1.15, use.y / 1.15)}
    if abs(use.x) != abs(use.y):
        changes[tr("Both axes alike")] = (use.x, abs(use.x) * (1 if use.y >= 0 else -1))
    for text, (x, y) in changes.items():
        yield _speed_wish(layer_id, control, use, text, x, y)
    yield _slower_while(layer_id)


def _speed_wish(layer_id: str, control: str, use: PointerSpeed, text: str, x: float, y: float) -> Wish:
    made = PointerSpeed(*(float(round(max(-FASTEST, min(counts, FASTEST)))) for counts in (x, y)))
    says = tr(
        "{x:g} × {y:g} → {other_x:g} × {other_y:g} counts a second",
        x=abs(use.x),
        y=abs(use.y),
        other_x=abs(made.x),
        other_y=abs(made.y),
    )
    return Wish(text, says, partial(bind, layer_id=layer_id, slot=control, assignment=Assignment.of_use(made)))


def _slower_while(layer_id: str) -> PressWish:
    """Returns the wish for slower looking while a slot is held, besides the slot's actions."""

    def edit_of(slot: str) -> Edit:
        slower = Action.of(ChangePace(_FINE))
        return lambda now: slot_edits.add_action(now, layer_id, slot, Reaction.PRESS, slower)

    says = tr("Look speed × {fine:g} while the control that you press next is held", fine=_FINE)
    return PressWish(tr("Slower while … is held"), says, edit_of)


def _motion_wishes(feel: MotionFeel) -> Iterator[tuple[str, dict[_Path, float]]]:
    """Yields wishes about turning the pad."""
    if feel.gate_dps < 3.0:
        calmer: dict[_Path, float] = {("gate_dps",): feel.gate_dps + 0.3, ("smooth_ms",): min(feel.smooth_ms + 20, 500)}
        yield tr("Less shake when pressing buttons"), calmer
    if feel.gate_dps > 0.02:
        yield tr("Slow turns must not be lost"), {("gate_dps",): feel.gate_dps / 2}
    yield tr("Turn further"), {("ratio",): min(feel.ratio * 1.15, 50.0)}
    yield tr("Turn less far"), {("ratio",): max(feel.ratio / 1.15, 0.05)}
    if feel.fast_ratio is None and feel.ratio < 30.0:
        yield tr("Quick turns carry further"), {("fast_ratio",): feel.ratio * 1.5}
    if feel.vertical_ratio != 1.0:
        yield tr("Up and down as across"), {("vertical_ratio",): 1.0}


def _stage_wishes(profile: Profile, layer_id: str, control: str) -> Iterator[Wish]:
    """Yields wishes about the thresholds of a trigger or sensor."""
    lines = [line for line in stage_lines(profile, layer_id, control) if line.path[1] == "on"]
    first = [line for line in lines if not line.path[0].endswith("deep")]
    for text, step in ((tr("Trigger reacts sooner"), -0.05), (tr("Fewer presses by accident"), 0.05)):
        moved = {line: line.held(line.value + step) for line in first}
        moved = {line: value for line, value in moved.items() if value != line.value}
        if not moved:
            continue

        def edit(now: Profile, moved: dict[StageLine, float] = moved) -> Profile:
            for line, value in moved.items():
                now = move_line(now, layer_id, control, line, value)
            return now

        says = ", ".join(
            f"{line.label} {number_text(line.value)} → {number_text(value)}" for line, value in moved.items()
        )
        yield Wish(text, says, edit)


def _both_sticks(profile: Profile, layer_id: str, control: str) -> Iterator[Wish]:
    if control not in STICKS:
        return
    (other,) = (stick for stick in STICKS if stick != control)
    here, there = (shown_feel(profile, layer_id, stick) for stick in (control, other))
    if here != there:

        def copied(now: Profile) -> Profile:
            found = feel_edits.settings(now, layer_id, control)
            return feel_edits.copy_settings(now, layer_id, other, found)

        yield Wish(tr("The same on the other stick"), tr("All its numbers"), copied)

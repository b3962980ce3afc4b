"""What differs between two profiles, in words."""

from __future__ import annotations

from msgspec.structs import fields

from nub_shift.model.controls import slot_label
from nub_shift.model.feel import Feel
from nub_shift.model.profile import Layer, Profile
from nub_shift.ui.edits import assignment_label


def differences(one: Profile, other: Profile) -> list[tuple[str, list[str]]]:
    """Headings with lines `what: in one → in other`; empty if they do the same."""
    found: list[tuple[str, list[str]]] = []
    if one.title != other.title:
        found.append(("Title", [f"{one.title} → {other.title}"]))
    found.append(("Moves", _moves(one, other)))
    ids = dict.fromkeys([*(layer.id for layer in one.layers), *(layer.id for layer in other.layers)])
    for layer_id in ids:
        here, there = one.layer(layer_id), other.layer(layer_id)
        label = (here or there or one.layers[0]).label
        if here is None or there is None:
            found.append((f"Layer {label}", ["not there → there" if here is None else "there → not there"]))
        else:
            found.append((f"Layer {label}", layer_differences(one, here, other, there)))
    for name in ("sequences", "carousels", "rings"):
        mine, theirs = ({part.id: part for part in getattr(side, name)} for side in (one, other))
        lines = [
            f"{(mine.get(part) or theirs[part]).label}: {_came(part in mine, part in theirs)}"
            for part in dict.fromkeys([*mine, *theirs])
            if mine.get(part) != theirs.get(part)
        ]
        found.append((name.capitalize(), lines))
    found.append(("Feel", _feel(one.feel, other.feel)))
    if one.game != other.game:
        found.append(("Game", ["counts a turn or shortest key-down time"]))
    return [(head, lines) for head, lines in found if lines]


def layer_differences(one: Profile, here: Layer, other: Profile, there: Layer) -> list[str]:
    """What two layers do differently, slot by slot; they may be of one profile."""
    lines = []
    for slot in dict.fromkeys([*here.slots, *there.slots]):
        mine, theirs = here.slots.get(slot), there.slots.get(slot)
        if mine != theirs:
            lines.append(f"{slot_label(slot)}: {assignment_label(one, mine)} → {assignment_label(other, theirs)}")
    for name in ("label", "based_on", "pace", "together", "feel"):
        if name != "label" and getattr(here, name) != getattr(there, name):
            lines.append(f"{name.replace('_', ' ').capitalize()} differs")
    return lines


def _moves(one: Profile, other: Profile) -> list[str]:
    mine, theirs = ({move.id: move for move in side.moves} for side in (one, other))
    lines = []
    for move_id in dict.fromkeys([*mine, *theirs]):
        here, there = mine.get(move_id), theirs.get(move_id)
        if here is None or there is None:
            label = (here or there or one.moves[0]).label
            lines.append(f"{label}: {_came(here is not None, there is not None)}")
        elif (here.keys, here.wheel, here.label) != (there.keys, there.wheel, there.label):
            lines.append(f"{here.label}: another key or name")
    return lines


def _came(before: bool, after: bool) -> str:
    if before and after:
        return "differs"
    return "not there → there" if after else "there → not there"


def _feel(one: Feel, other: Feel) -> list[str]:
    lines = []
    for control in fields(one):
        mine, theirs = getattr(one, control.name), getattr(other, control.name)
        for setting in fields(mine):
            values = getattr(mine, setting.name), getattr(theirs, setting.name)
            if values[0] != values[1]:
                name = f"{control.name} {setting.name}".replace("_", " ").capitalize()
                plain = all(isinstance(value, int | float | str) for value in values)
                lines.append(f"{name}: {values[0]} → {values[1]}" if plain else f"{name} differs")
    return lines

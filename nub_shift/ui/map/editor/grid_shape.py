"""Rows and columns of the grid of an opened control."""

from __future__ import annotations

from nub_shift.model.controls import CONTROL_BY_NAME, DIAGONALS
from nub_shift.model.profile.profile import Profile
from nub_shift.model.slot_names import slot_name

# Further layers are shown in the table of all layers.
MAX_COLUMNS = 4


def shown_slots(profile: Profile, control: str) -> list[str]:
    """Returns the slots of a control with a row: a stick's diagonals only if one of them is assigned."""
    slots = CONTROL_BY_NAME[control].slots
    diagonals = {slot_name(control, diagonal) for diagonal in DIAGONALS}
    used = any(not diagonals.isdisjoint(layer.slots) for layer in profile.layers)
    return [slot for slot in slots if used or slot not in diagonals]


def columns(profile: Profile, layer_id: str) -> list[str]:
    """Returns the layers shown side by side: all if few, else the base and those around the shown one."""
    ids = [layer.id for layer in profile.layers]
    if len(ids) <= MAX_COLUMNS:
        return ids
    at = ids.index(layer_id)
    first = min(max(at - 1, 1), len(ids) - MAX_COLUMNS + 1)
    return [ids[0], *ids[first : first + MAX_COLUMNS - 1]]

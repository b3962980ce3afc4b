"""Free places for assignments on controls that a pad lacks."""

from __future__ import annotations

from collections.abc import Collection, Iterator, Mapping, Sequence
from dataclasses import dataclass
from functools import partial

from msgspec.structs import replace

from nub_shift.model.controls import (
    CONTROL_BY_NAME,
    CONTROL_OF_SLOT,
    CONTROLS,
    DIGITAL,
    MOTION_SLOT,
    PARTS_OF_WHOLE,
    STICK_SLOTS,
    Control,
    Kind,
    slot_label,
)
from nub_shift.model.profile.profile import Profile
from nub_shift.model.slot_names import SlotName

_STICKY = (Kind.STICK, Kind.SURFACE, Kind.PAD_CROSS)


@dataclass(frozen=True)
class Place:
    """A place for displaced slots.

    Attributes:
        label: description in words.
        slots: new slot for each displaced one.
    """

    label: str
    slots: dict[str, str]


@dataclass(frozen=True)
class Displaced:
    """Assigned slots on a control that the pad lacks.

    Attributes:
        label: name of the control or slot.
        slots: slots that must stay together, in their order.
        places: possible places, the closest first: same kind, then same finger.
        uses: number of layers that use them.
    """

    label: str
    slots: tuple[str, ...]
    places: tuple[Place, ...]
    uses: int


def find_displaced(profile: Profile, controls: Collection[str]) -> list[Displaced]:
    """Returns all assignments on controls that the pad lacks.

    The assignments of one control move together to an unused control of its kind. Without one, each slot that can be
    pressed moves by itself.
    """
    used = {slot for layer in profile.layers for slot in layer.used_slots}
    presses = _press_places(controls, used)
    found = []
    for control in CONTROLS:
        mine = tuple(slot for slot in control.slots if slot in used)
        if not mine or control.name in controls:
            continue
        together = tuple(_alike_places(control, mine, controls, used))
        if together and len(mine) > 1:
            found.append(Displaced(control.label, mine, together, _uses(profile, mine)))
            continue
        near = sorted(presses, key=partial(_distance, control))
        for slot in mine:
            free = [Place(slot_label(place), {slot: place}) for place in near] if _can_be_pressed(slot) else []
            alike = [place for place in _alike_places(control, (slot,), controls, used) if place not in free]
            found.append(Displaced(slot_label(slot), (slot,), (*free, *alike), _uses(profile, (slot,))))
    return found


def suggest_places(found: Sequence[Displaced]) -> list[Place | None]:
    """Returns a different place for each, or None if none is left. The most used slots choose first."""
    taken: set[str] = set()
    offers: list[Place | None] = [None] * len(found)
    for at, one in sorted(enumerate(found), key=lambda numbered: -numbered[1].uses):
        place = next((place for place in one.places if taken.isdisjoint(place.slots.values())), None)
        taken |= set(place.slots.values()) if place is not None else set()
        offers[at] = place
    return offers


def relocate(profile: Profile, slots: Mapping[str, str]) -> Profile:
    """Returns the profile with slots replaced in all layers."""
    layers = tuple(
        replace(
            layer,
            slots={slots.get(slot, slot): assignment for slot, assignment in layer.slots.items()},
            together=tuple(
                replace(pair, slots=tuple(slots.get(slot, slot) for slot in pair.slots)) for pair in layer.together
            ),
        )
        for layer in profile.layers
    )
    return replace(profile, layers=layers)


def _uses(profile: Profile, slots: Sequence[str]) -> int:
    return max(sum(slot in layer.used_slots for layer in profile.layers) for slot in slots)


def _distance(source: Control, place: str) -> tuple[bool, bool]:
    """Returns a sort key for the distance of a slot from a control: another kind, then another finger."""
    target = CONTROL_OF_SLOT[place]
    return target.kind is not source.kind, target.finger is not source.finger


def _alike_places(
    source: Control, mine: Sequence[str], controls: Collection[str], used: Collection[str]
) -> Iterator[Place]:
    """Yields controls of the same kind with all required slots free."""
    for target in CONTROLS:
        if target.name not in controls or not _alike(source, target):
            continue
        moved = {slot: SlotName.parse(slot)._replace(control=target.name).text for slot in mine}
        if all(slot in target.slots and _is_free(slot, used) for slot in moved.values()):
            yield Place(slot_label(next(iter(moved.values()))) if len(moved) == 1 else target.label, moved)


def _press_places(controls: Collection[str], used: Collection[str]) -> list[str]:
    """Returns free slots that are pressed like a button."""
    names = (CONTROL_BY_NAME[name] for name in (control.name for control in CONTROLS) if name in controls)
    return [slot for control in names for slot in control.slots if _is_free(slot, used) and _is_press(slot)]


def _is_free(slot: str, used: Collection[str]) -> bool:
    """Returns whether no layer assigns the slot, nor a whole or part that would hide it or be hidden."""
    hidden = any(slot in parts and whole in used for whole, parts in PARTS_OF_WHOLE.items())
    return slot not in used and not hidden and not any(part in used for part in PARTS_OF_WHOLE.get(slot, ()))


def _is_press(slot: str) -> bool:
    part = SlotName.parse(slot).part
    return (slot in DIGITAL and part != "touch") or part in ("light", "low", "high")


def _can_be_pressed(slot: str) -> bool:
    """Returns whether an assignment of the slot can move to a button: all but those that follow a position."""
    return slot not in STICK_SLOTS and slot != MOTION_SLOT


def _alike(one: Control, other: Control) -> bool:
    return one.kind is other.kind or (one.kind in _STICKY and other.kind in _STICKY)

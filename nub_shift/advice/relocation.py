"""Free controls for what a profile has on a control that a pad lacks."""

from __future__ import annotations

from collections.abc import Collection
from dataclasses import dataclass

from msgspec.structs import replace

from nub_shift.model.controls import CONTROL_BY_NAME, CONTROLS, DIGITAL, Control, Kind, slot_label
from nub_shift.model.profile import Profile
from nub_shift.model.slot_names import SlotName

_STICKY = (Kind.STICK, Kind.SURFACE, Kind.PAD_CROSS)


@dataclass(frozen=True)
class Destination:
    """Where something could go.

    Attributes:
        label: in words.
        slots: for each slot that is used now, the one in its stead.
    """

    label: str
    slots: dict[str, str]


def used_slots(profile: Profile, control: str) -> list[str]:
    """The slots of a control that any layer uses, in their own order."""
    used = {slot for layer in profile.layers for slot in layer.used_slots}
    return [slot for slot in CONTROL_BY_NAME[control].slots if slot in used]


def destinations_for(profile: Profile, control: str, controls: Collection[str]) -> list[Destination]:
    """Where all that a profile has on a control could go among a pad's `controls`: slots that no layer uses."""
    used = used_slots(profile, control)
    taken = {slot for layer in profile.layers for slot in layer.used_slots}
    source = CONTROL_BY_NAME[control]
    found = []
    for target in CONTROLS:
        if target.name not in controls or target is source:
            continue
        if len(used) == 1 and _is_press(used[0]):
            found += [
                Destination(slot_label(slot), {used[0]: slot})
                for slot in target.slots
                if slot not in taken and _is_press(slot)
            ]
        elif _alike(source, target):
            moved = {slot: SlotName.parse(slot)._replace(control=target.name).text for slot in used}
            if all(slot in target.slots and slot not in taken for slot in moved.values()):
                found.append(Destination(target.label, moved))
    return found


def relocated(profile: Profile, destination: Destination) -> Profile:
    """The profile with everything of one control on another, in all layers."""
    layers = tuple(
        replace(
            layer,
            slots={destination.slots.get(slot, slot): assignment for slot, assignment in layer.slots.items()},
            together=tuple(
                replace(pair, slots=tuple(destination.slots.get(slot, slot) for slot in pair.slots))
                for pair in layer.together
            ),
        )
        for layer in profile.layers
    )
    return replace(profile, layers=layers)


def _is_press(slot: str) -> bool:
    """Whether a finger presses it as one presses a button."""
    part = SlotName.parse(slot).part
    return (slot in DIGITAL and part != "touch") or part == "light"


def _alike(one: Control, other: Control) -> bool:
    return one.kind is other.kind or (one.kind in _STICKY and other.kind in _STICKY)

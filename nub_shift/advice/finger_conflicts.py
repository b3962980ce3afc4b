"""Fingers of controls by grip, and moves that no hand can do at the same time."""

from __future__ import annotations

from collections.abc import Iterator
from itertools import product

from nub_shift.advice.layer_activation import layer_activations
from nub_shift.advice.move_coverage import move_coverage
from nub_shift.model.controls import CONTROL_OF_SLOT, FACE_BUTTONS, Control, Finger, Fingers, Kind
from nub_shift.model.profile.game import Grip
from nub_shift.model.profile.profile import BASE_LAYER, Layer, Profile

# Hand parts without another duty; controls in the middle are worked by either thumb.
_FREE = (Finger.PALMS, Finger.WRISTS, Finger.OTHER, Finger.MIDDLE)


def finger_of(control: Control, grip: Grip, fingers: Fingers) -> str:
    """Returns the worker of a control: equal texts for two controls that cannot be worked at the same time."""
    finger = fingers.get(control.name)
    if finger is not None:
        return control.name if finger in _FREE else finger.value
    if control.finger in _FREE:
        return control.name
    side = control.finger.value.split("_")[0]
    if control.kind is Kind.TRIGGER and grip is Grip.INDEX_AND_MIDDLE:
        return f"{side}_middle"
    if grip is Grip.INDEX_ON_FACE:
        if control.name in FACE_BUTTONS:
            return Finger.RIGHT_INDEX.value
        if control.finger is Finger.RIGHT_INDEX:
            return f"{side}_middle"
    return control.finger.value


def finger_conflicts(profile: Profile, fingers: Fingers) -> Iterator[tuple[str, str, str, str]]:
    """Yields moves that belong together but cannot be done at the same time: both ids, a layer and a slot.

    Such moves are possible if some layer has both under different fingers that do not hold this layer.
    """
    covered = move_coverage(profile)
    for move in profile.moves:
        for other in move.together:
            mirrored = any(found.id == other and move.id in found.together for found in profile.moves)
            if mirrored and other < move.id:
                continue  # reported for the other move
            here, there = covered.get(move.id, []), covered.get(other, [])
            if here and there and not any(_fit(profile, fingers, layer, here, there) for layer in profile.layers):
                yield move.id, other, *there[0]


def _fit(
    profile: Profile, fingers: Fingers, layer: Layer, here: list[tuple[str, str]], there: list[tuple[str, str]]
) -> bool:
    """Returns whether a layer has both moves under different fingers."""
    shown = _shown(profile, layer)
    slots = [[slot for found, slot in pairs if shown.get(slot) == found] for pairs in (here, there)]
    grip = profile.game.grip
    activations = [way.slots if way.held else () for way in layer_activations(profile) if way.layer == layer.id]
    for (one, other), holding in product(
        product(*slots), activations if activations and layer.id != BASE_LAYER else [()]
    ):
        controls = [CONTROL_OF_SLOT[slot] for slot in (one, other, *holding)]
        if one != other and len({finger_of(control, grip, fingers) for control in controls}) == len(controls):
            return True
        if one != other and controls[0] is controls[1] and controls[0].kind in (Kind.STICK, Kind.PAD_CROSS):
            return True  # a thumb rolls between two directions, or clicks the stick that it tilts
    return False


def _shown(profile: Profile, layer: Layer) -> dict[str, str]:
    """Returns the source layer of each slot while a layer is active."""
    found: dict[str, str] = {}
    for part in (*reversed(profile.bases(layer)), profile.layers[0]):
        for slot in part.used_slots:
            found.setdefault(slot, part.id)
    return found

"""Use of a control with a feel in a layer, as far as it depends on the feel."""

from __future__ import annotations

from dataclasses import dataclass

from nub_shift.editing.edits.feel import layer_feel
from nub_shift.editing.feel.stage_lines import STAGE_LABELS
from nub_shift.editing.feel.two_feels import use_of
from nub_shift.model.controls import CONTROL_BY_NAME, MOTION_SLOT, STICK_SLOTS, WAYS, Kind
from nub_shift.model.profile.effects import PointerPosition, PointerSpeed, Turn
from nub_shift.model.profile.feel import SliderFeel, Stage, TriggerFeel
from nub_shift.model.profile.profile import Profile
from nub_shift.model.references.assignments import shown_assignment
from nub_shift.model.slot_names import slot_name


@dataclass(frozen=True)
class LookUse:
    """A stick moves the pointer, in counts a second at full deflection."""

    across: float
    down: float


@dataclass(frozen=True)
class WalkUse:
    """A stick presses its directions."""


@dataclass(frozen=True)
class PullUse:
    """A trigger or sensor presses stages.

    Attributes:
        stages: labels, thresholds, and side of rest.
        ease: `ease` of quick mode, or None.
    """

    stages: tuple[tuple[str, Stage, int], ...]
    ease: float | None


@dataclass(frozen=True)
class TurningUse:
    """Turning the pad turns the view."""


FeelUse = LookUse | WalkUse | PullUse | TurningUse


def doing(profile: Profile, layer_id: str, control: str) -> FeelUse | None:
    """Returns the use of a control; None where no figure depends on its feel."""
    if control in STICK_SLOTS:
        match use_of(profile, layer_id, control):
            case PointerSpeed(x=x, y=y):
                return LookUse(x, y)
            case PointerPosition():
                return None
        used = (slot_name(control, way) for way in WAYS)
        return WalkUse() if any(shown_assignment(profile, layer_id, slot) is not None for slot in used) else None
    if control == MOTION_SLOT:
        return TurningUse() if isinstance(use_of(profile, layer_id, control), Turn) else None
    if CONTROL_BY_NAME[control].kind not in (Kind.TRIGGER, Kind.SLIDER):
        return None
    feel: TriggerFeel | SliderFeel = getattr(layer_feel(profile, layer_id), control)
    stages = tuple(
        (label, getattr(feel, name), -1 if name.startswith("low") else 1)
        for name, label in STAGE_LABELS.items()
        if hasattr(feel, name) and shown_assignment(profile, layer_id, slot_name(control, name)) is not None
    )
    quick = isinstance(feel, TriggerFeel) and feel.quick
    return PullUse(stages, feel.ease if quick and isinstance(feel, TriggerFeel) else None) if stages else None

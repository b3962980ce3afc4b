"""Stages of a control's signal from the pad to the game, each with the profile without it."""

from __future__ import annotations

from collections.abc import Mapping, Sequence
from dataclasses import dataclass
from typing import Final

from nub_shift.editing.edits import feel as feel_edits
from nub_shift.editing.edits.feel import Setting
from nub_shift.model.profile.feel import Feel, MotionFeel, SliderFeel, StickFeel, TriggerFeel
from nub_shift.model.profile.profile import BASE_LAYER, Profile
from nub_shift.translation import tr

_Path = tuple[str, ...]

# In the order of processing, with the neutral value of each setting.
_OF_STICK: Final[dict[str, dict[_Path, str]]] = {
    tr("Rotation"): {("rotation_degrees",): "0"},
    tr("Inversion"): {("invert_x",): "no", ("invert_y",): "no"},
    tr("Square-off"): {("square_off",): "0"},
    tr("Smoothing"): {("smoothing",): "none"},
    tr("Dead zone"): {("dead_zone",): "0", ("axial_dead_zone",): "0"},
    tr("Edge zone"): {("edge_zone",): "0"},
    tr("Curve"): {("power",): "1", ("points",): "[]"},
    tr("Anti-dead zone"): {("anti_dead_zone",): "0"},
    tr("Across alone"): {("x",): "none"},
    tr("Up and down alone"): {("y",): "none"},
    tr("Speeding up"): {("ramp",): "none"},
}
_OF_TRIGGER: Final[dict[str, dict[_Path, str]]] = {tr("Quick"): {("quick",): "no"}}
_OF_MOTION: Final[dict[str, dict[_Path, str]]] = {
    tr("Stillness"): {("gate_dps",): "0"},
    tr("Smoothing"): {("smooth_ms",): "0"},
    tr("Faster on quick turns"): {("fast_ratio",): "none"},
}


@dataclass(frozen=True)
class SignalStage:
    """One stage of the shaping.

    Attributes:
        label: name.
        neutral: settings without effect.
    """

    label: str
    neutral: Mapping[_Path, str]

    def without(self, profile: Profile, layer_id: str, control: str) -> Profile:
        """Returns the profile without the effect of this stage."""
        for path, text in self.neutral.items():
            profile = feel_edits.set_setting(profile, layer_id, control, path, text)
        return profile


def signal_way(profile: Profile, layer_id: str, control: str, now: Sequence[Setting]) -> list[SignalStage]:
    """Returns the effective stages that shape a control while a layer is active, in order.

    Args:
        now: all settings of the control in that layer.
    """
    feel = getattr(Feel(), control)
    match feel:
        case StickFeel():
            stages = _OF_STICK
        case TriggerFeel():
            stages = _OF_TRIGGER
        case SliderFeel():
            return []
        case MotionFeel():
            stages = _OF_MOTION
        case _:
            raise TypeError(feel)
    texts = {setting.path: setting.text for setting in now}
    found = [SignalStage(label, neutral) for label, neutral in stages.items()]
    return [
        stage
        for stage in found
        if any(texts.get(path, text) != text for path, text in stage.neutral.items())
        and _can_be_without(stage, profile, layer_id, control)
    ]


def _can_be_without(stage: SignalStage, profile: Profile, layer_id: str, control: str) -> bool:
    """Returns whether the stage can be removed; a layer cannot set None over a value of the profile."""
    if layer_id == BASE_LAYER or "none" not in stage.neutral.values():
        return True
    before, without = profile, stage.without(profile, layer_id, control)
    return feel_edits.layer_feel(before, layer_id) != feel_edits.layer_feel(without, layer_id)

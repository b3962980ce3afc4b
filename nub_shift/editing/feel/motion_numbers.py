"""Draggable numbers of motion's feel, and a sentence about the controls that switch motion."""

from __future__ import annotations

from dataclasses import dataclass

from nub_shift.editing.edits import feel as feel_edits
from nub_shift.editing.feel.two_feels import use_of
from nub_shift.model.controls import MOTION_SLOT, slot_label
from nub_shift.model.profile.actions import Manner
from nub_shift.model.profile.effects import MotionSwitch, SwitchMotion, Turn
from nub_shift.model.profile.feel import MotionFeel
from nub_shift.model.profile.profile import Profile
from nub_shift.model.references.walk import PairOrigin, SlotOrigin, layer_actions
from nub_shift.translation import beginning, inside, tr

LEAST_SPAN_DPS = 1.0
# Labels of the numbers.
STILL = tr("Counts as still below")
SMOOTHED = tr("Smoothed below")
SLOW_TURNS = tr("Slow turns")
FAST_TURNS = tr("Fast turns")
SLOW_UP_TO = tr("Slow up to")
FAST_FROM = tr("Fast from")
UP_AND_DOWN = tr("Up and down")
TILT_BEGINS = tr("Tilt begins")


@dataclass(frozen=True)
class MotionNumber:
    """One draggable number.

    Attributes:
        path: path in the feel of motion.
        label: name.
        value: present value.
        low, high: limits.
        step: change by an arrow key.
        unit: unit after the number.
    """

    path: tuple[str, ...]
    label: str
    value: float
    low: float
    high: float
    step: float
    unit: str = ""

    def held(self, value: float) -> float:
        """Returns a number within the limits, rounded."""
        return round(min(max(value, self.low), self.high), 0 if self.step >= 1 else 2)


def motion_feel(profile: Profile, layer_id: str) -> MotionFeel:
    """Returns the feel of motion while a layer is active."""
    return feel_edits.layer_feel(profile, layer_id).motion


def motion_numbers(feel: MotionFeel) -> tuple[MotionNumber, ...]:
    """Returns the draggable numbers."""
    fast = feel.fast_ratio if feel.fast_ratio is not None else feel.ratio
    slowest_fast = feel.slow_dps + LEAST_SPAN_DPS
    return (
        MotionNumber(("gate_dps",), STILL, feel.gate_dps, 0.0, 10.0, 0.05, "°/s"),
        MotionNumber(("smooth_below_dps",), SMOOTHED, feel.smooth_below_dps, 0.0, 100.0, 0.5, "°/s"),
        MotionNumber(("ratio",), SLOW_TURNS, feel.ratio, 0.05, 20.0, 0.05, tr(" × the hand")),
        MotionNumber(("fast_ratio",), FAST_TURNS, fast, 0.05, 20.0, 0.05, tr(" × the hand")),
        MotionNumber(("slow_dps",), SLOW_UP_TO, feel.slow_dps, 0.0, feel.fast_dps - LEAST_SPAN_DPS, 1.0, "°/s"),
        MotionNumber(("fast_dps",), FAST_FROM, feel.fast_dps, slowest_fast, 500.0, 1.0, "°/s"),
        MotionNumber(("vertical_ratio",), UP_AND_DOWN, feel.vertical_ratio, 0.0, 3.0, 0.05, tr(" × across")),
        MotionNumber(("tilt", "on_degrees"), TILT_BEGINS, feel.tilt.on_degrees, 4.0, 80.0, 1.0, "°"),
    )


def set_number(profile: Profile, layer_id: str, number: MotionNumber, value: float) -> Profile:
    """Returns the profile with another value for a number; the end threshold of a tilt keeps its distance."""
    before = motion_feel(profile, layer_id).tilt
    made = feel_edits.set_setting(profile, layer_id, MOTION_SLOT, number.path, f"{number.held(value):g}")
    if number.path == ("tilt", "on_degrees"):
        off = max(1.0, number.held(value) - (before.on_degrees - before.off_degrees))
        made = feel_edits.set_setting(made, layer_id, MOTION_SLOT, ("tilt", "off_degrees"), f"{off:g}")
    return made


def motion_sentence(profile: Profile, layer_id: str) -> str:
    """Returns when turning the pad turns the view, and the controls that switch that."""
    use = use_of(profile, layer_id, MOTION_SLOT)
    if not isinstance(use, Turn):
        return tr("Turning the pad does not turn the view in this layer. Open the gyro in Map to change that.")
    by_switch: dict[MotionSwitch, list[str]] = {}
    for layer in profile.layers:
        for origin, action in layer_actions(layer):
            if isinstance(action.effect, SwitchMotion) and isinstance(origin, SlotOrigin | PairOrigin):
                slots = (origin.slot,) if isinstance(origin, SlotOrigin) else origin.slots
                pressed = tr(" with ").join(inside(slot_label(slot)) for slot in slots)
                if action.effect.switch is not MotionSwitch.RECENTRE:
                    pressed = (
                        tr("{pressed} is held", pressed=pressed)
                        if action.manner is Manner.HELD
                        else tr("{pressed} has switched it on", pressed=pressed)
                    )
                by_switch.setdefault(action.effect.switch, []).append(pressed)
    on, off, centre = (tr(" or ").join(dict.fromkeys(by_switch.get(switch, ()))) for switch in MotionSwitch)
    if use.on:
        first = tr("Turning the pad turns the view") + (tr(", but not while {off}", off=off) if off else tr(", always"))
    elif on:
        first = tr("Turning the pad turns the view while {on}", on=on) + (
            tr(", but not while {off}", off=off) if off else ""
        )
    else:
        first = tr("Turning the pad turns the view once it is switched on, and nothing switches it on yet")
    return tr("{first}. {centre} recentres it.", first=first, centre=beginning(centre)) if centre else f"{first}."

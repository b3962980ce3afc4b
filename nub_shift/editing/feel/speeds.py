"""Scaling of all looking speeds of a profile."""

from __future__ import annotations

from typing import Final

from msgspec.structs import replace

from nub_shift.editing.feel.look_speed import FASTEST, set_speed, speed
from nub_shift.model.controls import STICK_SLOTS
from nub_shift.model.profile.profile import Profile

# Limits of `MotionFeel.ratio` in the format.
_RATIOS: Final = (0.05, 50.0)


def has_looking(profile: Profile) -> bool:
    """Returns whether any stick or surface looks around."""
    return any(speed(profile, layer.id, control) is not None for layer in profile.layers for control in STICK_SLOTS)


def scale_look(profile: Profile, factor: float) -> Profile:
    """Returns the profile with the looking speed of sticks and surfaces scaled, in all layers."""
    for layer in profile.layers:
        for control in sorted(STICK_SLOTS):
            now = speed(profile, layer.id, control) if control in layer.slots else None
            if now is not None:
                across, down = (min(round(abs(counts) * factor), FASTEST) for counts in (now.x, now.y))
                profile = set_speed(profile, layer.id, control, across, down)
    return profile


def scale_gyro(profile: Profile, factor: float) -> Profile:
    """Returns the profile with the ratio of turning the pad scaled."""
    motion = profile.feel.motion
    low, high = _RATIOS
    ratio = min(max(round(motion.ratio * factor, 3), low), high)
    fast = None if motion.fast_ratio is None else min(max(round(motion.fast_ratio * factor, 3), low), high)
    return replace(profile, feel=replace(profile.feel, motion=replace(motion, ratio=ratio, fast_ratio=fast)))

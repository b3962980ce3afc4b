"""Edits of a profile's activation rules."""

from __future__ import annotations

from msgspec.structs import replace

from nub_shift.model.profile.activation import Leaving, Rule
from nub_shift.model.profile.profile import Profile


def add_rule(profile: Profile, rule: Rule) -> Profile:
    """Returns the profile with a rule added, unless present."""
    if rule in profile.comes_on.rules:
        return profile
    return replace(profile, comes_on=replace(profile.comes_on, rules=(*profile.comes_on.rules, rule)))


def remove_rule(profile: Profile, rule: Rule) -> Profile:
    """Returns the profile without a rule."""
    rules = tuple(other for other in profile.comes_on.rules if other != rule)
    return replace(profile, comes_on=replace(profile.comes_on, rules=rules))


def set_leaving(profile: Profile, when_left: Leaving, other: str = "") -> Profile:
    """Returns the profile with the action at leaving its game; `other` is the title of the profile to change to."""
    return replace(profile, comes_on=replace(profile.comes_on, when_left=when_left, other=other))

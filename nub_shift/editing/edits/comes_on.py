"""Changes of when a profile comes on by itself."""

from __future__ import annotations

from msgspec.structs import replace

from nub_shift.model.profile.comes_on import Leaving, Rule
from nub_shift.model.profile.profile import Profile


def with_rule(profile: Profile, rule: Rule) -> Profile:
    """The profile with one rule more; one that it has already changes nothing."""
    if rule in profile.comes_on.rules:
        return profile
    return replace(profile, comes_on=replace(profile.comes_on, rules=(*profile.comes_on.rules, rule)))


def without_rule(profile: Profile, rule: Rule) -> Profile:
    """The profile without a rule."""
    rules = tuple(other for other in profile.comes_on.rules if other != rule)
    return replace(profile, comes_on=replace(profile.comes_on, rules=rules))


def left_so(profile: Profile, when_left: Leaving, other: str = "") -> Profile:
    """The profile with what happens as its game is left; `other` is the title of the profile to go to."""
    return replace(profile, comes_on=replace(profile.comes_on, when_left=when_left, other=other))

"""Checks of the rules that activate a profile: each rule has to mean some windows, and not all of them."""

from __future__ import annotations

from collections.abc import Iterator

from nub_shift.model.problems import Problem
from nub_shift.model.profile.activation import ActivationRules, Leaving
from nub_shift.translation import tr

_RIGHT = tr("give one of window, title, program, path, argument")


def comes_on_problems(comes_on: ActivationRules) -> Iterator[Problem]:
    """Yields the faults of a rule."""
    for number, rule in enumerate(comes_on.rules):
        path = f"comes_on.rules[{number}]"
        if not rule.patterns:
            yield Problem(path, tr("says nothing of a window"), _RIGHT)
        elif not any(pattern.replace("*", "").strip() for pattern in rule.patterns):
            yield Problem(path, tr("means every window"), tr("{right} with more than *", right=_RIGHT))
    if comes_on.when_left is Leaving.OTHER and not comes_on.other.strip():
        yield Problem("comes_on.other", tr("is missing"), tr("give the title of the profile to go to"))
    if comes_on.when_left is not Leaving.OTHER and comes_on.other:
        yield Problem("comes_on.other", tr("is used for nothing"), tr('leave it out, or say when_left = "other"'))

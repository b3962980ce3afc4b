"""Activation rules of a profile, in words."""

from __future__ import annotations

from typing import assert_never

from nub_shift.model.profile.activation import ActivationRules, Leaving, Rule
from nub_shift.translation import beginning, tr

# Conditions of a rule, by field.
FIELD_WORDS = {
    "window": tr("window"),
    "title": tr("title"),
    "program": tr("program"),
    "path": tr("path"),
    "argument": tr("started with"),
}


def rule_words(rule: Rule) -> str:
    """Returns the conditions of a rule: "window tidefold, title Tidefold*"."""
    said = ((words, getattr(rule, field)) for field, words in FIELD_WORDS.items())
    words = ", ".join(f"{name} {pattern}" for name, pattern in said if pattern)
    return tr("{words} (player {player})", words=words, player=rule.player) if rule.player else words


def rule_line(rule: Rule) -> str:
    """Returns the conditions of a rule as a line of its own."""
    return beginning(rule_words(rule))


def leaving_words(comes_on: ActivationRules) -> str:
    """Returns in words the action once another window comes to the front."""
    match comes_on.when_left:
        case Leaving.PAUSE:
            return tr("In other windows: pauses")
        case Leaving.STAY:
            return tr("In other windows: plays on")
        case Leaving.BACK:
            return tr("In other windows: goes back to the profile chosen by hand")
        case Leaving.OTHER:
            return tr("In other windows: goes to {other}", other=comes_on.other)
        case _:
            assert_never(comes_on.when_left)

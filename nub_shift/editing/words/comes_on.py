"""When a profile comes on by itself, in words."""

from __future__ import annotations

from typing import assert_never

from nub_shift.model.comes_on import ComesOn, Leaving, Rule

# What a rule can say, by its field.
FIELD_WORDS = {
    "window": "window",
    "title": "title",
    "program": "program",
    "path": "path",
    "argument": "started with",
}


def rule_words(rule: Rule) -> str:
    """What a rule asks for: "window tidefold, title Tidefold*"."""
    said = ((words, getattr(rule, field)) for field, words in FIELD_WORDS.items())
    words = ", ".join(f"{name} {pattern}" for name, pattern in said if pattern)
    return f"{words} (player {rule.player})" if rule.player else words


def rule_line(rule: Rule) -> str:
    """The same as a line of its own."""
    words = rule_words(rule)
    return f"{words[0].upper()}{words[1:]}"


def leaving_words(comes_on: ComesOn) -> str:
    """What happens as another window comes to the front."""
    match comes_on.when_left:
        case Leaving.PAUSE:
            return "In other windows: pauses"
        case Leaving.STAY:
            return "In other windows: plays on"
        case Leaving.BACK:
            return "In other windows: goes back to the profile chosen by hand"
        case Leaving.OTHER:
            return f"In other windows: goes to {comes_on.other}"
        case _:
            assert_never(comes_on.when_left)

"""Possible conditions of a rule for a window chosen by a person, with defaults."""

from __future__ import annotations

from collections.abc import Collection, Iterable
from dataclasses import dataclass
from pathlib import PureWindowsPath
from typing import Final

from nub_shift.model.profile.activation import MAX_PATTERN, Front, Rule, fits

# Suffixes of programs started by a loader.
_GAMES: Final = (".exe", ".x86_64", ".x86", ".sh", ".jar", ".swf", ".rom")
# Folders differ from machine to machine; only the name at the end of an argument is used.
_SEPARATORS: Final = ("\\", "/")


@dataclass(frozen=True)
class RulePart:
    """One possible condition.

    Attributes:
        field: field of `Rule`.
        usual: whether it is chosen by default.
    """

    field: str
    pattern: str
    usual: bool


def parts_of(front: Front) -> list[RulePart]:
    """Returns the possible conditions for a window, in the order of `Rule`.

    A game started by a loader is recognised by its argument; any other by the class of its window, which the title and
    the program's name would only narrow.
    """
    started = next((word for word in front.arguments if word.casefold().endswith(_GAMES)), "")
    name = PureWindowsPath(started).name
    within = any(separator in started for separator in _SEPARATORS)
    said = (
        ("window", front.names[0] if front.names else "", not started),
        ("title", front.title, not started and not front.names),
        ("program", front.programs[-1] if front.programs else "", False),
        ("path", front.path, False),
        ("argument", f"*{name}" if within else started, True),
    )
    return [
        RulePart(field, pattern, usual)
        for field, pattern, usual in said
        if pattern and len(pattern) <= MAX_PATTERN and pattern.isprintable()
    ]


def rule_of(parts: Iterable[RulePart], player: int = 0) -> Rule:
    """Returns the rule with these conditions."""
    return Rule(**{part.field: part.pattern for part in parts}, player=player)


def fitting(rule: Rule, fronts: Collection[Front]) -> list[Front]:
    """Returns the windows that match a rule."""
    return [front for front in fronts if fits(rule, front, max(rule.player, 1))]

"""What a rule can say of a window that a person points at, and what it says unless they choose otherwise."""

from __future__ import annotations

from collections.abc import Collection, Iterable
from dataclasses import dataclass
from pathlib import PureWindowsPath
from typing import Final

from nub_shift.model.profile.comes_on import MAX_PATTERN, Front, Rule, fits

# Suffixes of programs that a loader starts.
_GAMES: Final = (".exe", ".x86_64", ".x86", ".sh", ".jar", ".swf", ".rom")
# A word that holds the game's place differs from machine to machine; its name at the end does not.
_SEPARATORS: Final = ("\\", "/")


@dataclass(frozen=True)
class RulePart:
    """One thing that a rule can say.

    Attributes:
        field: of `Rule`.
        usual: whether it is said unless the person chooses otherwise.
    """

    field: str
    pattern: str
    usual: bool


def parts_of(front: Front) -> list[RulePart]:
    """Returns the parts of a rule for a window, in the order of `Rule`.

    A game that something else starts is known by what that was given; any other by the class of its window, which the
    title and the program's name would only narrow.
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
    """The rule that says these."""
    return Rule(**{part.field: part.pattern for part in parts}, player=player)


def fitting(rule: Rule, fronts: Collection[Front]) -> list[Front]:
    """The windows of several that a rule means."""
    return [front for front in fronts if fits(rule, front, max(rule.player, 1))]

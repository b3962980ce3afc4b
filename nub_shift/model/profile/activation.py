"""Rules that activate a profile by the window in front or its program, and the action when the window is left."""

from __future__ import annotations

from dataclasses import dataclass, replace
from enum import Enum
from typing import Annotated, Final

from msgspec import Meta

from nub_shift.model.profile.schema_types import ONE_LINE, Record, ShortLabel
from nub_shift.translation import tr

MAX_RULES: Final = 16
MAX_PATTERN: Final = 200
MAX_PLAYERS: Final = 8
MAX_PATH: Final = 4096
# Names of this program's windows, on X servers and Wayland compositors.
OWN_NAME: Final = "nub-shift"
APP_ID: Final = "org.nubshift.NubShift"

Pattern = Annotated[
    str,
    Meta(
        max_length=MAX_PATTERN,
        pattern=ONE_LINE,
        description=tr(
            "a text of up to {most} characters on one line, in which * stands for any others", most=MAX_PATTERN
        ),
    ),
]


class Rule(Record, frozen=True):
    """Windows that activate a profile. Every given field must match, ignoring case.

    `window` is the class (X11) or app id (Wayland), `title` the title; `program` is the name of the program, `path` its
    location, `argument` one of its arguments: for a game started by a loader, the game. `player` counts from 1; a rule
    without one applies to all players.
    """

    window: Pattern = ""
    title: Pattern = ""
    program: Pattern = ""
    path: Pattern = ""
    argument: Pattern = ""
    player: Annotated[
        int, Meta(ge=0, le=MAX_PLAYERS, description=tr("a player, 1 to {most}, or 0 for all", most=MAX_PLAYERS))
    ] = 0

    @property
    def patterns(self) -> tuple[str, ...]:
        """Given fields, without those left open."""
        said = (self.window, self.title, self.program, self.path, self.argument)
        return tuple(pattern for pattern in said if pattern)


class Leaving(Enum):
    """Action once none of a profile's windows is in front any more."""

    PAUSE = "pause"
    STAY = "stay"
    BACK = "back"
    OTHER = "other"


class ActivationRules(Record, frozen=True):
    """Rules that activate a profile.

    `when_left` is the action when another window comes to the front: pause until the game is back, play on, return to
    the profile chosen by hand, or change to the profile titled `other`.
    """

    rules: Annotated[
        tuple[Rule, ...], Meta(max_length=MAX_RULES, description=tr("at most {most} rules", most=MAX_RULES))
    ] = ()
    when_left: Leaving = Leaving.PAUSE
    other: ShortLabel = ""


class Away(Enum):
    """Reason for sending nothing, whatever window is in front; the first that applies is reported."""

    NO = ""
    LOCKED = "locked"  # the screen is locked, or shows another session
    NO_DISPLAY = "no_display"  # the display server does not answer
    TAKEN = "taken"  # a program other than the one in front has grabbed the keyboard


@dataclass(frozen=True)
class Front:
    """A window and its program, as far as the session reports them.

    Attributes:
        window: number of the window, never reused; 0 for no window.
        names: its class and other names, or its app id.
        programs: names of the program.
        path: location of the program.
        arguments: arguments of the program.
        process: id of the process; 0 if unknown.
        shown_as: the display server's own number of the window; 0 if there is none.
    """

    window: int = 0
    names: tuple[str, ...] = ()
    title: str = ""
    programs: tuple[str, ...] = ()
    path: str = ""
    arguments: tuple[str, ...] = ()
    process: int = 0
    shown_as: int = 0

    @property
    def is_ours(self) -> bool:
        """Whether the window belongs to this program."""
        return any(name == APP_ID or name.casefold() == OWN_NAME for name in self.names)


# Bound on texts from windows, programs and clients.
MAX_TEXT: Final = 500
MAX_WORDS: Final = 64


def cut(front: Front) -> Front:
    """Returns the window with its texts cut to bounded length and number."""
    return replace(
        front,
        names=_cut_all(front.names),
        title=front.title[:MAX_TEXT],
        programs=_cut_all(front.programs),
        path=front.path[:MAX_PATH],
        arguments=tuple(word[:MAX_PATH] for word in front.arguments[:MAX_WORDS]),
    )


def _cut_all(names: tuple[str, ...]) -> tuple[str, ...]:
    return tuple(name[:MAX_TEXT] for name in names[:MAX_WORDS])


def fits(rule: Rule, front: Front, player: int) -> bool:
    """Returns whether a rule matches this window for a player; an empty rule matches none."""
    requested = (
        (rule.window, front.names),
        (rule.title, (front.title,)),
        (rule.program, front.programs),
        (rule.path, (front.path,)),
        (rule.argument, front.arguments),
    )
    return (
        bool(rule.patterns)
        and rule.player in (0, player)
        and all(any(matches_pattern(pattern, text) for text in texts) for pattern, texts in requested if pattern)
    )


def weight(rule: Rule) -> tuple[int, int]:
    """Returns how specific a rule is; of several matching rules, the most specific counts.

    First the number of given fields, then the number of literal characters.
    """
    patterns = rule.patterns
    return len(patterns) + bool(rule.player), sum(len(pattern.replace("*", "")) for pattern in patterns)


def matches_pattern(pattern: str, text: str) -> bool:
    """Returns whether a text matches a pattern, ignoring case. Runs in time proportional to both lengths."""
    if not text:
        return False
    text = text.casefold()
    first, *parts = pattern.casefold().split("*")
    if not parts:
        return text == first
    *middle, last = parts
    if not text.startswith(first) or len(text) < len(first) + len(last) or not text.endswith(last):
        return False
    at, end = len(first), len(text) - len(last)
    for part in middle:
        found = text.find(part, at, end)
        if found < 0:
            return False
        at = found + len(part)
    return True

"""When a profile comes on by itself: with which windows, or the programs behind them, and what happens as they go."""

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
# Names of this program's windows: on an X server, and on a Wayland compositor.
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
    """A window with which a profile comes on. All that the rule says must fit, letter case aside.

    `window` is its class (X11) or app id (Wayland), `title` what stands above it; `program` is the name of the program
    behind it, `path` where that is, `argument` one of the words that it was started with: of a game that runs through a
    loader, the game. `player` counts from 1; the rule is for all of them unless it says one.
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
        """Fields that are required of a window, without those that are left open."""
        said = (self.window, self.title, self.program, self.path, self.argument)
        return tuple(pattern for pattern in said if pattern)


class Leaving(Enum):
    """Action once none of a profile's windows is in front any more."""

    PAUSE = "pause"
    STAY = "stay"
    BACK = "back"
    OTHER = "other"


class ComesOn(Record, frozen=True):
    """When a profile comes on by itself.

    `when_left` is what happens as another window comes to the front: it pauses until the game is back, plays on, goes
    back to the profile that was chosen by hand, or goes to the `other` of that title.
    """

    rules: Annotated[
        tuple[Rule, ...], Meta(max_length=MAX_RULES, description=tr("at most {most} rules", most=MAX_RULES))
    ] = ()
    when_left: Leaving = Leaving.PAUSE
    other: ShortLabel = ""


class Away(Enum):
    """Why nothing may be sent, whatever window is in front; the first that holds is told."""

    NO = ""
    LOCKED = "locked"  # the screen is locked, or shows another person's session
    NO_DISPLAY = "no_display"  # the display server does not answer
    TAKEN = "taken"  # another program than the one in front has the keyboard


@dataclass(frozen=True)
class Front:
    """A window, and the program behind it, as far as the session tells.

    Attributes:
        window: its number, which no other window ever has; 0 if there is none.
        names: its class and what else it is called by, or its app id.
        programs: names of the program.
        path: where that is.
        arguments: the words that it was started with.
        process: the id of the program's process, 0 where nobody tells.
        shown_as: what the display server calls the window, 0 where it has no such number.
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
        """Whether it is a window of this program."""
        return any(name == APP_ID or name.casefold() == OWN_NAME for name in self.names)


# A window, a program and a client may say anything of themselves; nobody needs more of it.
MAX_TEXT: Final = 500
MAX_WORDS: Final = 64


def cut(front: Front) -> Front:
    """The same with texts of a bounded length and number."""
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
    """Whether a rule means this window, for that player; a rule that says nothing means none."""
    asked = (
        (rule.window, front.names),
        (rule.title, (front.title,)),
        (rule.program, front.programs),
        (rule.path, (front.path,)),
        (rule.argument, front.arguments),
    )
    return (
        bool(rule.patterns)
        and rule.player in (0, player)
        and all(any(pattern_fits(pattern, text) for text in texts) for pattern, texts in asked if pattern)
    )


def weight(rule: Rule) -> tuple[int, int]:
    """How much a rule asks for: of several that fit, the one that asks for most counts.

    First how many things it says, then how many characters of them are not left open.
    """
    patterns = rule.patterns
    return len(patterns) + bool(rule.player), sum(len(pattern.replace("*", "")) for pattern in patterns)


def pattern_fits(pattern: str, text: str) -> bool:
    """Whether a text is what a pattern says, letter case aside. Takes time in proportion to both at the most."""
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

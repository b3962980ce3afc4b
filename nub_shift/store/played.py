"""What was done in the last sessions of each profile, kept on this machine as JSON."""

from __future__ import annotations

import logging
from pathlib import Path
from typing import Final

import msgspec
import platformdirs

from nub_shift.model.problems import ProfileError
from nub_shift.store.atomic import write_text
from nub_shift.store.reading import read_bounded

log = logging.getLogger("nub_shift.store")

MOST: Final = 20
# Whoever comes back so soon goes on with the same session.
BREAK_S: Final = 600
# Less is a try, and no session.
LEAST_S: Final = 20


class Recap(msgspec.Struct, frozen=True):
    """One session of one profile.

    Attributes:
        started, ended: seconds since 1970.
        seconds: how long it was live, without pauses.
        moves: how often each move began, by its id; turbo counts each of its presses.
        layers: how often each layer came on, by its id.
        short: how often each slot was released within a frame of the game, by its name.
        pauses: how often another window was in front, or the menu open.
        losses: how often the pad went.
        battery: how full it was at the beginning and at the end, in percent; -1 if nobody knows.
    """

    started: float
    ended: float
    seconds: float
    moves: dict[str, int] = {}
    layers: dict[str, int] = {}
    short: dict[str, int] = {}
    pauses: int = 0
    losses: int = 0
    battery: tuple[int, int] = (-1, -1)


def played_path(profile: Path) -> Path:
    """Returns the path of the sessions of a profile's file."""
    import hashlib  # three megabytes, for a runner that has nothing to keep yet

    mark = hashlib.sha256(str(profile.absolute()).encode()).hexdigest()[:10]
    return platformdirs.user_state_path("nub-shift") / "played" / f"{profile.stem}-{mark}.json"


def read_played(profile: Path) -> list[Recap]:
    """The last sessions of a profile, the newest last; none if nothing is kept, or it is spoiled, which is logged."""
    path = played_path(profile)
    if not path.exists():
        return []
    try:
        return msgspec.json.decode(read_bounded(path).encode(), type=list[Recap])
    except (ProfileError, ValueError, RecursionError, msgspec.MsgspecError) as error:
        log.warning("%s: %s", path, error)
        return []


def keep_played(profile: Path, recap: Recap) -> None:
    """Keeps a session, as one with the last if that ended just before; raises OSError if it cannot be written."""
    found = read_played(profile)
    if found and 0 <= recap.started - found[-1].ended < BREAK_S:
        recap = together(found.pop(), recap)
    if recap.seconds < LEAST_S:
        return
    path = played_path(profile)
    path.parent.mkdir(parents=True, exist_ok=True)
    write_text(path, msgspec.json.encode([*found, recap][-MOST:]).decode())


def forget_played(profile: Path) -> None:
    """Takes away what is kept of a profile's sessions."""
    played_path(profile).unlink(missing_ok=True)


def together(one: Recap, other: Recap) -> Recap:
    """Two parts of one session."""
    return Recap(
        one.started,
        other.ended,
        one.seconds + other.seconds,
        _sum(one.moves, other.moves),
        _sum(one.layers, other.layers),
        _sum(one.short, other.short),
        one.pauses + other.pauses,
        one.losses + other.losses,
        (one.battery[0] if one.battery[0] >= 0 else other.battery[0], other.battery[1]),
    )


def _sum(one: dict[str, int], other: dict[str, int]) -> dict[str, int]:
    return {name: one.get(name, 0) + other.get(name, 0) for name in {**one, **other}}

"""Recaps of the last sessions of each profile, kept on this machine as JSON."""

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
# Longest break within one session.
BREAK_S: Final = 600
# A shorter session is a try, and not kept.
LEAST_S: Final = 20


class Recap(msgspec.Struct, frozen=True):
    """One session of one profile.

    Attributes:
        started, ended: seconds since 1970.
        seconds: time live, without pauses.
        moves: number of starts of each move, by id; turbo counts each press.
        layers: number of activations of each layer, by id.
        short: number of releases of each slot within a frame of the game, by name.
        pauses: number of times that another window was in front, or the menu open.
        losses: number of lost connections of the pad.
        battery: percentage at the beginning and at the end; -1 if unknown.
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
    """Returns the file of a profile's sessions."""
    import hashlib  # imported late: three megabytes

    mark = hashlib.sha256(str(profile.absolute()).encode()).hexdigest()[:10]
    return platformdirs.user_state_path("nub-shift") / "played" / f"{profile.stem}-{mark}.json"


def read_played(profile: Path) -> list[Recap]:
    """Returns the last sessions of a profile, the newest last; empty for a missing file, or a spoiled one, which is
    logged.
    """
    path = played_path(profile)
    if not path.exists():
        return []
    try:
        return msgspec.json.decode(read_bounded(path).encode(), type=list[Recap])
    except (ProfileError, ValueError, RecursionError, msgspec.MsgspecError) as error:
        log.warning("%s: %s", path, error)
        return []


def keep_played(profile: Path, recap: Recap) -> None:
    """Stores a session, merged with the last one if that ended just before.

    Raises:
        OSError: the file cannot be written.
    """
    found = read_played(profile)
    if found and 0 <= recap.started - found[-1].ended < BREAK_S:
        recap = together(found.pop(), recap)
    if recap.seconds < LEAST_S:
        return
    path = played_path(profile)
    path.parent.mkdir(parents=True, exist_ok=True)
    write_text(path, msgspec.json.encode([*found, recap][-MOST:]).decode())


def forget_played(profile: Path) -> None:
    """Deletes the sessions of a profile."""
    played_path(profile).unlink(missing_ok=True)


def together(one: Recap, other: Recap) -> Recap:
    """Merges two parts of one session."""
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

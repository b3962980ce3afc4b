"""What a resident runner plays, kept so that it goes on with that whatever ended it."""

from __future__ import annotations

import logging
from pathlib import Path

import msgspec
import platformdirs
import tomli
import tomli_w

from nub_shift.model.problems import ProfileError
from nub_shift.store.atomic import write_text
from nub_shift.store.reading import read_bounded

log = logging.getLogger("nub_shift.store")


class KeptPlayer(msgspec.Struct, frozen=True):
    """One pad with one profile.

    Attributes:
        pad: what finds the pad, as it is written after `--pad`.
        identity: the most particular name of its card, or empty.
        file: where the profile is kept.
        shares_with: who has the rest of that pad, by number; -1 if all of it is this player's.
        controls: those that are this player's then.
    """

    pad: str
    file: str
    identity: str = ""
    shares_with: int = -1
    controls: tuple[str, ...] = ()


class Kept(msgspec.Struct, frozen=True):
    """All that is to come back.

    Attributes:
        simulated: the made-up pads that are plugged in.
        output: where it was told to send what it plays; empty if it was left to choose.
    """

    live: bool = False
    players: tuple[KeptPlayer, ...] = ()
    simulated: tuple[str, ...] = ()
    output: str = ""


def residence_path() -> Path:
    """Where it is kept."""
    return platformdirs.user_state_path("nub-shift") / "resident.toml"


def read_kept(path: Path) -> Kept:
    """What was kept; nothing if there is no such file, or it is spoiled, which is logged."""
    if not path.exists():
        return Kept()
    try:
        return msgspec.convert(tomli.loads(read_bounded(path)), Kept)
    except (ProfileError, ValueError, RecursionError, msgspec.ValidationError) as error:
        log.warning("%s: %s", path, error)
        return Kept()


def write_kept(path: Path, kept: Kept) -> None:
    """Keeps it; raises OSError if that cannot be written."""
    write_text(path, tomli_w.dumps(msgspec.to_builtins(kept)))

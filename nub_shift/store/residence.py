"""What a resident runner plays, kept so that it goes on with that whatever ended it."""

from __future__ import annotations

from pathlib import Path
from typing import Any

import msgspec
import platformdirs
import tomli
import tomli_w

from nub_shift.model.problems import ProfileError
from nub_shift.store.atomic import write_text
from nub_shift.store.reading import read_bounded
from nub_shift.translation import tr


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
    """Returns the path of the file."""
    return platformdirs.user_state_path("nub-shift") / "resident.toml"


def read_kept(path: Path) -> tuple[Kept, list[str]]:
    """Returns the kept values, and the faults of those that cannot be read; defaults and no fault without a file.

    A player that cannot be read costs that player, and any other value itself.
    """
    if not path.exists():
        return Kept(), []
    try:
        data = tomli.loads(read_bounded(path))
    except (ProfileError, ValueError, RecursionError) as error:
        return Kept(), [str(error)]
    kept, wrong = Kept(), []
    for name, value in data.items():
        try:
            if name == "players" and isinstance(value, list):
                players, faults = _players(value)
                kept = msgspec.structs.replace(kept, players=players)
                wrong += faults
            else:
                found = msgspec.convert({name: value}, Kept)
                kept = msgspec.structs.replace(kept, **{name: getattr(found, name)} if hasattr(found, name) else {})
        except msgspec.ValidationError as error:
            wrong.append(f"{path}: {error}")
    return kept, wrong


def _players(listed: list[Any]) -> tuple[tuple[KeptPlayer, ...], list[str]]:
    """Returns the players that can be read, and an empty one for each that cannot, so that the numbers stay."""
    found: list[KeptPlayer] = []
    wrong = []
    for number, value in enumerate(listed, start=1):
        try:
            found.append(msgspec.convert(value, KeptPlayer))
        except msgspec.ValidationError as error:
            wrong.append(tr("player {number}: {why}", number=number, why=error))
            found.append(KeptPlayer("", ""))
    return tuple(found), wrong


def write_kept(path: Path, kept: Kept) -> None:
    """Keeps it; raises OSError if that cannot be written."""
    write_text(path, tomli_w.dumps(msgspec.to_builtins(kept)))

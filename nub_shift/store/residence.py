"""State of a resident runner, kept so that play continues after any end of the process."""

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


class ResidentPlayer(msgspec.Struct, frozen=True):
    """One pad with one profile.

    Attributes:
        pad: text after `--pad` that finds the pad.
        identity: most specific identity of its card, or empty.
        file: file of the profile.
        shares_with: number of the player with the rest of the pad; -1 for an unshared pad.
        controls: this player's controls of a shared pad.
    """

    pad: str
    file: str
    identity: str = ""
    shares_with: int = -1
    controls: tuple[str, ...] = ()


class ResidentState(msgspec.Struct, frozen=True):
    """Everything that is restored.

    Attributes:
        simulated: plugged simulated pads.
        output: the chosen output; empty for the default.
    """

    live: bool = False
    players: tuple[ResidentPlayer, ...] = ()
    simulated: tuple[str, ...] = ()
    output: str = ""


def residence_path() -> Path:
    """Returns the path of the file."""
    return platformdirs.user_state_path("nub-shift") / "resident.toml"


def read_kept(path: Path) -> tuple[ResidentState, list[str]]:
    """Returns the kept values, and the faults of unreadable ones; defaults and no fault without a file.

    A faulty player costs this player, any other faulty value itself.
    """
    if not path.exists():
        return ResidentState(), []
    try:
        data = tomli.loads(read_bounded(path))
    except (ProfileError, ValueError, RecursionError) as error:
        return ResidentState(), [str(error)]
    kept, wrong = ResidentState(), []
    for name, value in data.items():
        try:
            if name == "players" and isinstance(value, list):
                players, faults = _players(value)
                kept = msgspec.structs.replace(kept, players=players)
                wrong += faults
            else:
                found = msgspec.convert({name: value}, ResidentState)
                kept = msgspec.structs.replace(kept, **{name: getattr(found, name)} if hasattr(found, name) else {})
        except msgspec.ValidationError as error:
            wrong.append(f"{path}: {error}")
    return kept, wrong


def _players(listed: list[Any]) -> tuple[tuple[ResidentPlayer, ...], list[str]]:
    """Returns the readable players, with an empty one for each that is not, so that numbers stay valid."""
    found: list[ResidentPlayer] = []
    wrong = []
    for number, value in enumerate(listed, start=1):
        try:
            found.append(msgspec.convert(value, ResidentPlayer))
        except msgspec.ValidationError as error:
            wrong.append(tr("player {number}: {why}", number=number, why=error))
            found.append(ResidentPlayer("", ""))
    return tuple(found), wrong


def write_kept(path: Path, kept: ResidentState) -> None:
    """Writes the file.

    Raises:
        OSError: the file cannot be written.
    """
    write_text(path, tomli_w.dumps(msgspec.to_builtins(kept)))

"""The profiles on disk."""

from __future__ import annotations

import re
import tomllib
from collections.abc import Iterable
from dataclasses import dataclass
from pathlib import Path

import platformdirs

from nub_shift.model.journal import journal_path

BIN = "bin"
_TITLE = re.compile(r"^title\s*=\s*(.+)$", re.MULTILINE)


def library_folder() -> Path:
    """Where profiles are kept."""
    return platformdirs.user_data_path("nub-shift") / "profiles"


@dataclass(frozen=True)
class Entry:
    """A profile in the library, or in its bin.

    Attributes:
        changed: when, in seconds since the epoch.
    """

    path: Path
    title: str
    changed: float
    binned: bool = False


def entries(folder: Path) -> list[Entry]:
    """All profiles in a folder, the one that was changed last first; then those in its bin."""
    found = []
    for place in (folder, folder / BIN):
        listed = []
        for path in place.glob("*.toml"):
            try:
                listed.append(Entry(path, _title(path) or path.stem, path.stat().st_mtime, place != folder))
            except OSError:
                continue  # it has gone meanwhile
        found += sorted(listed, key=lambda entry: -entry.changed)
    return found


def fresh_path(folder: Path, title: str) -> Path:
    """A file name in a folder for a profile of that title, which no other one has."""
    stem = re.sub(r"[^0-9a-z]+", "-", title.casefold()).strip("-")[:40] or "profile"
    path, number = folder / f"{stem}.toml", 2
    while path.exists():
        path, number = folder / f"{stem}-{number}.toml", number + 1
    return path


def to_bin(path: Path) -> Path:
    """Moves a profile to the bin of its folder; returns where it is now. Raises OSError if that fails."""
    place = path.parent / BIN
    place.mkdir(exist_ok=True)
    return _moved(path, fresh_path(place, path.stem))


def from_bin(path: Path) -> Path:
    """Brings a profile back from the bin; returns where it is now. Raises OSError if that fails."""
    return _moved(path, fresh_path(path.parent.parent, path.stem))


def _moved(path: Path, target: Path) -> Path:
    """Moves a profile with its journal: another one of that name must not find what was done to this one."""
    journal = journal_path(path)
    if journal.exists():
        journal_path(target).parent.mkdir(exist_ok=True)
        journal.replace(journal_path(target))
    return path.rename(target)


def find_titled(folders: Iterable[Path], title: str) -> Path | None:
    """The first profile of that title, by folder and then by name, letter case aside.

    Only the title of each file is looked at, so that a large library is searched at once and a faulty file in it is in
    nobody's way.
    """
    wanted = title.casefold()
    for folder in folders:
        for path in sorted(folder.glob("*.toml")):
            if _title(path).casefold() == wanted:
                return path
    return None


def titled_profiles(folders: Iterable[Path]) -> list[tuple[str, Path]]:
    """All profiles that have a title, with it, by folder and then by name."""
    paths = (path for folder in dict.fromkeys(folders) for path in sorted(folder.glob("*.toml")))
    return [(title, path) for path in paths if (title := _title(path))]


def _title(path: Path) -> str:
    """The title that a profile file gives, or an empty text."""
    try:
        line = _TITLE.search(path.read_bytes().decode())
        return str(tomllib.loads(line[0])["title"]) if line is not None else ""
    except (OSError, UnicodeDecodeError, tomllib.TOMLDecodeError):
        return ""

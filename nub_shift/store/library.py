"""The profiles on disk."""

from __future__ import annotations

import os
import re
from collections.abc import Iterable
from contextlib import suppress
from dataclasses import dataclass
from pathlib import Path

import msgspec
import platformdirs
import tomli

from nub_shift.model.problems import ProfileError
from nub_shift.model.profile.activation import ActivationRules
from nub_shift.store.journal import journal_path
from nub_shift.store.reading import read_bounded

BIN = "bin"
# Suffix of an exported profile's file.
EXPORT_SUFFIX = ".nubshift"
# Patterns for activation rules, title and colour, read without parsing the whole file.
_COMES_ON = re.compile(r"comes_on")
_HEAD = re.compile(r"^(?:title|colour)\s*=\s*.+$", re.MULTILINE)


def library_folder() -> Path:
    """Returns the folder of profiles."""
    return platformdirs.user_data_path("nub-shift") / "profiles"


def is_own(path: Path) -> bool:
    """Returns whether a file lies in the library; any other file is foreign until a person has accepted it."""
    try:
        return path.absolute().parent.resolve() == library_folder().resolve()
    except OSError:
        return False


@dataclass(frozen=True)
class Entry:
    """A profile in the library, or in its bin.

    Attributes:
        used: time of the last opening or change, in seconds since the epoch.
        colour: colour of the profile, or empty.
        example: text of a profile that comes with the program and has no file.
    """

    path: Path
    title: str
    used: float
    colour: str = ""
    binned: bool = False
    example: str = ""


def entries(folder: Path) -> list[Entry]:
    """Returns all profiles in a folder, the last used first; then those in its bin."""
    found = []
    for searched in (folder, folder / BIN):
        listed = []
        for path in searched.glob("*.toml"):
            try:
                said = _said(path)
                marks = (found.stat().st_mtime for found in (path, _used_mark(path)) if found.exists())
                listed.append(
                    Entry(path, said.get("title") or path.stem, max(marks), said.get("colour", ""), searched != folder)
                )
            except (OSError, ValueError):
                continue  # deleted meanwhile
        found += sorted(listed, key=lambda entry: -entry.used)
    return found


def note_used(path: Path) -> None:
    """Records the use of a profile, silently skipped if that cannot be written."""
    with suppress(OSError):
        _used_mark(path).parent.mkdir(parents=True, exist_ok=True)
        _used_mark(path).touch(mode=0o600)


def _used_mark(path: Path) -> Path:
    """Returns the file of the record, which is no work of the person's and lies apart. Named by a digest, since a path
    may be too long for a name.
    """
    import hashlib  # imported late: not needed by a runner

    name = hashlib.sha256(os.fsencode(path.absolute())).hexdigest()[:32]
    return platformdirs.user_state_path("nub-shift") / "used" / name


def fresh_path(folder: Path, title: str) -> Path:
    """Returns an unused file name in a folder for a profile of that title."""
    stem = re.sub(r"[^0-9a-z]+", "-", title.casefold()).strip("-")[:40] or "profile"
    path, number = folder / f"{stem}.toml", 2
    # A new profile must not adopt the journal of a removed one.
    while path.exists() or journal_path(path).exists():
        path, number = folder / f"{stem}-{number}.toml", number + 1
    return path


def to_bin(path: Path) -> Path:
    """Moves a profile to the bin of its folder; returns its new path.

    Raises:
        OSError: the move failed.
    """
    bin_folder = path.parent / BIN
    bin_folder.mkdir(exist_ok=True)
    return _moved(path, fresh_path(bin_folder, path.stem))


def from_bin(path: Path) -> Path:
    """Moves a profile back from the bin; returns its new path.

    Raises:
        OSError: the move failed.
    """
    return _moved(path, fresh_path(path.parent.parent, path.stem))


def _moved(path: Path, target: Path) -> Path:
    """Moves a profile with its journal, which exists at both places in between, so that a kill loses nothing."""
    journal = journal_path(path)
    if journal.exists():
        journal_path(target).parent.mkdir(exist_ok=True)
        try:
            os.link(journal, journal_path(target))
        except OSError:  # the file system has no links
            import shutil

            shutil.copyfile(journal, journal_path(target))
    path.rename(target)
    journal.unlink(missing_ok=True)
    with suppress(OSError):
        _used_mark(path).replace(_used_mark(target))
    return target


def find_titled(folders: Iterable[Path], title: str) -> Path | None:
    """Returns the first profile of that title, by folder and then by name, ignoring case.

    Reads only the title of each file, so that a large library is fast and a faulty file does not matter.
    """
    wanted = title.casefold()
    for folder in folders:
        for path in sorted(folder.glob("*.toml")):
            if _said(path).get("title", "").casefold() == wanted:
                return path
    return None


def rules_in(folders: Iterable[Path]) -> list[tuple[Path, str, ActivationRules]]:
    """Returns the profiles with activation rules, each with its title; files with faulty rules are skipped."""
    found = []
    for title, path in titled_profiles(folders):
        with suppress(ProfileError, ValueError, RecursionError, msgspec.ValidationError):
            text = read_bounded(path)
            if _COMES_ON.search(text) is not None:
                comes_on = msgspec.convert(tomli.loads(text).get("comes_on", {}), ActivationRules)
                if comes_on.rules:
                    found.append((path, title, comes_on))
    return found


def titled_profiles(folders: Iterable[Path]) -> list[tuple[str, Path]]:
    """Returns all profiles with a title, by folder and then by name."""
    paths = (path for folder in dict.fromkeys(folders) for path in sorted(folder.glob("*.toml")))
    return [(title, path) for path in paths if (title := _said(path).get("title", ""))]


def library_titles() -> list[str]:
    """Returns the titles of the profiles in the library."""
    return [title for title, _ in titled_profiles([library_folder()])]


def _said(path: Path) -> dict[str, str]:
    """Returns the title and the colour in a profile file, as far as present."""
    found: dict[str, str] = {}
    try:
        for line in _HEAD.findall(read_bounded(path)):
            found = {name: str(value) for name, value in tomli.loads(line).items()} | found
    except (ProfileError, ValueError, RecursionError):
        return {}
    return found

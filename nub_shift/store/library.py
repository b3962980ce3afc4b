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
from nub_shift.model.profile.comes_on import ComesOn
from nub_shift.store.journal import journal_path
from nub_shift.store.reading import read_bounded

BIN = "bin"
# Suffix of a profile's file that is exported.
EXPORT_SUFFIX = ".nubshift"
# Whether a profile has rules, and its title and colour, found without parsing the whole file.
_COMES_ON = re.compile(r"comes_on")
_HEAD = re.compile(r"^(?:title|colour)\s*=\s*.+$", re.MULTILINE)


def library_folder() -> Path:
    """Returns the folder of profiles."""
    return platformdirs.user_data_path("nub-shift") / "profiles"


def is_own(path: Path) -> bool:
    """Whether a file lies in the library; any other is somebody else's until it has been looked at."""
    try:
        return path.absolute().parent.resolve() == library_folder().resolve()
    except OSError:
        return False


@dataclass(frozen=True)
class Entry:
    """A profile in the library, or in its bin.

    Attributes:
        used: when it was opened or changed last, in seconds since the epoch.
        colour: what colour it is known by, or empty.
        example: the text of one that comes with the program; it has no file.
    """

    path: Path
    title: str
    used: float
    colour: str = ""
    binned: bool = False
    example: str = ""


def entries(folder: Path) -> list[Entry]:
    """All profiles in a folder, the one that was used last first; then those in its bin."""
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
                continue  # it has gone meanwhile
        found += sorted(listed, key=lambda entry: -entry.used)
    return found


def note_used(path: Path) -> None:
    """Notes that a profile is used now. Where that cannot be written, nothing is noted: nobody waits for it."""
    with suppress(OSError):
        _used_mark(path).parent.mkdir(parents=True, exist_ok=True)
        _used_mark(path).touch(mode=0o600)


def _used_mark(path: Path) -> Path:
    """No work of the person's, so it lies apart from that. Named by a digest: a path may be too long for a name."""
    import hashlib  # a runner needs neither this nor what copies files

    name = hashlib.sha256(os.fsencode(path.absolute())).hexdigest()[:32]
    return platformdirs.user_state_path("nub-shift") / "used" / name


def fresh_path(folder: Path, title: str) -> Path:
    """A file name in a folder for a profile of that title, which no other one has."""
    stem = re.sub(r"[^0-9a-z]+", "-", title.casefold()).strip("-")[:40] or "profile"
    path, number = folder / f"{stem}.toml", 2
    # The journal of a removed profile is not taken for the journal of this one.
    while path.exists() or journal_path(path).exists():
        path, number = folder / f"{stem}-{number}.toml", number + 1
    return path


def to_bin(path: Path) -> Path:
    """Moves a profile to the bin of its folder; returns where it is now. Raises OSError if that fails."""
    bin_folder = path.parent / BIN
    bin_folder.mkdir(exist_ok=True)
    return _moved(path, fresh_path(bin_folder, path.stem))


def from_bin(path: Path) -> Path:
    """Brings a profile back from the bin; returns where it is now. Raises OSError if that fails."""
    return _moved(path, fresh_path(path.parent.parent, path.stem))


def _moved(path: Path, target: Path) -> Path:
    """Moves a profile with its journal, which is at both places in between: killed then, it loses nothing."""
    journal = journal_path(path)
    if journal.exists():
        journal_path(target).parent.mkdir(exist_ok=True)
        try:
            os.link(journal, journal_path(target))
        except OSError:  # a file system without links
            import shutil

            shutil.copyfile(journal, journal_path(target))
    path.rename(target)
    journal.unlink(missing_ok=True)
    with suppress(OSError):
        _used_mark(path).replace(_used_mark(target))
    return target


def find_titled(folders: Iterable[Path], title: str) -> Path | None:
    """The first profile of that title, by folder and then by name, letter case aside.

    Only the title of each file is looked at, so that a large library is searched at once and a faulty file in it is in
    nobody's way.
    """
    wanted = title.casefold()
    for folder in folders:
        for path in sorted(folder.glob("*.toml")):
            if _said(path).get("title", "").casefold() == wanted:
                return path
    return None


def rules_in(folders: Iterable[Path]) -> list[tuple[Path, str, ComesOn]]:
    """The profiles that say when they come on, each with its title; a file with faults in that is passed over."""
    found = []
    for title, path in titled_profiles(folders):
        with suppress(ProfileError, ValueError, RecursionError, msgspec.ValidationError):
            text = read_bounded(path)
            if _COMES_ON.search(text) is not None:
                comes_on = msgspec.convert(tomli.loads(text).get("comes_on", {}), ComesOn)
                if comes_on.rules:
                    found.append((path, title, comes_on))
    return found


def titled_profiles(folders: Iterable[Path]) -> list[tuple[str, Path]]:
    """All profiles that have a title, with it, by folder and then by name."""
    paths = (path for folder in dict.fromkeys(folders) for path in sorted(folder.glob("*.toml")))
    return [(title, path) for path in paths if (title := _said(path).get("title", ""))]


def library_titles() -> list[str]:
    """Returns the titles of the profiles in the library."""
    return [title for title, _ in titled_profiles([library_folder()])]


def _said(path: Path) -> dict[str, str]:
    """The title and the colour that a profile file gives, as far as it does."""
    found: dict[str, str] = {}
    try:
        for line in _HEAD.findall(read_bounded(path)):
            found = {name: str(value) for name, value in tomli.loads(line).items()} | found
    except (ProfileError, ValueError, RecursionError):
        return {}
    return found

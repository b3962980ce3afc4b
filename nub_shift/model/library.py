"""The profiles on disk."""

from __future__ import annotations

import re
import tomllib
from collections.abc import Iterable
from pathlib import Path

import platformdirs

_TITLE = re.compile(r"^title\s*=\s*(.+)$", re.MULTILINE)


def library_folder() -> Path:
    """Where profiles are kept."""
    return platformdirs.user_data_path("nub-shift") / "profiles"


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

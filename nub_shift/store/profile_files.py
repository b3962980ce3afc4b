"""Profiles as TOML text and files: read with all faults named, written atomically."""

from __future__ import annotations

import tomllib
from dataclasses import replace
from pathlib import Path
from typing import Any

import msgspec
import tomli_w

from nub_shift.keyboard.layout import LayoutSource, us_layout
from nub_shift.model.checks.references import reference_problems
from nub_shift.model.problems import Problem, ProfileError
from nub_shift.model.profile import SCHEMA_VERSION, Profile
from nub_shift.store.atomic import write_text
from nub_shift.store.migrations import migrated
from nub_shift.store.structure_check import structure_problems

MAX_FILE_BYTES = 4_000_000


def parse_profile(text: str, source: str = "profile", layout: LayoutSource = us_layout) -> Profile:
    """Reads a profile from TOML text, for a keyboard layout (US unless given).

    Raises:
        ProfileError: with every fault; `source` is put before each of them.
    """
    data = read_toml(text, source, SCHEMA_VERSION)
    data, moved = migrated(data)
    try:
        profile = msgspec.convert(data, Profile)
    except msgspec.ValidationError:
        # It stops at the first fault, and whoever mends a file wants all of them.
        problems = structure_problems(data, Profile)
        problems = [replace(problem, path=moved.get(problem.path, problem.path)) for problem in problems]
        raise ProfileError(source, problems) from None
    problems = reference_problems(profile, layout)
    if problems:
        raise ProfileError(source, problems)
    return profile


def read_toml(text: str, source: str, newest: int) -> dict[str, Any]:
    """The data of a TOML text whose schema is at most `newest`.

    Raises:
        ProfileError: it is not TOML, or written by a newer program.
    """
    try:
        data = tomllib.loads(text)
    except tomllib.TOMLDecodeError as error:
        wrong, _, path = str(error).rpartition(" (at ")
        path = path.rstrip(")") or "file"
        raise ProfileError(source, [Problem(path, wrong or str(error), "expected TOML")]) from None
    version = data.get("schema")
    if isinstance(version, int) and version > newest:
        wrong = f"is {version}, written by a newer Nub Shift"
        raise ProfileError(source, [Problem("schema", wrong, f"this one reads schemas up to {newest}")])
    return data


def format_profile(profile: Profile) -> str:
    """The TOML text of a profile; `parse_profile` gives the same profile back."""
    return tomli_w.dumps(msgspec.to_builtins(profile), multiline_strings=True)


def read_profile(path: Path, layout: LayoutSource = us_layout) -> Profile:
    """Reads a profile file.

    Raises:
        ProfileError: the file cannot be read, is no text, or has faults.
    """
    try:
        if path.stat().st_size > MAX_FILE_BYTES:
            raise ProfileError(str(path), [Problem("file", "is too large for a profile", "expected under 4 MB")])
        text = path.read_bytes().decode()
    except OSError as error:
        wrong = f"cannot be read ({(error.strerror or str(error)).lower()})"
        raise ProfileError(str(path), [Problem("file", wrong, "expected a readable profile file")]) from None
    except UnicodeDecodeError as error:
        raise ProfileError(
            str(path), [Problem("file", f"byte {error.start} is not text", "expected TOML in UTF-8")]
        ) from None
    return parse_profile(text, str(path), layout)


def write_profile(path: Path, profile: Profile) -> None:
    """Writes a profile file; raises OSError as `write_text` does."""
    write_text(path, format_profile(profile))

"""Profiles as TOML text and files: read with all faults named, written atomically."""

from __future__ import annotations

import re
from dataclasses import replace
from itertools import islice
from pathlib import Path
from typing import Any

import msgspec
import tomli
import tomli_w

from nub_shift.keyboard.layout import LayoutSource, us_layout
from nub_shift.model.checks.references import reference_problems
from nub_shift.model.problems import MAX_PROBLEMS, Problem, ProfileError
from nub_shift.model.profile.profile import SCHEMA_VERSION, Profile
from nub_shift.store.atomic import write_text
from nub_shift.store.migrations import migrated, of_one_pad
from nub_shift.store.reading import read_bounded
from nub_shift.store.structure_check import structure_problems
from nub_shift.translation import tr

# A key of twenty parts or more: no setting has so many, and parsing thousands takes minutes.
_DOTTED = re.compile(r"(?:^|[{,])[ \t]*\[{0,2}[ \t]*(?:[\w\"'-]+[ \t]*\.[ \t]*){20}", re.MULTILINE)

_TWICE = re.compile(r"Cannot declare \((.*)\) twice")


def parse_profile(text: str, source: str = "profile", layout: LayoutSource = us_layout) -> Profile:
    """Parses a profile from TOML text, for a keyboard layout (US by default).

    Raises:
        ProfileError: with every fault, prefixed by `source`.
    """
    data = read_toml(text, source, SCHEMA_VERSION)
    data, as_told = migrated(data)
    try:
        profile = msgspec.convert(data, Profile)
    except msgspec.ValidationError:
        # The decoder stops at the first fault, but a person wants to see all of them.
        problems = list(islice(structure_problems(data, Profile), MAX_PROBLEMS))
        problems = [replace(problem, path=as_told(problem.path)) for problem in problems]
        raise ProfileError(source, problems) from None
    problems = [replace(found, path=as_told(found.path)) for found in reference_problems(profile, layout)]
    if problems:
        raise ProfileError(source, problems)
    return profile


def left_to_the_pad(text: str) -> list[str]:
    """Returns the paths of settings of one pad in an older profile; empty for an unreadable file."""
    try:
        return of_one_pad(read_toml(text, "", SCHEMA_VERSION))
    except ProfileError:
        return []


def read_toml(text: str, source: str, newest: int) -> dict[str, Any]:
    """Parses a TOML text whose schema is at most `newest`.

    Raises:
        ProfileError: not TOML, or written by a newer program.
    """
    if _DOTTED.search(text):
        wrong = tr("has a key of more parts than any setting has")
        raise ProfileError(source, [Problem("file", wrong, tr("expected keys as feel.left_stick.dead_zone"))])
    try:
        data = tomli.loads(text)
    except tomli.TOMLDecodeError as error:
        wrong, _, path = str(error).rpartition(" (at ")
        path = path.rstrip(")") or "file"
        problem = Problem(path, _in_words(wrong or str(error)), _right(text, path))
        raise ProfileError(source, [problem]) from None
    except RecursionError:
        wrong = tr("has lists or tables nested too deep")
        raise ProfileError(source, [Problem("file", wrong, tr("expected at most a few levels"))]) from None
    except ValueError:  # Python's own limit on the digits of a number
        wrong = tr("has a number of too many digits")
        raise ProfileError(source, [Problem("file", wrong, tr("expected a shorter one"))]) from None
    version = data.get("schema")
    if type(version) is int and version > newest:
        wrong = tr("is {version}, written by a newer Nub Shift", version=version)
        raise ProfileError(
            source, [Problem("schema", wrong, tr("this one reads up to {newest}: update Nub Shift", newest=newest))]
        )
    return data


def _in_words(wrong: str) -> str:
    """Returns the fault found by the TOML parser, in plain words."""
    found = _TWICE.search(wrong)
    if found is not None:
        name = ".".join(re.findall(r"[\w-]+", found[1]))
        return tr("the table {name} is written twice", name=name)
    return {"Cannot overwrite a value": tr("this name is written twice")}.get(wrong, wrong)


def _right(text: str, path: str) -> str:
    """Returns a correction for the line at which the TOML parser stopped."""
    number = re.match(r"line (\d+)", path)
    lines = text.splitlines()
    line = lines[int(number[1]) - 1] if number is not None and int(number[1]) <= len(lines) else ""
    if any(quote in line for quote in "“”‘’„"):
        return tr("write straight quotes in place of the curly ones")
    return tr("expected TOML")


def format_profile(profile: Profile) -> str:
    """Returns the TOML text of a profile, the inverse of `parse_profile`."""
    return _toml(msgspec.to_builtins(profile))


class ProfileWriter:
    """Writes profiles that differ in little, reusing the text of unchanged parts."""

    def __init__(self) -> None:
        self._known: dict[tuple[str, int], tuple[object, str]] = {}

    def text(self, profile: Profile) -> str:
        """Returns the text as `format_profile` does: single values first, then tables, separated by empty lines."""
        known, self._known = self._known, {}
        values: list[str] = []
        tables: list[str] = []
        for key, data in msgspec.to_builtins(profile).items():
            part = getattr(profile, key)
            if key != "layers":
                text = self._part(known, key, part, data)
                (tables if text.startswith("[") else values).append(text)
                continue
            for layer, own in zip(part, data, strict=True):
                text = self._part(known, key, layer, [own])
                if not text.startswith("["):  # fits on one line, which is so only if all layers are short
                    return format_profile(profile)
                tables.append(text)
        return "\n".join(["".join(values), *tables])

    def _part(self, known: dict[tuple[str, int], tuple[object, str]], key: str, part: object, data: object) -> str:
        which = key, id(part)
        found = known.get(which) or (part, _toml({key: data}))
        self._known[which] = found  # stored with the part itself, so that its id() stays its own
        return found[1]


def _toml(data: dict[str, Any]) -> str:
    return tomli_w.dumps(data, multiline_strings=True)


def read_profile(path: Path, layout: LayoutSource = us_layout) -> Profile:
    """Reads a profile file.

    Raises:
        ProfileError: the file is unreadable, is no text, or has faults.
    """
    return parse_profile(read_bounded(path), str(path), layout)


def write_profile(path: Path, profile: Profile) -> None:
    """Writes a profile file.

    Raises:
        OSError: as for `write_text`.
    """
    write_text(path, format_profile(profile))

"""`nub-shift check`: faults of profile files with their lines."""

from __future__ import annotations

import re
from collections.abc import Iterable
from pathlib import Path

import click
import msgspec

from nub_shift.cli.as_json import print_json
from nub_shift.keyboard.session import SessionLayout
from nub_shift.model.problems import Problem, ProfileError
from nub_shift.store.lines import Lines
from nub_shift.store.profile_files import left_to_the_pad, parse_profile
from nub_shift.store.reading import read_bounded
from nub_shift.translation import tr

# The TOML parser's wording of a position.
_TOML_PLACE = re.compile(r"line (\d+), (column \d+)")


class Fault(msgspec.Struct, frozen=True):
    """One fault of a file; `line` is 0 if it has none."""

    place: str
    wrong: str
    right: str
    line: int


class Checked(msgspec.Struct, frozen=True):
    """Result for one file; `left_out` is whether it has settings of one pad, which are dropped."""

    file: str
    faults: list[Fault]
    left_out: list[str] = []


def check_files(files: Iterable[Path], as_json: bool) -> bool:
    """Prints the faults of each file, or that it has none; returns whether all files are sound."""
    layout = SessionLayout()
    found = [_checked(path, layout) for path in files]
    if as_json:
        print_json(found)
    else:
        for one in found:
            for fault in one.faults:
                where = f"{one.file}:{fault.line}" if fault.line else one.file
                click.echo(f"{where}: {Problem(fault.place, fault.wrong, fault.right)}")
            if not one.faults:
                click.echo(tr("{file}: fine", file=one.file))
            for place in one.left_out:
                click.echo(tr("{file}: {place}: left out, it belongs to one pad", file=one.file, place=place))
    return not any(one.faults for one in found)


def _checked(path: Path, layout: SessionLayout) -> Checked:
    text = ""
    try:
        text = read_bounded(path)
        parse_profile(text, str(path), layout)
    except ProfileError as error:
        lines = Lines(text)
        return Checked(str(path), [_fault(problem, lines) for problem in error.problems])
    return Checked(str(path), [], left_to_the_pad(text))


def _fault(problem: Problem, lines: Lines) -> Fault:
    told = _TOML_PLACE.fullmatch(problem.path)
    if told is not None:
        return Fault(told[2], problem.wrong, problem.right, int(told[1]))
    return Fault(problem.path, problem.wrong, problem.right, lines.of(problem.path) or 0)

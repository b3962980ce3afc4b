"""Installation of the command for terminals: a link, completion for shells, and manual pages."""

from __future__ import annotations

import errno
import os
from collections.abc import Iterator
from contextlib import suppress
from pathlib import Path
from typing import Final

import click
import platformdirs
from click.shell_completion import get_completion_class
from click_man.core import generate_man_page

from nub_shift import VERSION
from nub_shift.own_process import program_command
from nub_shift.store.atomic import write_text
from nub_shift.translation import tr

NAME: Final = "nub-shift"
_VARIABLE: Final = "_NUB_SHIFT_COMPLETE"


def install(command: click.Group) -> None:
    """Links to the program, and writes the files for shells and `man`.

    Raises:
        OSError: a file cannot be written, or another program has the command's name.
    """
    link = _link()
    link.parent.mkdir(parents=True, exist_ok=True)
    program = Path(program_command()[0])
    if program != link:
        if link.is_symlink() and _is_ours(link, program):
            link.unlink()
        if link.is_symlink() or link.exists():
            wrong = tr("is there already and is something else; remove it, or call {program}", program=program)
            raise FileExistsError(errno.EEXIST, wrong, str(link))
        link.symlink_to(program)
    for path, text in _texts(command):
        write_text(path, text)


def uninstall() -> None:
    """Removes the link and the files.

    Raises:
        OSError: a file cannot be deleted.
    """
    link = _link()
    if link.is_symlink() and _is_ours(link, Path(program_command()[0])):
        link.unlink()
    for path in (*_completions().values(), *_manual().glob(f"{NAME}*.1")):
        path.unlink(missing_ok=True)


def standing() -> str:
    """Returns whether terminals find the command, or what is missing for that."""
    link = _link()
    if not link.exists():
        return tr("terminals do not know nub-shift")
    if str(link.parent) not in os.environ.get("PATH", "").split(os.pathsep):
        return tr(
            "nub-shift is in {parent}, which terminals that you open after the next login look into", parent=link.parent
        )
    return tr(
        "terminals know nub-shift; for completion in zsh, add {parent} to fpath", parent=_completions()["zsh"].parent
    )


def _is_ours(link: Path, program: Path) -> bool:
    """Returns whether a link is ours: to this program, or to its former place."""
    target = link.readlink()
    return target == program or (target.name == NAME and not target.exists())


def _link() -> Path:
    """Returns the folder of one person's commands by the XDG base directories."""
    return Path.home() / ".local" / "bin" / NAME


def _manual() -> Path:
    return platformdirs.user_data_path() / "man" / "man1"


def _completions() -> dict[str, Path]:
    """Returns the files that each shell reads by itself; zsh reads those of its fpath."""
    data = platformdirs.user_data_path()
    return {
        "bash": data / "bash-completion" / "completions" / NAME,
        "zsh": data / "zsh" / "site-functions" / f"_{NAME}",
        "fish": data / "fish" / "vendor_completions.d" / f"{NAME}.fish",
    }


def _texts(command: click.Group) -> Iterator[tuple[Path, str]]:
    """Yields the files with their content."""
    for shell, path in _completions().items():
        kind = get_completion_class(shell)
        if kind is not None:
            with suppress(RuntimeError):  # that shell is not installed
                yield path, kind(command, {}, NAME, _VARIABLE).source()
    context = click.Context(command, info_name=NAME)
    yield _manual() / f"{NAME}.1", _page(context)
    for name, part in command.commands.items():
        yield _manual() / f"{NAME}-{name}.1", _page(click.Context(part, info_name=name, parent=context))


def _page(context: click.Context) -> str:
    """Returns a manual page. The example has a section of its own, as is usual."""
    lines = [line.strip() for line in str(generate_man_page(context, VERSION)).split("\n")]
    return "\n".join(
        f".SH {line.rstrip(':').upper()}" if line == tr("Example:") else line for line in lines if line != "\b"
    )

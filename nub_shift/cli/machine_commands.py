"""Commands about this machine and its files."""

from __future__ import annotations

import sys
from functools import partial
from pathlib import Path

import click

from nub_shift.cli.console import EXIT_FAULT, fail, json_option, state_argument, switch
from nub_shift.own_process import program_command
from nub_shift.translation import tr


@click.command(short_help=tr("Check what play needs here."))
@click.option(
    "--fix", is_flag=True, help=tr("Install the udev rule that opens pads and /dev/uinput, after showing it.")
)
@click.option(
    "--close-raw", is_flag=True, help=tr("Keep programs from reading pads past the grab, by another udev rule.")
)
@click.option("--yes", is_flag=True, help=tr("Do not ask before installing a rule."))
@json_option
def doctor(fix: bool, close_raw: bool, yes: bool, as_json: bool) -> None:
    """Check what play needs on this machine, and say what to do; exit status 1 if play cannot work.

    \b
    Example:
      nub-shift doctor --fix
    """
    from nub_shift.cli import doctor as checks

    if fix or close_raw:
        sys.exit((checks.install_rule(yes) if fix else 0) or (checks.close_raw(yes) if close_raw else 0))
    sys.exit(0 if checks.show_checks(as_json) else EXIT_FAULT)


@click.command(short_help=tr("List open windows and their profiles."))
@json_option
def games(as_json: bool) -> None:
    """List the windows that are open, what a profile can say of each, and which profile comes on with it.

    \b
    Example:
      nub-shift games
    """
    from nub_shift.cli.listing import list_windows

    try:
        list_windows(as_json)
    except OSError as error:
        fail(str(error))


@click.command(short_help=tr("Check profile files."))
@click.argument("files", type=click.Path(path_type=Path), nargs=-1, required=True, metavar="FILE...")
@json_option
def check(files: tuple[Path, ...], as_json: bool) -> None:
    """Check profile files; each fault is a line `file:line: place: what is wrong, what would be right`.

    \b
    Example:
      nub-shift check saltglass.toml
    """
    from nub_shift.cli.checking import check_files

    sys.exit(0 if check_files(files, as_json) else EXIT_FAULT)


@click.command(short_help=tr("Put the program into the desktop's menu."))
@state_argument
def desktop(state: str) -> None:
    """Put the program into the desktop's menu (on), take it out (off), or say whether it is there.

    With it, files that end with .nubshift open in the library.

    \b
    Example:
      nub-shift desktop on
    """
    from nub_shift.tasks import desktop_entry

    switch(state, lambda: desktop_entry.install(program_command()), desktop_entry.remove, tr("the menu"))
    click.echo(tr("in the menu") if desktop_entry.is_installed() else tr("not in the menu"))


@click.command(short_help=tr("Have terminals know the command."))
@state_argument
def terminal(state: str) -> None:
    """Have terminals know the command (on), with completion and manual pages, forget it (off), or say whether they do.

    \b
    Example:
      nub-shift terminal on
    """
    from nub_shift.cli import terminal as known

    root = click.get_current_context().find_root().command
    assert isinstance(root, click.Group)
    switch(state, partial(known.install, root), known.uninstall, tr("the command"))
    click.echo(known.standing())


@click.command(short_help=tr("Measure speed and memory."))
@click.option("--json", "as_json", is_flag=True, help=tr("Print the figures as JSON."))
@click.option("--quick", is_flag=True, help=tr("Fewer rounds, for a first look."))
@click.option(
    "--part",
    "parts",
    type=click.Choice(["engine", "processes", "session", "kernel", "flood", "soak", "random"]),
    multiple=True,
    help=tr("Only this part."),
)
def bench(as_json: bool, quick: bool, parts: tuple[str, ...]) -> None:
    """Measure speed and memory, each against a baseline that runs in the same session.

    \b
    Example:
      nub-shift bench --quick --part engine
    """
    from nub_shift.bench.report import CannotMeasure, run_bench

    try:
        sys.exit(0 if run_bench(as_json, quick, parts) else EXIT_FAULT)
    except CannotMeasure as error:
        fail(str(error))


@click.command(short_help=tr("Print the schema of profile files."))
def schema() -> None:
    """Print the JSON Schema of a profile file.

    \b
    Example:
      nub-shift schema
    """
    from nub_shift.cli.as_json import print_json
    from nub_shift.model.profile.profile import json_schema

    print_json(json_schema())

"""`nub-shift`: opens the window, or runs a command.

Each command imports what it needs when it runs, since the runner must start in a quarter of a second.
"""

from __future__ import annotations

import errno
import os
import sys
import threading
from inspect import cleandoc

import click

from nub_shift.cli import machine_commands, pad_commands, play_commands
from nub_shift.cli.console import EXIT_FAULT, fail_by_fault, notify
from nub_shift.model.plain_text import system_fault
from nub_shift.translation import tr

# Errors of printing into a closed pipe or onto a full disk.
_CANNOT_PRINT = (errno.EPIPE, errno.ENOSPC, errno.EIO, errno.EBADF)


def entry() -> None:
    """Runs `main`, with unexpected faults logged instead of shown as a trace."""
    try:
        try:
            main(prog_name="nub-shift")
        finally:
            sys.stdout.flush()
    except SystemExit as end:
        _leave_threads(end.code)
        raise
    except OSError as error:
        if error.errno not in _CANNOT_PRINT:
            fail_by_fault(error)
        # The rest of the output is discarded; Python would report an error at exit.
        os.dup2(os.open(os.devnull, os.O_WRONLY), sys.stdout.fileno())
        if error.errno != errno.EPIPE:  # a reader that has closed its end needs no message
            notify(tr("cannot print: {why}", why=system_fault(error)))
        sys.exit(EXIT_FAULT)
    except Exception as fault:  # noqa: BLE001 - the outermost frame
        fail_by_fault(fault)


def _leave_threads(code: str | int | None) -> None:
    """Exits at once if background work is running: a thread stopped within an import keeps its lock, and Python, which
    imports at exit, might wait for it forever.
    """
    others = [thread for thread in threading.enumerate() if thread is not threading.main_thread()]
    if others and all(thread.daemon for thread in others):
        sys.stderr.flush()
        os._exit(code if isinstance(code, int) else int(bool(code)))


def _show_version(context: click.Context, _option: click.Parameter, wanted: bool) -> None:
    if wanted:
        from nub_shift import VERSION
        from nub_shift.compiled import kind

        click.echo(f"nub-shift {VERSION} ({kind()})")
        context.exit()


@click.group(
    short_help=tr("Play games for keyboard and mouse with a pad."),
    invoke_without_command=True,
    context_settings={"help_option_names": ["-h", "--help"]},
)
@click.option(
    "--version", is_flag=True, is_eager=True, expose_value=False, callback=_show_version, help=tr("Show the version.")
)
@click.option("--verbose", is_flag=True, help=tr("Write all that happens to standard error and the log."))
@click.pass_context
def main(context: click.Context, verbose: bool) -> None:
    """Turn a pad into keyboard keys and mouse motion, by per-game profiles.

    Without a command the window opens.

    \b
    Example:
      nub-shift demo
    """
    from nub_shift.cli.logs import set_up_logging

    set_up_logging(verbose, "runner" if context.invoked_subcommand in ("run", "resident") else "nub-shift")
    if context.invoked_subcommand is None:
        context.invoke(play_commands.window, profile=None, pad="", output="", seconds=None, look="")


for _command in (
    play_commands.window,
    play_commands.run,
    play_commands.resident,
    play_commands.session,
    play_commands.demo,
    pad_commands.pads,
    pad_commands.plug,
    pad_commands.card,
    pad_commands.measure,
    pad_commands.record,
    pad_commands.replay,
    machine_commands.doctor,
    machine_commands.games,
    machine_commands.check,
    machine_commands.desktop,
    machine_commands.terminal,
    machine_commands.bench,
    machine_commands.schema,
):
    main.add_command(_command)
for _command in (main, *main.commands.values()):
    _command.help = tr(cleandoc(_command.help or ""))  # the text of its docstring

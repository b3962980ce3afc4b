"""Commands that play: the window, runners without a window, the demo."""

from __future__ import annotations

import sys
from pathlib import Path
from typing import TYPE_CHECKING

import click

from nub_shift.cli.console import (
    OUTPUTS,
    PAD_KINDS,
    SECONDS,
    fail,
    give_up,
    look_option,
    notify,
    say,
    state_argument,
    switch,
)
from nub_shift.demo.games import DEFAULT_GAME, GAMES
from nub_shift.model.kinds import OutputKind
from nub_shift.model.plain_text import system_fault
from nub_shift.model.problems import ProfileError
from nub_shift.translation import tr

if TYPE_CHECKING:
    from nub_shift.protocol.messages import State


@click.command(short_help=tr("Open the window."))
@click.argument("profile", type=click.Path(path_type=Path, dir_okay=False), required=False)
@click.option("--pad", default="", help=tr("As for `run`; the first pad that is connected unless given."))
@click.option("--output", type=OUTPUTS, help=tr("As for `run`; what suits this session unless given."))
@click.option("--seconds", type=SECONDS, help=tr("End by itself after this time."))
@look_option
def window(profile: Path | None, pad: str, output: str | None, seconds: float | None, look: str) -> None:
    """Open the window, on PROFILE or on the profile that was open last.

    \b
    Example:
      nub-shift window saltglass.toml
    """
    from nub_shift.cli.windows import open_window
    from nub_shift.runner.errors import CannotPlay
    from nub_shift.tasks.usual import chosen_pad

    try:
        sys.exit(open_window(profile, chosen_pad(pad) if pad else "", output or "", seconds, look))
    except CannotPlay as error:
        give_up(error)


@click.command(short_help=tr("Play a profile without a window."))
@click.argument("profile", type=click.Path(path_type=Path, dir_okay=False))
@click.option(
    "--pad",
    default="evdev",
    show_default=True,
    help=tr(
        "One of {pad_kinds}. MATCH is part of a name, or a serial number or plug as `pads` lists them.",
        pad_kinds=PAD_KINDS,
    ),
    metavar="PAD",
)
@click.option(
    "--seat",
    "seats",
    type=(str, click.Path(path_type=Path, dir_okay=False)),
    multiple=True,
    help=tr("Another pad with a profile of its own, in the same game."),
    metavar="PAD PROFILE",
)
@click.option("--output", type=OUTPUTS, help=tr("Where keys go; what suits this session unless given."))
@click.option("--rehearse", is_flag=True, help=tr("Send nothing to the system until told to go live."))
@click.option("--seconds", type=SECONDS, help=tr("End by itself after this time."))
@click.option("--socket", type=click.Path(path_type=Path), help=tr("Where to listen for clients."))
@click.option("--until-hangup", is_flag=True, help=tr("End when the last client has hung up."))
@click.option(
    "--profiles",
    "others",
    type=click.Path(path_type=Path, file_okay=False, exists=True),
    multiple=True,
    help=tr("A folder of profiles that the pad may ask for, besides the library."),
)
@click.option("--signs/--no-signs", default=True, show_default=True, help=tr("Show signs on the screen while live."))
def run(
    profile: Path,
    pad: str,
    seats: tuple[tuple[str, Path], ...],
    output: str | None,
    rehearse: bool,
    seconds: float | None,
    socket: Path | None,
    until_hangup: bool,
    others: tuple[Path, ...],
    signs: bool,
) -> None:
    """Play PROFILE without a window. One line on standard error says when it is ready.

    \b
    Example:
      nub-shift run saltglass.toml --pad simulated --rehearse
    """
    from nub_shift.keyboard.session import SessionLayout
    from nub_shift.protocol.sockets import READY, default_socket, is_listening, resident_socket
    from nub_shift.runner.errors import CannotPlay
    from nub_shift.runner.process import Options, Player, play
    from nub_shift.store.library import library_folder
    from nub_shift.store.profile_files import read_profile
    from nub_shift.tasks.usual import chosen_output, chosen_pad

    if not until_hangup and is_listening(resident_socket()):
        notify(tr("the session's runner plays too, and may have the pad; `nub-shift session off` ends it"))
    try:
        where = socket or default_socket()
        layout = SessionLayout()
        given = ((pad, profile), *seats)
        players = tuple(
            Player(chosen_pad(name), read_profile(path, layout), str(path.absolute())) for name, path in given
        )
        folders = others if until_hangup else (*others, library_folder())  # as chosen by the window
        options = Options(
            players, folders, chosen_output(output or ""), rehearse, seconds, where, layout, until_hangup, signs
        )
        play(
            options,
            say,
            lambda state: notify(f"{READY} {_described(state)} | {where}"),
        )
    except (ProfileError, CannotPlay) as error:
        give_up(error)


@click.command(short_help=tr("Play for the whole session."))
@click.option(
    "--output",
    type=OUTPUTS,
    help=tr("As for `run`, kept for the next time; what suits this session unless given."),
)
@click.option("--seconds", type=SECONDS, help=tr("End by itself after this time."))
@click.option("--again", is_flag=True, help=tr("Start again after a crash, where no service manager does."))
def resident(output: str | None, seconds: float | None, again: bool) -> None:
    """Play for the whole session, without a window, what was played last.

    `nub-shift session on` has it start with the desktop session. The window then shows and edits what it plays.

    \b
    Example:
      nub-shift resident --output x11
    """
    from nub_shift.protocol.sockets import READY, is_listening, resident_socket
    from nub_shift.runner.errors import CannotPlay
    from nub_shift.runner.process import play
    from nub_shift.tasks.resident import resident_options

    if is_listening(resident_socket()):
        notify(tr("the runner of this session is there already"))
        return
    if again:
        from nub_shift.tasks.keep_resident import become_keeper

        become_keeper(*(["--output", output] if output else []))
    try:
        to = OutputKind(output) if output else None
        play(
            resident_options(to, seconds, _described),
            say,
            lambda state: notify(f"{READY} {_described(state)}"),
        )
    except (ProfileError, CannotPlay) as error:
        give_up(error)
    except OSError as error:
        fail(f"{error.filename or tr('the profiles')}: {system_fault(error)}")


@click.command(short_help=tr("Start playing with the desktop session."))
@state_argument
def session(state: str) -> None:
    """Start playing with the desktop session (on), stop that (off), or say whether it does.

    Where systemd runs the session, its journal has what the runner says: `journalctl --user -u nub-shift`.

    \b
    Example:
      nub-shift session on
    """
    from nub_shift.runner.errors import CannotPlay
    from nub_shift.tasks import session_start

    try:
        switch(state, session_start.switch_on, session_start.switch_off, tr("the session"))
    except CannotPlay as error:
        give_up(error)
    found = session_start.standing()
    start = found.start
    click.echo(
        tr("starts with the desktop session (by {start})", start=start.value)
        if start is not None
        else tr("does not start with the desktop session")
    )
    click.echo(
        tr("plays now: {what}", what=_described(found.state)) if found.state is not None else tr("does not play now")
    )


@click.command(short_help=tr("Show the whole product."))
@click.option("--seconds", type=SECONDS, help=tr("End by itself after this time."))
@click.option("--text", is_flag=True, help=tr("Without a window, even where there is a display."))
@click.option(
    "--game", type=click.Choice(GAMES), default=DEFAULT_GAME, show_default=True, help=tr("Which invented game.")
)
@look_option
def demo(seconds: float | None, text: bool, game: str, look: str) -> None:
    """Show the whole product with a simulated pad and an invented game.

    \b
    Example:
      nub-shift demo --game tidefold
    """
    from nub_shift.cli.windows import show_demo

    sys.exit(show_demo(seconds, text, look, game))


def _described(state: State) -> str:
    """Returns each seat's profile and pad, and the receiver of keys."""
    seats = " | ".join(f"{seat.title} | {seat.pad.name or tr('no pad yet')}" for seat in state.seats)
    live = tr("live, but only in programs that use X11") if state.x11_only else tr("live")
    held = tr("live behind the window") if state.wanted else tr("rehearsal")
    return f"{seats} | {state.output}, {live if state.live else held}"

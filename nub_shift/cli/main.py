"""`nub-shift`: the window without a command, the commands below otherwise.

Each command imports what it needs when it runs, since the runner must be up in a quarter of a second.
"""

from __future__ import annotations

import errno
import os
import sys
import threading
from contextlib import closing, suppress
from pathlib import Path
from typing import TYPE_CHECKING, NoReturn

import click

from nub_shift.demo.games import DEFAULT_GAME, GAMES
from nub_shift.model.kinds import OutputKind, PadKind
from nub_shift.model.messages import Message, Saying
from nub_shift.model.plain_text import plain_text, system_fault
from nub_shift.model.problems import ProfileError

if TYPE_CHECKING:
    from nub_shift.protocol.messages import State

EXIT_FAULT = 1
# What the system says when what is printed goes nowhere.
_CANNOT_PRINT = (errno.EPIPE, errno.ENOSPC, errno.EIO, errno.EBADF)
PAD_KINDS = ", ".join(kind.value for kind in PadKind)

_json_option = click.option("--json", "as_json", is_flag=True, help="As JSON, for other programs.")
_look_option = click.option(
    "--look", type=click.Choice(["", "day", "night"]), default="", help="Day or night; as the desktop is unless given."
)


def _tell(line: str) -> None:
    with suppress(OSError, ValueError):  # nobody listens any more; play goes on
        click.echo("nub-shift: " + plain_text(line, kept="\n"), err=True)


def entry() -> None:
    """Where the command starts: `main`, with faults of ours noted and not shown as a trace."""
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
            _fail_by_fault(error)
        # What is still to be printed never will be; Python would complain of that as it ends.
        os.dup2(os.open(os.devnull, os.O_WRONLY), sys.stdout.fileno())
        if error.errno != errno.EPIPE:  # a reader that has seen enough needs no word
            _tell(f"cannot print: {system_fault(error)}")
        sys.exit(EXIT_FAULT)
    except Exception as fault:  # noqa: BLE001 - the outermost frame
        _fail_by_fault(fault)


def _leave_threads(code: str | int | None) -> None:
    """Ends at once if work beside play goes on: a thread that is stopped half-way through an import keeps its lock, and
    Python, which imports as it ends, might wait for that for ever.
    """
    others = [thread for thread in threading.enumerate() if thread is not threading.main_thread()]
    if others and all(thread.daemon for thread in others):
        sys.stderr.flush()
        os._exit(code if isinstance(code, int) else int(bool(code)))


def _fail_by_fault(fault: Exception) -> NoReturn:
    from nub_shift.cli.logs import note_fault

    _fail(note_fault(type(fault), fault, fault.__traceback__))


def _say(message: Message) -> None:
    """Tells what the runner has to say."""
    from nub_shift.editing.words.messages import message_words

    _tell(message_words(message))


def _give_up(error: Saying | ProfileError) -> NoReturn:
    """Ends with what an error says."""
    if isinstance(error, Saying):
        _say(error.message)
    else:
        _tell(str(error))
    sys.exit(EXIT_FAULT)


def _fail(line: str) -> NoReturn:
    _tell(line)
    sys.exit(EXIT_FAULT)


def _show_version(context: click.Context, _option: click.Parameter, wanted: bool) -> None:
    if wanted:
        from nub_shift import VERSION
        from nub_shift.compiled import kind

        click.echo(f"nub-shift {VERSION} ({kind()})")
        context.exit()


@click.group(invoke_without_command=True, context_settings={"help_option_names": ["-h", "--help"]})
@click.option("--version", is_flag=True, is_eager=True, expose_value=False, callback=_show_version, help="Show it.")
@click.option("--verbose", is_flag=True, help="Tell on standard error, and in the log, all that happens.")
@click.pass_context
def main(context: click.Context, verbose: bool) -> None:
    """Turn a pad into keyboard keys and mouse motion, by per-game profiles.

    Without a command the window opens.
    """
    from nub_shift.cli.logs import set_up_logging

    set_up_logging(verbose, "runner" if context.invoked_subcommand in ("run", "resident") else "nub-shift")
    if context.invoked_subcommand is None:
        context.invoke(window, profile=None, pad="", output="", seconds=None, look="")


@main.command()
@click.argument("profile", type=click.Path(path_type=Path, dir_okay=False), required=False)
@click.option("--pad", default="", help="As for `run`; the first pad that is connected unless given.")
@click.option("--output", default="", help="As for `run`; what suits this session unless given.")
@click.option("--seconds", type=click.FloatRange(min=0), help="End by itself after this time.")
@_look_option
def window(profile: Path | None, pad: str, output: str, seconds: float | None, look: str) -> None:
    """Open the window, on PROFILE or on the profile that was open last."""
    from nub_shift.cli.windows import open_window

    sys.exit(open_window(profile, pad, output, seconds, look))


@main.command()
@click.argument("state", type=click.Choice(["on", "off", "status"]), default="status")
def desktop(state: str) -> None:
    """Put the program into the desktop's menu (on), take it out (off), or say whether it is there.

    With it, files that end with .nubshift open in the library.
    """
    from nub_shift.tasks import desktop_entry

    try:
        if state == "on":
            desktop_entry.install(str(Path(sys.argv[0]).absolute()))
        elif state == "off":
            desktop_entry.remove()
    except OSError as error:
        _fail(f"{error.filename or 'the menu'}: {system_fault(error)}")
    click.echo("in the menu" if desktop_entry.is_installed() else "not in the menu")


@main.command()
@click.argument("profile", type=click.Path(path_type=Path, dir_okay=False))
@click.option(
    "--pad",
    default="evdev",
    show_default=True,
    help=f"One of {PAD_KINDS}. MATCH is part of a name, or a serial number or plug as `pads` lists them.",
    metavar="PAD",
)
@click.option(
    "--seat",
    "seats",
    type=(str, click.Path(path_type=Path, dir_okay=False)),
    multiple=True,
    help="Another pad with a profile of its own, in the same game.",
    metavar="PAD PROFILE",
)
@click.option("--output", type=click.Choice([kind.value for kind in OutputKind]), default="uinput", show_default=True)
@click.option("--rehearse", is_flag=True, help="Send nothing to the system until told to go live.")
@click.option("--seconds", type=click.FloatRange(min=0), help="End by itself after this time.")
@click.option("--socket", type=click.Path(path_type=Path), help="Where to listen for clients.")
@click.option("--until-hangup", is_flag=True, help="End when the last client has hung up.")
@click.option(
    "--profiles",
    "others",
    type=click.Path(path_type=Path, file_okay=False, exists=True),
    multiple=True,
    help="A folder of profiles that the pad may ask for, besides the library.",
)
@click.option("--signs/--no-signs", default=True, show_default=True, help="Show on the screen what goes on while live.")
def run(
    profile: Path,
    pad: str,
    seats: tuple[tuple[str, Path], ...],
    output: str,
    rehearse: bool,
    seconds: float | None,
    socket: Path | None,
    until_hangup: bool,
    others: tuple[Path, ...],
    signs: bool,
) -> None:
    """Play PROFILE without a window. One line on standard error says when it is ready."""
    from nub_shift.keyboard.session import SessionLayout
    from nub_shift.protocol.sockets import default_socket, is_heard, resident_socket
    from nub_shift.runner.errors import CannotPlay
    from nub_shift.runner.process import Options, Player, play
    from nub_shift.store.library import library_folder
    from nub_shift.store.profile_files import read_profile

    if not until_hangup and is_heard(resident_socket()):
        _tell("the session's runner plays too, and may have the pad; `nub-shift session off` ends it")
    try:
        where = socket or default_socket()
        layout = SessionLayout()
        given = ((pad, profile), *seats)
        players = tuple(Player(name, read_profile(path, layout), str(path.absolute())) for name, path in given)
        # A window plays what it edits, and shows a request for another profile itself.
        folders = () if until_hangup else (*others, library_folder())
        options = Options(players, folders, OutputKind(output), rehearse, seconds, where, layout, until_hangup, signs)
        play(options, _say, lambda state: _tell(f"ready: {_described(state)} | {where}"))
    except (ProfileError, CannotPlay) as error:
        _give_up(error)


@main.command()
@click.option(
    "--output",
    type=click.Choice([kind.value for kind in OutputKind]),
    help="As for `run`, kept for the next time; what suits this session unless given.",
)
@click.option("--seconds", type=click.FloatRange(min=0), help="End by itself after this time.")
def resident(output: str | None, seconds: float | None) -> None:
    """Play for the whole session, without a window, what was played last.

    `nub-shift session on` has it start with the desktop session. The window then shows and edits what it plays.
    """
    from nub_shift.protocol.sockets import is_heard, resident_socket
    from nub_shift.runner.errors import CannotPlay
    from nub_shift.runner.process import play
    from nub_shift.tasks.resident import resident_options

    if is_heard(resident_socket()):
        _tell("the runner of this session is there already")
        return
    try:
        to = OutputKind(output) if output else None
        play(resident_options(to, seconds, _described), _say, lambda state: _tell(f"ready: {_described(state)}"))
    except (ProfileError, CannotPlay) as error:
        _give_up(error)
    except OSError as error:
        _fail(f"{error.filename or 'the profiles'}: {system_fault(error)}")


@main.command()
@click.argument("state", type=click.Choice(["on", "off", "status"]), default="status")
def session(state: str) -> None:
    """Have play start with the desktop session (on), start no more and end (off), or say how it is.

    Where systemd runs the session, its journal has what the runner says: `journalctl --user -u nub-shift`.
    """
    from nub_shift.runner.errors import CannotPlay
    from nub_shift.tasks import session_start

    try:
        if state == "on":
            session_start.switch_on(str(Path(sys.argv[0]).absolute()))
        elif state == "off":
            session_start.switch_off()
    except CannotPlay as error:
        _give_up(error)
    except OSError as error:
        _fail(f"{error.filename or 'the session'}: {system_fault(error)}")
    found = session_start.standing()
    by = f" (by {found.start.value})" if found.start is not None else ""
    click.echo(f"starts with the desktop session{by}" if by else "does not start with the desktop session")
    click.echo(f"plays now: {_described(found.state)}" if found.state is not None else "does not play now")


def _described(state: State) -> str:
    """Each seat's profile and pad, and where keys go."""
    seats = " | ".join(f"{seat.title} | {seat.pad.name or 'no pad yet'}" for seat in state.seats)
    live = "live, but only in programs that use X11" if state.x11_only else "live"
    held = "live behind the window" if state.wanted else "rehearsal"
    return f"{seats} | {state.output}, {live if state.live else held}"


@main.command()
@click.argument("recording", type=click.Path(path_type=Path, dir_okay=False))
@click.argument("profile", type=click.Path(path_type=Path, dir_okay=False))
@click.option(
    "--with",
    "others",
    type=click.Path(path_type=Path, dir_okay=False),
    multiple=True,
    help="Of its motion sensors, say.",
)
def replay(recording: Path, profile: Path, others: tuple[Path, ...]) -> None:
    """Run RECORDING through PROFILE in virtual time and print the outputs as JSON lines."""
    from nub_shift.keyboard.session import SessionLayout
    from nub_shift.runner.errors import CannotPlay
    from nub_shift.store.profile_files import read_profile
    from nub_shift.tasks.replay import replay_files

    try:
        layout = SessionLayout()
        outputs = replay_files([recording, *others], read_profile(profile, layout), layout)
        sys.stdout.buffer.writelines(outputs)
    except (ProfileError, CannotPlay) as error:
        _give_up(error)
    except BrokenPipeError:
        sys.stderr.close()


@main.command()
@click.argument("files", type=click.Path(path_type=Path), nargs=-1, required=True, metavar="FILE...")
@_json_option
def check(files: tuple[Path, ...], as_json: bool) -> None:
    """Check profile files; each fault is a line `file:line: place: what is wrong, what would be right`."""
    from nub_shift.cli.checking import check_files

    sys.exit(0 if check_files(files, as_json) else EXIT_FAULT)


@main.command()
@_json_option
def pads(as_json: bool) -> None:
    """List the pads that are connected, their controls, and what is missing."""
    from nub_shift.cli.listing import list_pads

    list_pads(as_json)


@main.command()
@_json_option
def games(as_json: bool) -> None:
    """List the windows that are open, what a profile can say of each, and which profile comes on with it."""
    from nub_shift.cli.listing import list_windows

    try:
        list_windows(as_json)
    except OSError as error:
        _fail(str(error))


@main.command()
@click.argument("name")
@click.option("--out", is_flag=True, help="Pull it out.")
@click.option("--socket", type=click.Path(path_type=Path), help="Of the runner; the one started last unless given.")
def plug(name: str, out: bool, socket: Path | None) -> None:
    """Plug the made-up pad NAME into a runner that plays, or pull it out."""
    from nub_shift.protocol.calls import PlugIn, Unplug
    from nub_shift.protocol.client import RunnerClient, RunnerError
    from nub_shift.protocol.sockets import running_sockets

    where = [socket] if socket is not None else running_sockets()
    if not where:
        _fail("no runner plays; start one with `nub-shift run` or open the window")
    try:
        with closing(RunnerClient(where[0])) as client:
            client.call(Unplug(name) if out else PlugIn(name))
    except RunnerError as error:
        if error.why is not None:
            _say(error.why)
            sys.exit(EXIT_FAULT)
        _fail(str(error))
    except OSError as error:
        _fail(f"{where[0]}: {system_fault(error)}")


@main.command()
@click.option("--pad", default="evdev", show_default=True, help="As for `run`.", metavar="PAD")
@click.option("--mapping", is_flag=True, help="As a line in SDL's controller mapping format.")
@click.option("--take", type=click.Path(path_type=Path, dir_okay=False), help="Take in a card or such a line.")
def card(pad: str, mapping: bool, take: Path | None) -> None:
    """Print what is known of a pad (its card), or take in another."""
    from nub_shift.runner.errors import CannotPlay
    from nub_shift.tasks.card_commands import export_card, import_card

    try:
        click.echo(export_card(pad, mapping) if take is None else import_card(pad, take))
    except CannotPlay as error:
        _give_up(error)


@main.command()
@click.option("--pad", default="evdev", show_default=True, help="As for `run`.", metavar="PAD")
@click.option("--rim", is_flag=True, help="Go round the rim with a stick, in place of leaving the pad alone.")
@click.option("--seconds", type=click.FloatRange(min=2), default=5.0, show_default=True, help="For how long.")
def measure(pad: str, rim: bool, seconds: float) -> None:
    """Measure a pad at rest, or its sticks round the rim, and offer the settings that follow."""
    from nub_shift.cli.measure import tell_rest, tell_rim
    from nub_shift.runner.errors import CannotPlay
    from nub_shift.tasks.capture import capture

    if pad.startswith("evdev"):
        _tell(f"go round the rim, slowly, for {seconds:g} s" if rim else f"leave the pad alone for {seconds:g} s")
    try:
        frames = capture(pad, seconds, rim)
    except CannotPlay as error:
        _give_up(error)
    if not (tell_rim(frames) if rim else tell_rest(frames, seconds)):
        _fail("there was nothing to measure")


@main.command()
@click.option("--fix", is_flag=True, help="Install the udev rule that opens pads and /dev/uinput, after showing it.")
@click.option("--close-raw", is_flag=True, help="Keep programs from reading pads past the grab, by another udev rule.")
@click.option("--yes", is_flag=True, help="With these: do not ask.")
@_json_option
def doctor(fix: bool, close_raw: bool, yes: bool, as_json: bool) -> None:
    """Check what play needs on this machine, and say what to do; exit status 1 if play cannot work."""
    from nub_shift.cli import doctor as checks

    if fix or close_raw:
        sys.exit((checks.install_rule(yes) if fix else 0) or (checks.close_raw(yes) if close_raw else 0))
    sys.exit(0 if checks.show_checks(as_json) else EXIT_FAULT)


@main.command()
@click.argument("file", type=click.Path(path_type=Path, dir_okay=False))
@click.option("--pad", default="evdev", show_default=True, help="simulated[:NAME] or evdev[:MATCH].", metavar="PAD")
@click.option("--seconds", type=click.FloatRange(min=0), help="End by itself after this time.")
def record(file: Path, pad: str, seconds: float | None) -> None:
    """Record what a pad does into FILE, in the text event format, until interrupted."""
    from nub_shift.runner.errors import CannotPlay
    from nub_shift.tasks.record import record_pad

    try:
        _tell(record_pad(file, pad, seconds, _tell))
    except CannotPlay as error:
        _give_up(error)
    except OSError as error:
        _fail(f"{file}: {system_fault(error)}")


@main.command()
@click.option("--seconds", type=click.FloatRange(min=0), help="End by itself after this time.")
@click.option("--text", is_flag=True, help="Without a window, even where there is a display.")
@click.option("--game", type=click.Choice(GAMES), default=DEFAULT_GAME, show_default=True, help="Which invented game.")
@_look_option
def demo(seconds: float | None, text: bool, game: str, look: str) -> None:
    """Show the whole product with a made-up pad and an invented game."""
    from nub_shift.cli.windows import show_demo

    sys.exit(show_demo(seconds, text, look, game))


@main.command()
@click.option("--json", "as_json", is_flag=True, help="Print the figures as JSON.")
@click.option("--quick", is_flag=True, help="Fewer rounds, for a first look.")
@click.option(
    "--part",
    "parts",
    type=click.Choice(["engine", "processes", "session", "kernel", "flood", "soak", "random"]),
    multiple=True,
    help="Only this.",
)
def bench(as_json: bool, quick: bool, parts: tuple[str, ...]) -> None:
    """Measure speed and memory, each against a baseline that runs in the same session."""
    from nub_shift.bench.report import CannotMeasure, run_bench

    try:
        sys.exit(0 if run_bench(as_json, quick, parts) else EXIT_FAULT)
    except CannotMeasure as error:
        _fail(str(error))


@main.command()
def schema() -> None:
    """Print the JSON Schema of a profile file."""
    from nub_shift.cli.as_json import print_json
    from nub_shift.model.profile import json_schema

    print_json(json_schema())

"""Commands about pads."""

from __future__ import annotations

import sys
from contextlib import closing
from pathlib import Path

import click

from nub_shift.cli.console import EXIT_FAULT, SECONDS, Seconds, fail, give_up, json_option, notify, say
from nub_shift.model.plain_text import system_fault
from nub_shift.model.problems import ProfileError
from nub_shift.translation import tr


@click.command(short_help=tr("List the connected pads."))
@json_option
def pads(as_json: bool) -> None:
    """List the pads that are connected, their controls, and what is missing.

    \b
    Example:
      nub-shift pads
    """
    from nub_shift.cli.listing import list_pads

    list_pads(as_json)


@click.command(short_help=tr("Plug in a simulated pad."))
@click.argument("name")
@click.option("--out", is_flag=True, help=tr("Unplug it."))
@click.option(
    "--socket", type=click.Path(path_type=Path), help=tr("The socket of the runner; the one started last unless given.")
)
def plug(name: str, out: bool, socket: Path | None) -> None:
    """Plug the simulated pad NAME into a runner that plays, or unplug it.

    \b
    Example:
      nub-shift plug tern
    """
    from nub_shift.protocol.calls import PlugIn, Unplug
    from nub_shift.protocol.client import RunnerClient, RunnerError
    from nub_shift.protocol.sockets import running_sockets

    where = [socket] if socket is not None else running_sockets()
    if not where:
        fail(tr("no runner plays; start one with `nub-shift run` or open the window"))
    try:
        with closing(RunnerClient(where[0])) as client:
            client.call(Unplug(name) if out else PlugIn(name))
    except RunnerError as error:
        if error.why is not None:
            say(error.why)
            sys.exit(EXIT_FAULT)
        fail(str(error))
    except OSError as error:
        fail(f"{where[0]}: {system_fault(error)}")


@click.command(short_help=tr("Print or keep the card of a pad."))
@click.option("--pad", default="evdev", show_default=True, help=tr("As for `run`."), metavar="PAD")
@click.option("--mapping", is_flag=True, help=tr("As a line in SDL's controller mapping format."))
@click.option(
    "--take", type=click.Path(path_type=Path, dir_okay=False), help=tr("Keep this card, or such a line, for the pad.")
)
def card(pad: str, mapping: bool, take: Path | None) -> None:
    """Print what is known of a pad (its card), or keep another card for it.

    \b
    Example:
      nub-shift card --pad simulated --mapping
    """
    from nub_shift.runner.errors import CannotPlay
    from nub_shift.tasks.card_commands import export_card, import_card

    try:
        click.echo(export_card(pad, mapping) if take is None else import_card(pad, take))
    except CannotPlay as error:
        give_up(error)


@click.command(short_help=tr("Measure rest and range of a pad."))
@click.option("--pad", default="evdev", show_default=True, help=tr("As for `run`."), metavar="PAD")
@click.option("--rim", is_flag=True, help=tr("Measure range: roll each stick slowly along its edge."))
@click.option("--seconds", type=Seconds(min=2), default=5.0, show_default=True, help=tr("For how long."))
def measure(pad: str, rim: bool, seconds: float) -> None:
    """Measure a pad at rest, or the range of its sticks, and suggest settings.

    \b
    Example:
      nub-shift measure --pad simulated:teasel --seconds 3
    """
    from nub_shift.cli.measure import print_rest, print_rim
    from nub_shift.runner.errors import CannotPlay
    from nub_shift.tasks.capture import capture

    if pad.startswith("evdev"):
        notify(
            tr("roll each stick slowly along its edge for {seconds:g} s", seconds=seconds)
            if rim
            else tr("do not touch the pad for {seconds:g} s", seconds=seconds)
        )
    try:
        frames = capture(pad, seconds, rim)
    except CannotPlay as error:
        give_up(error)
    if not (print_rim(frames) if rim else print_rest(frames, seconds)):
        fail(tr("nothing was measured: no stick or sensor of this pad moved or was read"))


@click.command(short_help=tr("Record what a pad does."))
@click.argument("file", type=click.Path(path_type=Path, dir_okay=False))
@click.option("--pad", default="evdev", show_default=True, help=tr("simulated[:NAME] or evdev[:MATCH]."), metavar="PAD")
@click.option("--seconds", type=SECONDS, help=tr("End by itself after this time."))
def record(file: Path, pad: str, seconds: float | None) -> None:
    """Record what a pad does into FILE, in the text event format, until interrupted.

    \b
    Example:
      nub-shift record evening.txt
    """
    from nub_shift.runner.errors import CannotPlay
    from nub_shift.tasks.record import record_pad

    try:
        notify(record_pad(file, pad, seconds, notify))
    except CannotPlay as error:
        give_up(error)
    except OSError as error:
        fail(f"{file}: {system_fault(error)}")


@click.command(short_help=tr("Run a recording through a profile."))
@click.argument("recording", type=click.Path(path_type=Path, dir_okay=False))
@click.argument("profile", type=click.Path(path_type=Path, dir_okay=False))
@click.option(
    "--with",
    "others",
    type=click.Path(path_type=Path, dir_okay=False),
    multiple=True,
    help=tr("Another part of the same recording, as that of the motion sensors."),
)
def replay(recording: Path, profile: Path, others: tuple[Path, ...]) -> None:
    """Run RECORDING through PROFILE in virtual time and print the outputs as JSON lines.

    \b
    Example:
      nub-shift replay evening.txt saltglass.toml
    """
    from nub_shift.keyboard.session import SessionLayout
    from nub_shift.runner.errors import CannotPlay
    from nub_shift.store.profile_files import read_profile
    from nub_shift.tasks.replay import replay_files

    try:
        layout = SessionLayout()
        outputs = replay_files([recording, *others], read_profile(profile, layout), layout)
        sys.stdout.buffer.writelines(outputs)
    except (ProfileError, CannotPlay) as error:
        give_up(error)
    except BrokenPipeError:
        sys.stderr.close()

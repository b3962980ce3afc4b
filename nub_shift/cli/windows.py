"""The window and the demo, depending on the session's display."""

from __future__ import annotations

import os
import shutil
import tempfile
from functools import partial
from pathlib import Path

import click

from nub_shift.cli.logs import note_fault
from nub_shift.demo.games import PAD_OF_GAME, demo_examples, demo_profile_text
from nub_shift.keyboard.layout_watch import LayoutWatch
from nub_shift.model.plain_text import system_fault
from nub_shift.model.problems import ProfileError
from nub_shift.protocol.messages import State
from nub_shift.protocol.window_call import call_window
from nub_shift.store.atomic import write_text
from nub_shift.store.library import is_own, library_folder
from nub_shift.store.profile_files import read_profile
from nub_shift.tasks.session_start import resident_state
from nub_shift.tasks.usual import chosen_output, newest_profile, usual_output
from nub_shift.translation import tr


def open_window(profile: Path | None, pad: str, output: str, seconds: float | None, look: str) -> int:
    """Opens the window; without a profile on the newest one, or a first empty one.

    A file outside the library is shown there, to be added. If a window is open already, it comes to the front.
    """
    if not has_display():
        click.echo(tr("nub-shift: there is no display; use `nub-shift run` to play without a window"), err=True)
        return 1
    if (name := silent_display()) is not None:
        click.echo(tr("nub-shift: the display {name} does not answer; is DISPLAY right?", name=name), err=True)
        return 1
    faulty = profile is not None and _says_faults(profile)
    if (answered := call_window(profile)) is not None:
        kept = tr(" (it keeps its pad and output)") if pad or output else ""
        said = answered.fault or tr("the window is open already and comes to the front{kept}", kept=kept)
        click.echo(f"nub-shift: {said}", err=True)
        return int(faulty or bool(answered.fault))
    from nub_shift.ui.app import run_window
    from nub_shift.ui.runner_start import OwnRunner, SessionRunner

    given = profile if profile is not None and not is_own(profile) else None
    stays = resident_state() if not pad and not output else None
    try:
        shown = profile if profile is not None and given is None else _played(stays) or newest_profile()
        library_folder().mkdir(parents=True, exist_ok=True)
        output = chosen_output(output).value
        own = partial(OwnRunner, pad=pad or "evdev", output=output, folder=library_folder())
        runner = SessionRunner if stays is not None else partial(own, shown)
        opening = partial(
            run_window,
            is_only=True,
            examples=demo_examples(),
            given=given,
            own_runner=own,
            named=profile is not None and given is None,
        )
        return opening(shown, runner, seconds, note_fault, look) or int(faulty)
    except ProfileError as error:
        click.echo(f"nub-shift: {error}", err=True)
    except OSError as error:
        click.echo(f"nub-shift: {error.filename} cannot be written: {system_fault(error)}", err=True)
    return 1


def _says_faults(profile: Path) -> bool:
    """Prints the faults of a file from elsewhere, as `run` does; the window shows them, too."""
    if is_own(profile):
        return False  # read, and refused, at opening
    try:
        read_profile(profile)
    except ProfileError as error:
        click.echo(f"nub-shift: {error}", err=True)
        return True
    return False


def _played(state: State | None) -> Path | None:
    """Returns the profile in play in the session's runner, if it can be opened."""
    file = Path(state.seats[0].file) if state is not None and state.seats[0].file else None
    return file if file is not None and file.exists() else None


def show_demo(seconds: float | None, text: bool, look: str, game: str) -> int:
    """Runs the demo in a window, or as text without a display. Edits go to a copy that is deleted."""
    folder = Path(tempfile.mkdtemp(prefix="nub-shift-demo-"))
    try:
        profile = folder / f"{game}.toml"
        write_text(profile, demo_profile_text(game))
        pad = f"simulated:{PAD_OF_GAME[game]}"
        if text or not has_display() or silent_display() is not None:
            if not text:
                click.echo(tr("There is no display: the same demo in words."))
            from nub_shift.cli.narration import narrate

            narrate(profile, pad, seconds)
            return 0
        from nub_shift.ui.app import run_window
        from nub_shift.ui.runner_start import OwnRunner

        runner = partial(OwnRunner, profile, pad, usual_output().value, folder)
        return run_window(profile, runner, seconds, note_fault, look, examples=demo_examples())
    finally:
        shutil.rmtree(folder, ignore_errors=True)


def has_display() -> bool:
    """Returns whether a window can be shown (also on Qt's offscreen platform, for tests)."""
    return any(os.environ.get(name) for name in ("DISPLAY", "WAYLAND_DISPLAY", "QT_QPA_PLATFORM"))


def silent_display() -> str | None:
    """Returns the X display of the window if its server does not answer: Qt would end the program."""
    name = os.environ.get("DISPLAY", "")
    platform = os.environ.get("QT_QPA_PLATFORM", "")
    if not name or platform not in ("", "xcb") or (platform == "" and os.environ.get("WAYLAND_DISPLAY")):
        return None
    connection = LayoutWatch.connect()
    if connection is None:
        return name
    connection.close()
    return None

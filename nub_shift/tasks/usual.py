"""Defaults: the output that suits this session, the last used profile."""

from __future__ import annotations

import os
from collections.abc import Iterator
from contextlib import suppress
from pathlib import Path
from typing import assert_never

from nub_shift.keyboard.layout import LayoutSource
from nub_shift.model.kinds import OutputKind, PadKind
from nub_shift.model.problems import ProfileError
from nub_shift.model.profile.profile import SCHEMA_VERSION, Profile
from nub_shift.pads.pad import PadError
from nub_shift.pads.spec import PadSpec, parse_spec
from nub_shift.runner.errors import CannotPlay
from nub_shift.store.library import entries, fresh_path, library_folder
from nub_shift.store.profile_files import read_profile, write_profile
from nub_shift.translation import tr


def usual_output() -> OutputKind:
    """Returns uinput where permitted, else X11 where there is a server."""
    if os.access("/dev/uinput", os.W_OK) or not os.environ.get("DISPLAY"):
        return OutputKind.UINPUT
    return OutputKind.X11


def chosen_output(name: str) -> OutputKind:
    """Returns the output of a name; the default without one."""
    return OutputKind(name) if name else usual_output()


def chosen_pad(text: str) -> str:
    """Returns the text after `--pad` in a form for any process of ours: with the whole path of a recording.

    Raises:
        CannotPlay: unknown kind of pad, simulated pad or recording.
    """
    from nub_shift.pads.made_up.shapes import simulated_key  # imported late: rarely needed
    from nub_shift.pads.recorded.recordings import open_recording

    try:
        spec = parse_spec(text)
        match spec.kind:
            case PadKind.RECORDED:
                open_recording(spec.file)
                return PadSpec(spec.kind, str(spec.file.absolute())).text
            case PadKind.SIMULATED:
                if spec.match:
                    simulated_key(spec.match)
                return text
            case PadKind.EVDEV:
                return text
            case _:
                assert_never(spec.kind)
    except PadError as error:
        raise CannotPlay.of(error.message) from None


def newest_profile() -> Path:
    """Returns the last used profile; an empty one is created if there is none.

    Raises:
        OSError: the profile cannot be created.
    """
    return next(_kept(), None) or _first_profile()


def newest_sound_profile(layout: LayoutSource) -> tuple[Profile, Path]:
    """Returns the last used profile without faults.

    Raises:
        OSError: as for `newest_profile`.
    """
    for path in _kept():
        with suppress(ProfileError):
            return read_profile(path, layout), path
    path = _first_profile()
    return read_profile(path, layout), path


def _kept() -> Iterator[Path]:
    return (entry.path for entry in entries(library_folder()) if not entry.binned)


def _first_profile() -> Path:
    folder = library_folder()
    try:
        folder.mkdir(parents=True, exist_ok=True)
        first = fresh_path(folder, "first")
        write_profile(first, Profile(schema=SCHEMA_VERSION, title=tr("First profile")))
    except OSError as error:
        raise OSError(error.errno, error.strerror, str(folder)) from None
    return first

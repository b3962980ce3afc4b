"""Entry of the program in the desktop's menu, with its icon and the type of exported profiles."""

from __future__ import annotations

import errno
import shutil
import subprocess
from collections.abc import Sequence
from pathlib import Path

import platformdirs

from nub_shift import VERSION
from nub_shift.desktop import MIME, template
from nub_shift.model.profile.activation import APP_ID
from nub_shift.store.atomic import write_text
from nub_shift.store.library import EXPORT_SUFFIX
from nub_shift.tasks.launchers import desktop_exec, desktop_words, starts
from nub_shift.translation import tr

# Commands that refresh the desktop's caches of these files, where available.
_REFRESH = ((("update-mime-database",), "mime"), (("update-desktop-database", "-q"), "applications"))


def written(command: Sequence[str]) -> dict[Path, str]:
    """Returns the files of the desktop entry with their content; `command` starts the program."""
    data = platformdirs.user_data_path()
    values = {
        "command": desktop_exec(command),
        "app_id": APP_ID,
        "mime": MIME,
        "suffix": EXPORT_SUFFIX,
        "version": VERSION,
    }
    return {
        data / "applications" / f"{APP_ID}.desktop": template("entry.desktop").format(**values),
        data / "mime" / "packages" / f"{APP_ID}.xml": template("kind.xml").format(**values),
        data / "metainfo" / f"{APP_ID}.metainfo.xml": template("metainfo.xml").format(**values),
        data / "icons" / "hicolor" / "scalable" / "apps" / f"{APP_ID}.svg": template("icon.svg"),
    }


def install(command: Sequence[str]) -> None:
    """Installs the files and tries the entry.

    Raises:
        OSError: a file cannot be written, or the entry would not start the program.
    """
    files = written(command)
    for path, text in files.items():
        path.parent.mkdir(parents=True, exist_ok=True)
        write_text(path, text)
    entry = next(path for path in files if path.suffix == ".desktop")
    line = next(line for line in entry.read_text("utf-8").splitlines() if line.startswith("Exec="))
    if not starts(desktop_words(line.removeprefix("Exec=").rpartition(' "window"')[0])):
        remove()
        raise OSError(errno.ENOEXEC, tr("does not start the program, so it is not kept"), str(entry))
    _refresh()


def remove() -> None:
    """Removes the files.

    Raises:
        OSError: a file cannot be removed.
    """
    for path in written(()):
        path.unlink(missing_ok=True)
    _refresh()


def is_installed() -> bool:
    """Returns whether the files are installed."""
    return all(path.exists() for path in written(()))


def _refresh() -> None:
    data = platformdirs.user_data_path()
    for command, folder in _REFRESH:
        if shutil.which(command[0]) is not None and (data / folder).is_dir():
            subprocess.run([*command, str(data / folder)], check=False, capture_output=True, timeout=30)

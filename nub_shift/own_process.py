"""Start of processes of this program.

Python searches its working folder, and folders in `PYTHON*` variables, before ours. Foreign files must not decide what
runs, so every process is isolated from both, in a working folder without such files.
"""

from __future__ import annotations

import os
import re
import subprocess
import sys
from collections.abc import Mapping, Sequence
from pathlib import Path
from typing import IO, Any, Final

PROGRAM: Final = "nub_shift"
# Working folder of our processes, writable by the system's owner alone.
FOLDER: Final = "/"
_ISOLATED: Final = ("-P", "-E")  # ignores the working folder and PYTHON* variables
_IS_FOR_PYTHON: Final = re.compile("PYTHON[A-Z]")
_To = int | IO[Any] | None


def own_command(module: str, *words: str) -> list[str]:
    """Returns the command that runs a module of ours; `PROGRAM` is the program itself, with command-line arguments."""
    return [sys.executable, *_ISOLATED, "-m", module, *words]


def own_environment(**more: str) -> dict[str, str]:
    """Returns this process's environment with `more`, without variables that make Python run other code."""
    return {name: value for name, value in os.environ.items() if not _IS_FOR_PYTHON.match(name)} | more


def start_own(
    module: str,
    *words: str,
    stdin: _To = subprocess.DEVNULL,
    stdout: _To = subprocess.DEVNULL,
    stderr: _To = subprocess.DEVNULL,
    environment: Mapping[str, str] | None = None,
    outlives: bool = False,
    keeps: Sequence[int] = (),
) -> subprocess.Popen[bytes]:
    """Starts a module of ours as a process.

    Args:
        environment: replaces `own_environment()`.
        outlives: whether to use a session of its own, which signals to this process's group do not reach.
        keeps: descriptors to inherit.

    Raises:
        OSError: the process cannot be started.
    """
    return subprocess.Popen(
        own_command(module, *words),
        stdin=stdin,
        stdout=stdout,
        stderr=stderr,
        bufsize=0,
        cwd=FOLDER,
        env=own_environment() if environment is None else environment,
        start_new_session=outlives,
        pass_fds=tuple(keeps),
    )


def start_program(*words: str) -> None:
    """Starts the program again as a desktop would: by `program_command`, in a session of its own.

    Raises:
        OSError: the program cannot be started.
        CalledProcessError: likewise.
    """
    nowhere = subprocess.DEVNULL
    subprocess.run(
        ["setsid", "--fork", *program_command(), *words],  # a direct child would remain as a zombie
        stdin=nowhere,
        stdout=nowhere,
        stderr=nowhere,
        cwd=FOLDER,
        env=own_environment(),
        check=True,
    )


def program_command() -> list[str]:
    """Returns the command that starts this program again from another place.

    The command that a person typed, else the one beside our Python, else Python itself.
    """
    for script in (Path(sys.argv[0]).absolute(), Path(sys.executable).with_name("nub-shift")):
        if script.is_file() and os.access(script, os.X_OK) and script.name == "nub-shift":
            return [str(script)]
    return own_command(PROGRAM)

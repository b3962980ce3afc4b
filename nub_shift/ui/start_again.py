"""Starts the program once more, as a process that lives on by itself."""

from __future__ import annotations

import subprocess
import sys


def start_again(*words: str) -> None:
    """The window, or the command of those words."""
    subprocess.Popen(
        [sys.executable, "-m", "nub_shift", *words],
        stdin=subprocess.DEVNULL,
        stdout=subprocess.DEVNULL,
        stderr=subprocess.DEVNULL,
        start_new_session=True,
    )
